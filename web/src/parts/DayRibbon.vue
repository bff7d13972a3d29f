<script setup lang="ts">
import { mdiChevronDown, mdiChevronUp } from '@mdi/js'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { RibbonDay } from '#contract/desks.ts'
import type { TaskSheet } from '#contract/tasks.ts'
import { patch } from '#web/api/client.ts'
import { vLand, type Landing } from '#web/drag/carry.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useResource } from '#web/state/resource.ts'
import { useRibbonFold } from '#web/state/ribbon.ts'
import { plural, sayDate, sayMinutes, sayMonth } from './say.ts'
import { DAY_MS } from './days.ts'
import Glyph from './Glyph.vue'

/**
 * Fifteen days above every desk: what is due, how full each is. A day filters; a task dropped on it
 * moves there.
 */
const session = useSession()
const messages = useMessages()
const route = useRoute()
const router = useRouter()
const shift = ref(0)
const folded = useRibbonFold()
/**
 * The strip begins on the last weekday before today, so that what was just missed stays in sight.
 */
const from = computed(() => {
  const today = Date.parse(session.today)
  const back = { 1: 3, 0: 2 }[new Date(today).getUTCDay()] ?? 1
  return new Date(today + (shift.value * 14 - back) * DAY_MS).toISOString().slice(0, 10)
})
const { data } = useResource<RibbonDay[]>(
  () => (session.today ? `/ribbon?from=${from.value}` : null),
  (c) => {
    if (c.entities.includes('series')) return 'now'
    if (c.fields?.every((field) => !LOAD.has(field))) return false
    return c.on.includes(session.me?.id ?? 0) ? 'now' : c.tasks.length > 0 && 'later'
  },
)
/** Fields of a task that its load goes by. */
const LOAD = new Set(['state', 'due', 'due.time', 'start', 'estimate', 'assignee', 'closed'])
const chosen = computed(() => (typeof route.query['day'] === 'string' ? route.query['day'] : null))
const over = ref<string | null>(null)

const letters = ['S', 'M', 'T', 'W', 'T', 'F', 'S']
const letter = (date: string) => letters[new Date(Date.parse(date)).getUTCDay()]
function parts(day: RibbonDay): { booked: number; expected: number; beyond: number } {
  const all = day.booked + day.expected
  const scale = Math.max(day.capacity, all, 1)
  const within = Math.min(all, day.capacity)
  const booked = Math.min(day.booked, within)
  return {
    booked: (booked / scale) * 100,
    expected: ((within - booked) / scale) * 100,
    beyond: (Math.max(0, all - day.capacity) / scale) * 100,
  }
}
const say = (day: RibbonDay) =>
  [
    sayDate(day.date, session.today),
    day.rest,
    `${plural(day.due, 'task')} due`,
    `${sayMinutes(day.booked)} booked`,
    day.expected ? `${sayMinutes(day.expected)} expected` : '',
    `of ${sayMinutes(day.capacity)}`,
  ]
    .filter(Boolean)
    .join(', ')

const choose = (date: string) =>
  router.push({ path: '/today', query: chosen.value === date ? {} : { day: date } })

const { attempt } = useAttempt()
const move = (id: string | number, date: string) =>
  attempt(async () => {
    const task = await patch<TaskSheet>(`/tasks/${id}`, { due: date })
    messages.did(`“${task.title}” moved to ${sayDate(date, session.today)}.`, task)
  })
/** A task put down on a day is due then. */
const landing = (date: string): Landing => ({
  takes: ({ kind }) => kind === 'task',
  over(carried) {
    over.value = carried ? date : null
    return `to ${sayDate(date, session.today)}`
  },
  land: ({ id }) => void move(id, date),
})
</script>

<template>
  <div class="ribbon" :class="{ folded }" role="group" aria-label="Day ribbon">
    <div class="edge">
      {{ sayMonth(from) }}
      <v-btn v-if="shift > 0" variant="plain" class="small" @click="shift--">‹ back</v-btn>
    </div>
    <v-btn
      variant="plain"
      v-for="day in data ?? []"
      :key="day.date"
      class="day"
      :class="{
        rest: day.rest,
        holiday: day.rest && day.rest !== 'not a working day',
        today: day.date === session.today,
        chosen: day.date === chosen,
        over: day.date === over,
      }"
      :data-tip="say(day)"
      :aria-label="say(day)"
      :aria-pressed="day.date === chosen"
      @click="choose(day.date)"
      v-land="landing(day.date)"
    >
      <span class="w">{{ letter(day.date) }}</span>
      <span class="n">{{ +day.date.slice(8) }}</span>
      <span v-if="day.due" class="c" :class="{ behind: day.late }">{{ day.due }}</span>
      <span v-if="day.late" class="late">late</span>
      <span v-if="day.capacity || day.booked" class="load">
        <i :style="{ width: `${parts(day).booked}%` }" />
        <u :style="{ width: `${parts(day).expected}%` }" />
        <b :style="{ width: `${parts(day).beyond}%` }" />
      </span>
    </v-btn>
    <div class="edge end">
      <v-btn variant="plain" aria-label="The next fortnight" @click="shift++">next ›</v-btn>
      <v-btn
        icon
        variant="plain"
        :aria-label="folded ? 'Show how full the days are' : 'Fold the days to a line'"
        :aria-expanded="!folded"
        @click="folded = !folded"
      >
        <Glyph :path="folded ? mdiChevronDown : mdiChevronUp" />
      </v-btn>
    </div>
  </div>
</template>

<style scoped>
.ribbon {
  display: grid;
  grid-template-columns: 104px repeat(15, minmax(0, 1fr)) 96px;
  min-height: 78px;
  border-bottom: 1px solid var(--rule-strong);
  background: var(--sheet);
}
.edge {
  padding: 8px 8px;
  font: 500 15px/1.15 var(--display);
  border-right: 1px solid var(--rule);
}
.edge .small {
  display: block;
  margin-top: 6px;
  color: var(--fern);
  font: 550 12px var(--sans);
}
.end {
  font-size: 13px;
  border-right: 0;
  display: flex;
  align-items: flex-start;
  justify-content: space-between;
  white-space: normal;
}
.day {
  position: relative;
  border-right: 1px solid var(--rule);
  padding: 6px 7px;
  text-align: left;
  display: flex;
  flex-direction: column;
  justify-content: flex-start;
}
.w {
  font-size: 11px;
  color: var(--ink-3);
  font-weight: 600;
  line-height: 1.3;
}
.n {
  font: 500 21px/1 var(--display);
  margin-top: 1px;
}
.c {
  position: absolute;
  right: 7px;
  top: 6px;
  font-size: 12px;
  font-weight: 600;
  color: var(--ink-2);
}
.late {
  position: absolute;
  right: 7px;
  top: 25px;
  font-size: 11px;
  color: var(--alarm);
  font-weight: 700;
}
.load {
  position: absolute;
  left: 7px;
  right: 7px;
  bottom: 9px;
  height: 7px;
  background: var(--track);
  border-radius: 1px;
  overflow: hidden;
  display: flex;
}
.load i {
  background: var(--fern);
}
.load b {
  background: var(--alarm);
}
.load u {
  background: repeating-linear-gradient(135deg, var(--hatch) 0 2px, transparent 2px 4px);
}
.rest {
  background: var(--rest);
}
.rest .n {
  color: var(--ink-3);
}
.holiday {
  background: repeating-linear-gradient(135deg, var(--rest) 0 5px, var(--track) 5px 10px);
}
.today {
  background: var(--fern);
}
.today .n,
.today .w,
.today .c {
  color: var(--fern-ink);
}
.today .load {
  background: color-mix(in srgb, var(--fern-ink) 28%, transparent);
}
.today .load i {
  background: var(--fern-ink);
}
.day:hover {
  box-shadow: inset 0 -3px var(--rule-strong);
}
.chosen {
  box-shadow: inset 0 -3px var(--marigold) !important;
}
.over {
  outline: 2px dashed var(--fern);
  outline-offset: -3px;
}
/* A line of it: which day, what is due, and how full along the edge. */
.folded {
  min-height: 30px;
}
.folded .edge {
  padding: 0 8px;
  font-size: 13px;
  display: flex;
  align-items: center;
  gap: 8px;
}
.folded .edge .small {
  margin: 0;
}
.folded .day {
  flex-direction: row;
  align-items: center;
  gap: 5px;
  padding: 0 7px 2px;
  overflow: hidden;
}
.folded .n {
  font-size: 14px;
  margin: 0;
}
.folded .c {
  position: static;
  margin-left: auto;
  font-size: 11.5px;
}
.folded .late {
  position: static;
}
.folded .load {
  inset: auto 0 0;
  height: 3px;
  border-radius: 0;
}
/* On the line there is room for the word only where days are wide. */
@media (max-width: 1500px) {
  .folded .late {
    display: none;
  }
  .folded .c.behind {
    color: var(--alarm);
    text-decoration: underline;
  }
}
@media (max-width: 1180px) {
  .ribbon:not(.folded) .late {
    right: auto;
    left: 7px;
    top: 45px;
    line-height: 1;
  }
}
@media (max-width: 900px) {
  .ribbon {
    display: flex;
    overflow-x: auto;
  }
  .day {
    min-width: 68px;
  }
  .edge {
    min-width: 86px;
  }
}
</style>
