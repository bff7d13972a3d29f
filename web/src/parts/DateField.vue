<script setup lang="ts">
import { mdiCalendarMonthOutline } from '@mdi/js'
import { computed, ref } from 'vue'
import type { IsoDate, LocalTime } from '#core/brands.ts'
import { dateFault, readDate, readTime, readWhen } from '#core/text/read-date.ts'
import { useSession } from '#web/state/session.ts'
import PickField from './PickField.vue'
import { sayDate, sayTime } from './say.ts'
import { useTyped } from './useTyped.ts'
import { later } from '#web/state/later.ts'

// Picked less often than typed: it comes when it is opened.
const DayPick = later(() => import('./DayPick.vue'))

/**
 * A date, typed as people write it or picked from a month that shows how full its days are; `person`
 * is whose. With `timed`, a time typed after it, or alone, is told too.
 */
const value = defineModel<string | null>({ required: true })
const props = defineProps<{
  id: string
  label?: string
  disabled?: boolean
  timed?: boolean
  person?: number
}>()
const emit = defineEmits<{ time: [time: string] }>()
const session = useSession()
const say = (date: string | null) => (date ? sayDate(date, session.today) : '')

/** What was typed, as a date and a time; a time alone leaves the date that is there. */
function when(text: string): { date: string; time: LocalTime | null } | null {
  const today = session.today as IsoDate
  const date = readDate(text, today)
  if (date !== null || !props.timed) return date && { date, time: null }
  const time = readTime(text)
  return time && value.value ? { date: value.value, time } : readWhen(text, today)
}
const { text, wrong, typing, type, leave, back } = useTyped<string | null>({
  value,
  say,
  read(typed) {
    if (typed.trim() === '') return { value: null }
    const date = when(typed)?.date
    if (date !== undefined) return { value: date }
    return { wrong: dateFault(typed, session.today as IsoDate, props.timed) ?? '' }
  },
  take: (date) => (value.value = date),
})
const heard = computed(() => {
  const read = typing.value ? when(text.value) : null
  if (!read) return undefined
  const time = read.time && sayTime(read.time, session.saying.clock)
  return time ? `${say(read.date)}, ${time}` : say(read.date)
})
/** A time said along with the date is told after it, once. */
function done(): boolean {
  const time = typing.value ? when(text.value)?.time : null
  const taken = leave()
  if (taken && time) emit('time', time)
  return taken
}
const picking = ref(false)
function pick(date: string | null): void {
  back()
  picking.value = false
  if (date !== value.value) value.value = date
}
</script>

<template>
  <PickField
    v-bind="{ id, label, disabled, text, wrong, heard, typing, back }"
    v-model:picking="picking"
    class="date"
    none="no date"
    opens="Open the calendar"
    :icon="mdiCalendarMonthOutline"
    :leave="done"
    @type="type"
  >
    <DayPick :model-value="value" :person="person" @update:model-value="pick" />
  </PickField>
</template>

<style scoped>
.date {
  width: 140px;
}
</style>
