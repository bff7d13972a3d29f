<script setup lang="ts" generic="T extends { readonly at: number }">
import { computed } from 'vue'
import { toLocal } from '#core/calendar/dates.ts'
import { useSession } from '#web/state/session.ts'
import { plural, sayDate, sayTime } from './say.ts'

/** What happened, newest first, under the days it happened on; the slot holds one of it. */
const { rows, of } = defineProps<{
  rows: readonly T[]
  keyOf: (row: T) => number
  /** What one is called, for counting. */
  of: string
}>()
const session = useSession()
const days = computed(() => {
  const found = new Map<string, { row: T; time: string }[]>()
  for (const row of rows) {
    const { date, time } = toLocal(row.at, session.saying.zone)
    const day = found.get(date) ?? []
    day.push({ row, time: sayTime(time.slice(0, 5), session.saying.clock) })
    found.set(date, day)
  }
  return [...found].map(([date, own]) => ({ date, own }))
})
const heading = (date: string) =>
  date === session.today ? `Today, ${sayDate(date, session.today)}` : sayDate(date, session.today)
</script>

<template>
  <section v-for="day in days" :key="day.date" :aria-label="heading(day.date)">
    <h2 class="section">
      {{ heading(day.date) }}
      <span>{{ plural(day.own.length, of) }}</span>
    </h2>
    <ul class="happened">
      <li v-for="{ row, time } in day.own" :key="keyOf(row)">
        <slot :row="row" :time="time" />
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
</style>
