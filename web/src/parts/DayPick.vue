<script setup lang="ts">
import { computed, ref } from 'vue'
import { useDate } from 'vuetify'
import type { IsoDate } from '#core/brands.ts'
import { WEEKDAYS } from '#core/calendar/calendar.ts'
import { addDays } from '#core/calendar/dates.ts'
import type { RibbonDay } from '#contract/desks.ts'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'
import { sayDate, sayMinutes } from './say.ts'

/**
 * A month to pick a day from: weekends and holidays shaded and named, each working day with how full
 * it is already, of `person` or of whoever looks.
 */
const value = defineModel<string | null>({ required: true })
const props = defineProps<{ person?: number }>()
const session = useSession()
/** The picker deals in moments of this browser; days go out as they are written. */
const adapter = useDate()
const start = value.value ?? session.today
const month = ref(Number(start.slice(5, 7)) - 1)
const year = ref(Number(start.slice(0, 4)))
/** The last days of the month before stand in its first week, and six weeks stand in sight. */
const from = computed(() =>
  addDays(`${year.value}-${String(month.value + 1).padStart(2, '0')}-01` as IsoDate, -6),
)
const { data } = useResource<RibbonDay[]>(() => {
  const whose = props.person && session.me?.may.member ? `&person=${props.person}` : ''
  return `/ribbon?from=${from.value}&days=48${whose}`
})
const days = computed(() => new Map(data.value?.map((day) => [day.date, day])))
const full = (day: RibbonDay | undefined): number =>
  day && day.capacity > 0 ? Math.min(1, (day.booked + day.expected) / day.capacity) : 0
function words(date: string): string {
  const day = days.value.get(date)
  const load = day?.capacity
    ? `${sayMinutes(day.booked + day.expected)} of ${sayMinutes(day.capacity)}`
    : ''
  return [sayDate(date, session.today), day?.rest ?? '', load].filter(Boolean).join(', ')
}
/** Days of the week from Sunday, 0, on: the day that weeks begin on. */
const first = computed(() => (WEEKDAYS.indexOf(session.me?.dates.first ?? 'MO') + 1) % 7)
const soon = computed(() => {
  const today = session.today as IsoDate
  return [
    { name: 'Today', date: today },
    { name: 'Tomorrow', date: addDays(today, 1) },
    { name: 'In a week', date: addDays(today, 7) },
  ]
})
</script>

<template>
  <v-date-picker
    v-model:month="month"
    v-model:year="year"
    :model-value="value"
    hide-header
    show-adjacent-months
    color="primary"
    :first-day-of-week="first"
    min="2000-01-01"
    max="2200-12-31"
    @update:model-value="value = adapter.toISO($event)"
  >
    <template #day="{ props: day, item }">
      <v-btn
        v-bind="day"
        class="day"
        :class="{
          rest: days.get(item.isoDate)?.rest,
          today: item.isoDate === session.today,
          chosen: item.isSelected,
        }"
        :aria-label="words(item.isoDate)"
        :data-tip="words(item.isoDate)"
      >
        {{ item.localized }}
        <i class="load" aria-hidden="true">
          <b :style="{ width: `${full(days.get(item.isoDate)) * 100}%` }" />
        </i>
      </v-btn>
    </template>
  </v-date-picker>
  <div class="btns soon">
    <v-btn v-for="d in soon" :key="d.date" variant="text" @click="value = d.date">
      {{ d.name }}
    </v-btn>
    <v-btn v-if="value" variant="text" @click="value = null">No date</v-btn>
  </div>
</template>

<style scoped>
.day {
  position: relative;
  border-radius: 3px;
}
.rest {
  background: var(--rest);
  color: var(--ink-3);
}
.today {
  box-shadow: inset 0 0 0 1.5px var(--fern);
}
.chosen {
  background: var(--fern);
  color: var(--fern-ink);
}
.load {
  position: absolute;
  left: 5px;
  right: 5px;
  bottom: 3px;
  height: 3px;
}
.load b {
  display: block;
  height: 100%;
  background: var(--hatch);
}
.soon {
  padding: 2px 6px 6px;
}
</style>
