<script setup lang="ts">
import { computed, ref } from 'vue'
import type { ScheduleBody } from '#contract/clockwork.ts'
import { ROLL_LIST } from '#web/parts/choices.ts'
import DateField from '#web/parts/DateField.vue'
import NumberField from '#web/parts/NumberField.vue'
import TokenPick from '#web/parts/TokenPick.vue'
import EndEdit from './EndEdit.vue'
import TimeField from '#web/parts/TimeField.vue'

/** A schedule as a sentence; the RFC 5545 rule it writes can be edited as it stands. */
const schedule = defineModel<ScheduleBody>({ required: true })
const set = (edit: Partial<ScheduleBody>) => (schedule.value = { ...schedule.value, ...edit })
const DAYS = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'] as const
const NAMES = { MO: 'Mon', TU: 'Tue', WE: 'Wed', TH: 'Thu', FR: 'Fri', SA: 'Sat', SU: 'Sun' }

const byWorkday = computed(() => typeof schedule.value.rule !== 'string')
const ordinal = computed(() =>
  typeof schedule.value.rule === 'string'
    ? { workday: 1, of: 'month' as const }
    : schedule.value.rule,
)
const parts = computed(
  () =>
    new Map(
      typeof schedule.value.rule === 'string'
        ? schedule.value.rule.split(';').map((p) => p.split('=') as [string, string])
        : [],
    ),
)
/** Whoever chose to write the rule in full goes on seeing it, whatever it says meanwhile. */
const inFull = ref(false)
const kind = computed((): 'workday' | 'weekly' | 'monthly' | 'nth' | 'rule' => {
  if (inFull.value) return 'rule'
  if (byWorkday.value) return 'workday'
  const keys = [...parts.value.keys()]
    .filter((k) => !['INTERVAL', 'UNTIL', 'COUNT'].includes(k))
    .sort()
    .join()
  const freq = parts.value.get('FREQ')
  if (freq === 'WEEKLY' && keys === 'BYDAY,FREQ' && !/\d/.test(parts.value.get('BYDAY')!))
    return 'weekly'
  if (
    freq === 'MONTHLY' &&
    keys === 'BYMONTHDAY,FREQ' &&
    !parts.value.get('BYMONTHDAY')!.includes(',')
  )
    return 'monthly'
  if (
    freq === 'MONTHLY' &&
    keys === 'BYDAY,FREQ' &&
    /^-?\d[A-Z]{2}$/.test(parts.value.get('BYDAY')!)
  )
    return 'nth'
  return 'rule'
})
const KINDS = [
  { value: 'workday', name: 'on a working day counted within' },
  { value: 'weekly', name: 'on days of the week' },
  { value: 'monthly', name: 'on a day of the month' },
  { value: 'nth', name: 'on a weekday of the month' },
  { value: 'rule', name: 'by a rule of RFC 5545' },
] as const
function turn(to: (typeof KINDS)[number]['value']): void {
  const rule = {
    workday: { workday: 5, of: 'month' as const },
    weekly: 'FREQ=WEEKLY;BYDAY=MO',
    monthly: 'FREQ=MONTHLY;BYMONTHDAY=1',
    nth: 'FREQ=MONTHLY;BYDAY=1MO',
    rule: byWorkday.value
      ? 'FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=5'
      : (schedule.value.rule as string),
  }[to]
  inFull.value = to === 'rule'
  set({ rule })
}
const write = (changes: Record<string, string>) => {
  const next = new Map(parts.value)
  for (const [k, v] of Object.entries(changes)) next.set(k, v)
  if (next.get('INTERVAL') === '1') next.delete('INTERVAL')
  set({ rule: [...next].map(([k, v]) => `${k}=${v}`).join(';') })
}
const every = computed<number | null>({
  get: () => Number(parts.value.get('INTERVAL') ?? 1),
  set: (n) => write({ INTERVAL: String(n) }),
})
const week = computed(() => (parts.value.get('BYDAY') ?? '').split(','))
const toggle = (day: string) => {
  const next = week.value.includes(day)
    ? week.value.filter((d) => d !== day)
    : DAYS.filter((d) => d === day || week.value.includes(d))
  if (next.length) write({ BYDAY: next.join(',') })
}
const say = (n: number) =>
  n === -1
    ? 'last'
    : n < 0
      ? `${-n}${{ 2: 'nd', 3: 'rd' }[-n] ?? 'th'} from the end`
      : `${n}${n % 100 > 10 && n % 100 < 14 ? 'th' : ({ 1: 'st', 2: 'nd', 3: 'rd' }[n % 10] ?? 'th')}`
const counts = (low: number, high: number) =>
  [
    ...Array.from({ length: high }, (_, i) => i + 1),
    ...Array.from({ length: -low }, (_, i) => -1 - i),
  ].map((n) => ({ value: n, name: say(n) }))
const nth = computed(() => ({
  n: parseInt(parts.value.get('BYDAY') ?? '1', 10),
  day: (parts.value.get('BYDAY') ?? '1MO').slice(-2),
}))
const date = computed({
  get: () => schedule.value.start.slice(0, 10),
  set: (d) =>
    d &&
    set({ start: schedule.value.start.length > 10 ? `${d}T${schedule.value.start.slice(11)}` : d }),
})
const time = computed({
  get: () => schedule.value.start.slice(11, 16) || null,
  set: (t: string | null) =>
    set({
      start: t ? `${schedule.value.start.slice(0, 10)}T${t}` : schedule.value.start.slice(0, 10),
    }),
})
</script>

<template>
  <p class="line">
    Falls
    <TokenPick
      :model-value="kind"
      :options="KINDS"
      label="Kind of schedule"
      @update:model-value="turn"
    />
    <template v-if="kind === 'workday'">
      each
      <TokenPick
        :model-value="ordinal.of"
        :options="[
          { value: 'week', name: 'week' },
          { value: 'month', name: 'month' },
          { value: 'quarter', name: 'quarter' },
          { value: 'year', name: 'year' },
        ]"
        label="Period"
        tone="value"
        @update:model-value="set({ rule: { ...ordinal, of: $event } })"
      />
      the
      <TokenPick
        :model-value="ordinal.workday"
        :options="counts(-10, 22)"
        label="Which working day"
        tone="value"
        @update:model-value="set({ rule: { ...ordinal, workday: $event } })"
      />
    </template>
    <template v-else-if="kind === 'weekly'">
      every
      <NumberField v-model="every" label="Every so many weeks" :min="1" :max="999" />
      weeks:
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
    <template v-else-if="kind === 'monthly'">
      every
      <NumberField v-model="every" label="Every so many months" :min="1" :max="999" />
      months: the
      <TokenPick
        :model-value="Number(parts.get('BYMONTHDAY'))"
        :options="counts(-5, 31)"
        label="Day of the month"
        tone="value"
        @update:model-value="write({ BYMONTHDAY: String($event) })"
      />
    </template>
    <template v-else-if="kind === 'nth'">
      every
      <NumberField v-model="every" label="Every so many months" :min="1" :max="999" />
      months: the
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
  </p>
  <div v-if="kind === 'rule'" class="field">
    <label for="se-rule">Rule</label>
    <v-text-field
      id="se-rule"
      :model-value="schedule.rule"
      maxlength="500"
      spellcheck="false"
      @change="set({ rule: ($event.target as HTMLInputElement).value })"
    />
  </div>
  <EndEdit
    v-if="typeof schedule.rule === 'string'"
    :model-value="schedule.rule"
    :timed="time !== null"
    @update:model-value="set({ rule: $event })"
  />
  <p class="line">
    A date on a day without work
    <TokenPick
      :model-value="schedule.roll ?? 'none'"
      :options="ROLL_LIST"
      label="Rolling"
      tone="value"
      @update:model-value="set({ roll: $event })"
    />
  </p>
  <p class="line flex">
    <label for="se-from">From</label>
    <DateField id="se-from" v-model="date" />
    <label for="se-time">at</label>
    <TimeField id="se-time" v-model="time" />
    <span class="quiet small">no time: due any time that day</span>
  </p>
</template>

<style scoped>
.line {
  margin: 8px 0;
}
.flex {
  display: flex;
  gap: 8px;
  align-items: center;
  flex-wrap: wrap;
}
.time {
  width: 104px;
}
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
