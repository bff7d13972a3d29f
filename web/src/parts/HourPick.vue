<script setup lang="ts">
import { computed } from 'vue'
import { useSession } from '#web/state/session.ts'

/** A clock to pick a time of day from, by 12 or 24 hours as the firm has it. */
const value = defineModel<string | null>({ required: true })
const session = useSession()
const format = computed(() => (session.me?.dates.clock === 12 ? 'ampm' : '24hr'))
</script>

<template>
  <v-time-picker
    :model-value="value ?? '09:00'"
    :format="format"
    title=""
    color="primary"
    @update:model-value="value = $event"
  />
</template>
