<script setup lang="ts">
import { computed } from 'vue'
import type { Schedule } from '#core/recurrence/schedule.ts'
import { MONTH_NAMES } from '#core/text/names.ts'
import { PERIOD_LIST } from '#web/parts/choices.ts'
import NumberField from '#web/parts/NumberField.vue'
import TokenPick from '#web/parts/TokenPick.vue'
import { partsOf, withParts, type Phrase } from './rule-phrase.ts'

/** How often a schedule falls, as the part of a sentence after its kind. */
const rule = defineModel<Schedule['rule']>({ required: true })
const { phrase } = defineProps<{ phrase: Phrase }>()
const DAYS = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'] as const
const NAMES = { MO: 'Mon', TU: 'Tue', WE: 'Wed', TH: 'Thu', FR: 'Fri', SA: 'Sat', SU: 'Sun' }

const ordinal = computed(() =>
  typeof rule.value === 'string' ? { workday: 1, of: 'month' as const } : rule.value,
)
const parts = computed(() => partsOf(rule.value))
const write = (changes: Record<string, string>) => (rule.value = withParts(rule.value, changes))
const every = computed<number | null>({
  get: () => Number(parts.value.get('INTERVAL') ?? 1),
  set: (n) => n !== null && write({ INTERVAL: String(n) }),
})
const EVERY = { daily: 'days', weekly: 'weeks', monthly: 'months', nth: 'months', yearly: 'years' }
const unit = computed(() => EVERY[phrase as keyof typeof EVERY])
const week = computed(() => (parts.value.get('BYDAY') ?? '').split(','))
function toggle(day: string): void {
  const next = week.value.includes(day)
    ? week.value.filter((d) => d !== day)
    : DAYS.filter((d) => d === day || week.value.includes(d))
  if (next.length) write({ BYDAY: next.join(',') })
}
const ENDINGS: Readonly<Record<number, string>> = { 1: 'st', 2: 'nd', 3: 'rd' }
const nthOf = (n: number) => `${n}${n > 10 && n < 14 ? 'th' : (ENDINGS[n % 10] ?? 'th')}`
const say = (n: number) => (n === -1 ? 'last' : n < 0 ? `${nthOf(-n)} from the end` : nthOf(n))
const counts = (low: number, high: number) =>
  [
    ...Array.from({ length: high }, (_, i) => i + 1),
    ...Array.from({ length: -low }, (_, i) => -1 - i),
  ].map((n) => ({ value: n, name: say(n) }))
const nth = computed(() => ({
  n: parseInt(parts.value.get('BYDAY') ?? '1', 10),
  day: (parts.value.get('BYDAY') ?? '1MO').slice(-2),
}))
const months = MONTH_NAMES.map((name, i) => ({ value: i + 1, name }))
</script>

<template>
  <template v-if="phrase === 'workday'">
    each
    <TokenPick
      :model-value="ordinal.of"
      :options="PERIOD_LIST"
      label="Period"
      tone="value"
      @update:model-value="rule = { ...ordinal, of: $event }"
    />
    the
    <TokenPick
      :model-value="ordinal.workday"
      :options="counts(-10, 22)"
      label="Which working day"
      tone="value"
      @update:model-value="rule = { ...ordinal, workday: $event }"
    />
  </template>
  <template v-else-if="unit">
    every
    <NumberField v-model="every" :label="`Every so many ${unit}`" :min="1" :max="999" />
    {{ unit }}{{ phrase === 'daily' ? '' : phrase === 'weekly' ? ': ' : ': the ' }}
  </template>
  <template v-if="phrase === 'weekly'">
    <v-btn
      variant="plain"
      v-for="d in DAYS"
      :key="d"
      class="dayb"
      :aria-pressed="week.includes(d)"
      @click="toggle(d)"
    >
      {{ NAMES[d] }}
    </v-btn>
  </template>
  <TokenPick
    v-if="phrase === 'monthly' || phrase === 'yearly'"
    :model-value="Number(parts.get('BYMONTHDAY'))"
    :options="counts(-5, 31)"
    label="Day of the month"
    tone="value"
    @update:model-value="write({ BYMONTHDAY: String($event) })"
  />
  <TokenPick
    v-if="phrase === 'yearly'"
    :model-value="Number(parts.get('BYMONTH'))"
    :options="months"
    label="Month"
    tone="value"
    @update:model-value="write({ BYMONTH: String($event) })"
  />
  <template v-if="phrase === 'nth'">
    <TokenPick
      :model-value="nth.n"
      :options="counts(-2, 5)"
      label="Which"
      tone="value"
      @update:model-value="write({ BYDAY: `${$event}${nth.day}` })"
    />
    <TokenPick
      :model-value="nth.day"
      :options="DAYS.map((d) => ({ value: d as string, name: NAMES[d] }))"
      label="Weekday"
      tone="value"
      @update:model-value="write({ BYDAY: `${nth.n}${$event}` })"
    />
  </template>
</template>

<style scoped>
.dayb {
  border: 1px solid var(--rule-strong);
  border-radius: 4px;
  padding: 3px 8px;
  margin-right: 3px;
  background: var(--sheet);
}
.dayb[aria-pressed='true'] {
  background: var(--dusk-wash);
  color: var(--dusk);
  border-color: var(--dusk);
  font-weight: 600;
}
</style>
