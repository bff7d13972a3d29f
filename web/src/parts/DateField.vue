<script setup lang="ts">
import { onBeforeUnmount, ref, watch } from 'vue'
import { useSession } from '#web/state/session.ts'
import { sayDate } from './say.ts'

/** A date, typed or picked, with its weekday said beside it; `terse` leaves that to a label. */
const value = defineModel<string | null>({ required: true })
defineProps<{ id: string; disabled?: boolean; terse?: boolean; label?: string }>()
const session = useSession()
// While somebody is in it, the date stays as they have it, whatever arrives.
const shown = ref(value.value ?? '')
const typing = ref(false)
watch(value, (now) => {
  if (!typing.value) shown.value = now ?? ''
})
/**
 * Typed digit by digit, a date passes through others: it is taken when it is left, one picked at
 * once.
 */
let byKeys = false
let edited = false
const box = ref<HTMLInputElement | null>(null)
function take(): void {
  if (!edited || box.value?.validity.badInput) return
  edited = byKeys = false
  if ((value.value ?? '') !== shown.value) value.value = shown.value || null
}
function key(event: KeyboardEvent): void {
  if (event.key === 'Enter') take()
  else if (event.key !== 'Tab' && event.key !== 'Escape') byKeys = true
}
function leave(): void {
  typing.value = false
  if (edited) take()
  else shown.value = value.value ?? ''
}
onBeforeUnmount(take)
</script>

<template>
  <span class="date">
    <input
      :id="id"
      ref="box"
      v-model="shown"
      class="inp"
      type="date"
      :disabled="disabled"
      :aria-label="label"
      min="2000-01-01"
      max="2999-12-31"
      @focus="typing = true"
      @input="edited = true"
      @keydown="key"
      @change="byKeys || take()"
      @blur="leave"
    />
    <span v-if="value && !terse" class="small quiet">{{ sayDate(value, session.today) }}</span>
  </span>
</template>

<style scoped>
.date {
  display: flex;
  align-items: center;
  gap: 8px;
}
.inp {
  width: 136px;
  padding-inline: 6px;
  flex: none;
}
</style>
