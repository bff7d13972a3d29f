<script setup lang="ts">
import { computed } from 'vue'
import type { When } from '#core/query/when.ts'
import DateField from '#web/parts/DateField.vue'
import NumberField from '#web/parts/NumberField.vue'
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
const setDays = (many: number, sign: number) =>
  (when.value = {
    days: many * sign,
    ...(shape.value === 'working' && { working: true }),
  })
const SHAPES = [
  ...PERIODS.map(([value, title]) => ({ value, title })),
  { value: 'working', title: 'working days from now' },
  { value: 'days', title: 'days from now' },
  { value: 'date', title: 'a fixed date' },
]
const WAYS = [
  { value: 1, title: 'ahead' },
  { value: -1, title: 'back' },
]
</script>

<template>
  <span class="when">
    <v-select
      class="which"
      aria-label="Which date"
      :model-value="shape"
      :items="SHAPES"
      @update:model-value="choose"
    />
    <template v-if="shape === 'days' || shape === 'working'">
      <NumberField
        label="How many days"
        :max="3660"
        :model-value="Math.abs(days)"
        @update:model-value="setDays($event ?? 0, days < 0 ? -1 : 1)"
      />
      <v-select
        class="way"
        aria-label="Ahead or back"
        :model-value="days < 0 ? -1 : 1"
        :items="WAYS"
        @update:model-value="setDays(Math.abs(days), $event)"
      />
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
.which {
  width: 172px;
  flex: none;
}
.way {
  width: 88px;
  flex: none;
}
</style>
