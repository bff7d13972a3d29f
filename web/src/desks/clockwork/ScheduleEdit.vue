<script setup lang="ts">
import { computed, ref } from 'vue'
import { endOf, withEnd, type RuleEnd } from '#core/recurrence/ends.ts'
import { isByEvents, type AfterCompletion } from '#core/recurrence/course.ts'
import type { AnyScheduleBody, ScheduleBody } from '#contract/series.ts'
import { ROLL_LIST } from '#web/parts/choices.ts'
import DateField from '#web/parts/DateField.vue'
import NumberField from '#web/parts/NumberField.vue'
import TokenPick from '#web/parts/TokenPick.vue'
import EndEdit from './EndEdit.vue'
import RulePhrase from './RulePhrase.vue'
import TimeField from '#web/parts/TimeField.vue'
import { FIRST, phraseOf, type Phrase } from './rule-phrase.ts'

/** A schedule as a sentence; the RFC 5545 rule it writes can be edited as it stands. */
const schedule = defineModel<AnyScheduleBody>({ required: true })
const set = (edit: object) => (schedule.value = { ...schedule.value, ...edit })
/** By the calendar; null where dates follow completions or events. */
const dated = computed(() => ('kind' in schedule.value ? null : schedule.value))
const after = computed(() => ('kind' in schedule.value ? schedule.value : null))

/** Whoever chose to write the rule in full goes on seeing it, whatever it says meanwhile. */
const inFull = ref(false)
type Kind = Phrase | 'after' | 'event'
const kind = computed((): Kind => {
  if (after.value) return isByEvents(after.value) ? 'event' : 'after'
  if (!dated.value) return 'rule'
  return inFull.value ? 'rule' : phraseOf(dated.value.rule)
})
const KINDS = [
  { value: 'workday', name: 'on a working day counted within' },
  { value: 'daily', name: 'day by day' },
  { value: 'weekly', name: 'on days of the week' },
  { value: 'monthly', name: 'on a day of the month' },
  { value: 'nth', name: 'on a weekday of the month' },
  { value: 'yearly', name: 'on a day of the year' },
  { value: 'after', name: 'after the last one was done, by' },
  { value: 'event', name: 'whenever a rule says so, after' },
  { value: 'rule', name: 'by a rule of RFC 5545' },
] as const satisfies readonly { value: Kind; name: string }[]
const FIRST_WAIT: AfterCompletion = { after: 28, unit: 'calendar' }
function turn(to: Kind): void {
  const { start, roll = 'none' } = schedule.value
  inFull.value = to === 'rule'
  if (to === 'after' || to === 'event') {
    const wait = after.value?.wait ?? FIRST_WAIT
    schedule.value = {
      kind: to === 'after' ? 'after-completion' : 'after-event',
      start,
      wait,
      roll,
    }
    return
  }
  const rule = FIRST[to](dated.value?.rule ?? FIRST.workday(''))
  schedule.value = { ...(dated.value ?? { start, roll }), rule } satisfies ScheduleBody
}
const UNITS = [
  { value: 'calendar', name: 'days' },
  { value: 'working', name: 'working days' },
  { value: 'week', name: 'weeks' },
  { value: 'month', name: 'months' },
] as const
const wait = (edit: Partial<AfterCompletion>) =>
  after.value && set({ wait: { ...after.value.wait, ...edit } })

const end = computed((): RuleEnd => {
  if (dated.value) return endOf(dated.value.rule)
  const { count, until } = after.value!
  if (until !== undefined) return { on: 'date', date: until }
  return count === undefined ? { on: 'never' } : { on: 'count', times: count }
})
function endBy(to: RuleEnd): void {
  if (dated.value) return void set({ rule: withEnd(dated.value.rule, to, time.value !== null) })
  const { count: _, until: __, ...rest } = after.value!
  schedule.value = {
    ...rest,
    ...(to.on === 'count' && { count: to.times }),
    ...(to.on === 'date' && { until: to.date as never }),
  }
}
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
    <RulePhrase
      v-if="dated && kind !== 'rule'"
      :model-value="dated.rule"
      :phrase="kind as Phrase"
      @update:model-value="set({ rule: $event })"
    />
    <template v-if="after">
      <NumberField
        :model-value="after.wait.after"
        label="So many"
        :max="10_000"
        @update:model-value="$event !== null && wait({ after: $event })"
      />
      <TokenPick
        :model-value="after.wait.unit"
        :options="UNITS"
        label="Counted in"
        tone="value"
        @update:model-value="wait({ unit: $event })"
      />
    </template>
  </p>
  <div v-if="dated && kind === 'rule'" class="field">
    <label for="se-rule">Rule</label>
    <v-text-field
      id="se-rule"
      :model-value="dated.rule"
      maxlength="500"
      spellcheck="false"
      @change="set({ rule: ($event.target as HTMLInputElement).value })"
    />
  </div>
  <EndEdit :model-value="end" @update:model-value="endBy" />
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
    <label for="se-from">{{ kind === 'after' ? 'The first' : 'From' }}</label>
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
</style>
