<script setup lang="ts">
import { computed } from 'vue'
import type { ActionKind } from '#contract/actions/action.ts'
import type { Rung } from '#contract/rules.ts'
import type { Known } from '#web/fields/known.ts'
import NumberField from '#web/parts/NumberField.vue'
import TokenPick from '#web/parts/TokenPick.vue'
import DeedList from './DeedList.vue'
import RemoveButton from '#web/parts/RemoveButton.vue'
import TimeField from '#web/parts/TimeField.vue'

/** One rung: how late, and what happens then. */
const rung = defineModel<Rung>({ required: true })
defineProps<{
  last: boolean
  may: boolean
  only: boolean
  known: Known
  kinds: readonly ActionKind[]
}>()
defineEmits<{ remove: [] }>()
/** What is said of late work. */
const LATE = '{task} for {client} is {days late} late'
const units = [
  { value: 'working', name: 'working days late' },
  { value: 'calendar', name: 'calendar days late' },
  { value: 'hours', name: 'hours late' },
] as const
const unit = computed(() => ('hours' in rung.value.delay ? 'hours' : rung.value.delay.unit))
const amount = computed(() =>
  'hours' in rung.value.delay ? rung.value.delay.hours : rung.value.delay.days,
)
const time = computed(() => ('hours' in rung.value.delay ? '09:00' : rung.value.delay.time))
const delay = (n: number, u: 'working' | 'calendar' | 'hours', t: string): Rung['delay'] =>
  u === 'hours' ? { hours: n } : { days: n, unit: u, time: t || '09:00' }
const set = (edit: Partial<Rung>) => (rung.value = { ...rung.value, ...edit })
</script>

<template>
  <div class="rung" :class="{ last }">
    <div class="at">
      <NumberField
        :model-value="amount"
        label="How late"
        :min="unit === 'hours' ? 0 : 1"
        :max="unit === 'hours' ? 8760 : 365"
        :whole="unit !== 'hours'"
        @update:model-value="$event !== null && set({ delay: delay($event, unit, time) })"
      />
    </div>
    <div class="what">
      <p>
        <TokenPick
          :model-value="unit"
          :options="units"
          label="Counted in"
          @update:model-value="set({ delay: delay(amount, $event, time) })"
        />
        <template v-if="unit !== 'hours'">
          at
          <TimeField
            :model-value="time"
            label="Time of day"
            needed
            @update:model-value="$event && set({ delay: delay(amount, unit, $event) })"
          />
        </template>
        <RemoveButton v-if="may && !only" aria-label="Remove this rung" @click="$emit('remove')" />
      </p>
      <DeedList
        :model-value="rung.actions"
        :known="known"
        :kinds="kinds"
        about="task"
        :may="may"
        branches
        :wording="LATE"
        @update:model-value="set({ actions: $event })"
      />
    </div>
  </div>
</template>

<style scoped>
.rung {
  position: relative;
  padding: 0 0 12px;
}
.rung::before {
  content: '';
  position: absolute;
  left: -24px;
  top: 15px;
  width: 15px;
  border-top: 2px solid var(--ink-3);
}
.at {
  position: absolute;
  left: -118px;
  width: 88px;
  text-align: right;
}
.last .n {
  color: var(--alarm);
  font-weight: 650;
}
.last::before {
  border-color: var(--alarm);
}
.n {
  width: 58px;
  text-align: right;
}
@media (max-width: 700px) {
  .at {
    position: static;
    width: auto;
    text-align: left;
  }
  .rung::before {
    left: -14px;
    width: 8px;
  }
}
</style>
