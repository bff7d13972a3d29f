<script setup lang="ts">
import { computed } from 'vue'
import type { When } from '#core/query/when.ts'
import DateField from '#web/parts/DateField.vue'
import { useSession } from '#web/state/session.ts'

/** A date as a filter names it: a period from now, so many days from now, or a fixed date. */
const when = defineModel<When>({ required: true })
const session = useSession()
const PERIODS: readonly [string, string, When][] = [
  ['today', 'today', { period: 'day', shift: 0 }],
  ['tomorrow', 'tomorrow', { period: 'day', shift: 1 }],
  ['yesterday', 'yesterday', { period: 'day', shift: -1 }],
  ...(['week', 'month', 'quarter', 'year'] as const).flatMap((period): [string, string, When][] => [
    [`${period}0`, `this ${period}`, { period, shift: 0 }],
    [`${period}1`, `next ${period}`, { period, shift: 1 }],
    [`${period}-1`, `last ${period}`, { period, shift: -1 }],
  ]),
]
const shape = computed(() => {
  const w = when.value
  if (typeof w === 'string') return 'date'
  if ('days' in w) return w.working ? 'working' : 'days'
  return PERIODS.find(([, , p]) => JSON.stringify(p) === JSON.stringify(w))?.[0] ?? 'today'
})
function choose(next: string): void {
  if (next === 'date') when.value = session.today
  else if (next === 'days' || next === 'working')
    when.value = { days: 5, ...(next === 'working' && { working: true }) }
  else when.value = PERIODS.find(([key]) => key === next)![2]
}
const days = computed(() =>
  typeof when.value === 'object' && 'days' in when.value ? when.value.days : 0,
)
const setDays = (text: string, sign: number) =>
  (when.value = {
    days: Math.max(0, Math.min(3660, Math.round(Number(text) || 0))) * sign,
    ...(shape.value === 'working' && { working: true }),
  })
</script>

<template>
  <span class="when">
    <select
      class="inp"
      aria-label="Which date"
      :value="shape"
      @change="choose(($event.target as HTMLSelectElement).value)"
    >
      <option v-for="[key, name] in PERIODS" :key="key" :value="key">{{ name }}</option>
      <option value="working">working days from now</option>
      <option value="days">days from now</option>
      <option value="date">a fixed date</option>
    </select>
    <template v-if="shape === 'days' || shape === 'working'">
      <input
        class="inp n"
        type="number"
        min="0"
        max="3660"
        aria-label="How many days"
        :value="Math.abs(days)"
        @change="setDays(($event.target as HTMLInputElement).value, days < 0 ? -1 : 1)"
      />
      <select
        class="inp"
        aria-label="Ahead or back"
        :value="days < 0 ? -1 : 1"
        @change="
          setDays(String(Math.abs(days)), Number(($event.target as HTMLSelectElement).value))
        "
      >
        <option :value="1">ahead</option>
        <option :value="-1">back</option>
      </select>
    </template>
    <DateField
      v-if="shape === 'date'"
      id="when-date"
      label="The date"
      :model-value="when as string"
      @update:model-value="(v) => v && (when = v)"
    />
  </span>
</template>

<style scoped>
.when {
  display: inline-flex;
  gap: 4px;
  align-items: center;
}
.inp {
  width: auto;
}
.n {
  width: 66px;
}
</style>
