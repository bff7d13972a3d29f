<script setup lang="ts">
import type { PlannedReminder } from '#core/templates/template.ts'
import NumberField from '#web/parts/NumberField.vue'
import RemoveButton from '#web/parts/RemoveButton.vue'
import TimeField from '#web/parts/TimeField.vue'
import { REMINDER_DATES, REMINDER_OFTEN, REMINDER_UNITS } from '#web/parts/task/reminder-choices.ts'
import TokenPick from '#web/parts/TokenPick.vue'

/** Reminders that a task comes with, of a template or of a series: each said as a line of choices. */
const model = defineModel<readonly PlannedReminder[]>({ required: true })
const BLANK: PlannedReminder = {
  ...{ days: 1, unit: 'working', side: 'before', field: 'due', time: '09:00', daily: false },
}
const MOST = 20
const set = (nth: number, part: Partial<PlannedReminder>) =>
  (model.value = model.value.map((one, i) => (i === nth ? { ...one, ...part } : one)))
const kindOf = ({ side, field }: PlannedReminder) =>
  `${side} ${field}` as (typeof REMINDER_DATES)[number]['value']
function setKind(nth: number, kind: string): void {
  const [side, field] = kind.split(' ')
  set(nth, { side: side as 'before', field: field as 'due' })
}
const drop = (nth: number) => (model.value = model.value.filter((_, i) => i !== nth))
</script>

<template>
  <div class="field">
    <span class="label">Reminders, to whoever is on it</span>
    <p v-for="(one, i) in model" :key="i" class="one">
      <NumberField
        :model-value="one.days"
        label="How many days"
        :max="365"
        @update:model-value="set(i, { days: $event ?? 0 })"
      />
      <TokenPick
        :model-value="one.unit ?? 'working'"
        :options="REMINDER_UNITS"
        label="Which days"
        tone="value"
        @update:model-value="set(i, { unit: $event })"
      />
      <TokenPick
        :model-value="kindOf(one)"
        :options="REMINDER_DATES"
        label="When"
        @update:model-value="setKind(i, $event)"
      />
      at
      <TimeField
        :model-value="one.time"
        label="Time of day"
        needed
        @update:model-value="$event && set(i, { time: $event })"
      />
      <TokenPick
        :model-value="one.daily ? 1 : 0"
        :options="REMINDER_OFTEN"
        label="How often"
        tone="value"
        @update:model-value="set(i, { daily: $event === 1 })"
      />
      <RemoveButton aria-label="Take off the reminder" @click="drop(i)" />
    </p>
    <v-btn v-if="model.length < MOST" variant="text" @click="model = [...model, BLANK]">
      Add a reminder
    </v-btn>
  </div>
</template>

<style scoped>
.one {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 3px 5px;
  margin-bottom: 4px;
}
</style>
