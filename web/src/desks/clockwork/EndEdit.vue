<script setup lang="ts">
import DateField from '#web/parts/DateField.vue'
import NumberField from '#web/parts/NumberField.vue'
import TokenPick from '#web/parts/TokenPick.vue'
import { useSession } from '#web/state/session.ts'
import type { RuleEnd } from '#core/recurrence/ends.ts'

/** When a schedule ends, as a part of its sentence. */
const end = defineModel<RuleEnd>({ required: true })
const session = useSession()
const put = (to: RuleEnd) => (end.value = to)
const YEAR = 365 * 86_400_000
/** What each way of ending begins with. */
const BEGINS: Readonly<Record<RuleEnd['on'], () => RuleEnd>> = {
  never: () => ({ on: 'never' }),
  date: () => ({
    on: 'date',
    date: new Date(Date.parse(session.today) + YEAR).toISOString().slice(0, 10),
  }),
  count: () => ({ on: 'count', times: 12 }),
}
</script>

<template>
  <p class="ends">
    It ends
    <TokenPick
      :model-value="end.on"
      :options="[
        { value: 'never', name: 'never' },
        { value: 'date', name: 'after a date' },
        { value: 'count', name: 'after so many times' },
      ]"
      label="End"
      tone="value"
      @update:model-value="put(BEGINS[$event]())"
    />
    <DateField
      v-if="end.on === 'date'"
      id="se-end"
      label="Last date"
      :model-value="end.date"
      @update:model-value="$event && put({ on: 'date', date: $event })"
    />
    <template v-if="end.on === 'count'">
      <NumberField
        :model-value="end.times"
        label="Times"
        :min="1"
        :max="10_000"
        @update:model-value="$event !== null && put({ on: 'count', times: $event })"
      />
      times
    </template>
  </p>
</template>

<style scoped>
.ends {
  display: flex;
  gap: 6px;
  align-items: center;
  flex-wrap: wrap;
  margin: 8px 0;
}
</style>
