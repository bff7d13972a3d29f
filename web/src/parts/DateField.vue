<script setup lang="ts">
import { useSession } from '#web/state/session.ts'
import { sayDate } from './say.ts'

/** A date, typed or picked, with its weekday said beside it; `terse` leaves that to a label. */
const value = defineModel<string | null>({ required: true })
defineProps<{ id: string; disabled?: boolean; terse?: boolean; label?: string }>()
const session = useSession()
</script>

<template>
  <span class="date">
    <input :id="id" class="inp" type="date" :value="value ?? ''" :disabled="disabled" :aria-label="label" min="2000-01-01" max="2999-12-31" @change="value = ($event.target as HTMLInputElement).value || null" />
    <span v-if="value && !terse" class="small quiet">{{ sayDate(value, session.today) }}</span>
  </span>
</template>

<style scoped>
.date { display: flex; align-items: center; gap: 8px; } .inp { width: 136px; padding-inline: 6px; flex: none; }
</style>
