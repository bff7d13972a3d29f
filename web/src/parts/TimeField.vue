<script setup lang="ts">
import { mdiClockOutline } from '@mdi/js'
import { computed, ref } from 'vue'
import { readTime, timeFault } from '#core/text/read-date.ts'
import { useSession } from '#web/state/session.ts'
import PickField from './PickField.vue'
import { sayTime } from './say.ts'
import { useTyped } from './useTyped.ts'
import { later } from '#web/state/later.ts'

const HourPick = later(() => import('./HourPick.vue'))

/** A time of day, typed or picked; `needed` ones are never empty. */
const value = defineModel<string | null>({ required: true })
const props = defineProps<{ id?: string; label?: string; disabled?: boolean; needed?: boolean }>()
const session = useSession()
const clock = computed(() => session.saying.clock)
const { text, wrong, typing, type, leave, back } = useTyped<string | null>({
  value,
  say: (time) => (time ? sayTime(time, clock.value) : ''),
  read(typed) {
    if (typed.trim() === '' && !props.needed) return { value: null }
    // In a field of its own, four figures are a time.
    const time = readTime(typed.replace(/^(\d{1,2})(\d{2})$/, '$1:$2'))
    return time === null ? { wrong: timeFault(typed) ?? '' } : { value: time }
  },
  take: (time) => (value.value = time),
})
const picking = ref(false)
function pick(time: string): void {
  back()
  if (time !== value.value) value.value = time
}
</script>

<template>
  <PickField
    v-bind="{ id, label, disabled, text, wrong, typing, leave, back }"
    v-model:picking="picking"
    class="time"
    none="any time"
    opens="Open the clock"
    :icon="mdiClockOutline"
    @type="type"
  >
    <HourPick :model-value="value" @update:model-value="$event && pick($event)" />
  </PickField>
</template>

<style scoped>
.time {
  width: 108px;
}
@media (pointer: coarse) {
  /* Beside a button as wide as a finger. */
  .time {
    width: 126px;
  }
}
</style>
