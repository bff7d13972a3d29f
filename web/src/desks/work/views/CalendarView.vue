<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import type { Outline, ViewDefinition } from '#contract/query.ts'
import type { TaskRow } from '#contract/tasks.ts'
import { sayDate } from '#web/parts/say.ts'
import LoadState from '#web/parts/LoadState.vue'
import { vLand } from '#web/drag/carry.ts'
import type { Point } from '#web/drag/way.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useTasks } from '#web/state/tasks.ts'
import { useMayChange } from './may-change.ts'
import { daysOf, headingOf, leaf, rowsOf, type Lying, type Sheet } from './calendar-days.ts'
import CalendarWeek from './CalendarWeek.vue'
import { layWeek } from './lanes.ts'
import type { Known } from '#web/fields/known.ts'
import { daysBetween, plusDays } from './span.ts'
import { apartOf } from '#web/parts/task/say-task.ts'
import { useTaskDeeds } from '#web/fields/useTaskDeeds.ts'
import { useHolidays } from '#web/state/holidays.ts'
import { useCalendarKeys } from './useCalendarKeys.ts'
import { useDayMoves } from './useDayMoves.ts'
import { useExpected } from './useExpected.ts'
import { useOutline } from './useOutline.ts'
import QuickAdd from '#web/parts/QuickAdd.vue'
import { beginsIn } from './definition.ts'
import { escapes } from '#web/parts/escape.ts'
import OneOf from '#web/parts/OneOf.vue'

/**
 * Days as a sheet: a month of weeks, one week, or one day. What has a start lies across its days.
 */
const props = defineProps<{ def: ViewDefinition; known: Known }>()
const emit = defineEmits<{
  change: [part: Partial<ViewDefinition>]
  open: [id: number]
  found: [outline: Outline]
  range: [range: { first: string; last: string }]
}>()
const session = useSession()
const mayChange = useMayChange()
const tasks = useTasks()
const messages = useMessages()
const at = ref(props.known.today)
const sheet = ref<HTMLElement | null>(null)
const step = computed((): Sheet => {
  const { step } = props.def
  return step === 'week' || step === 'day' ? step : 'month'
})
const days = computed(() => daysOf(step.value, at.value))
const def = computed(() => props.def)
const known = computed(() => props.known)
const { data, error, reload } = useOutline(def, known, days)
watch(days, (range) => emit('range', range), { immediate: true })
watch(data, (found) => found && emit('found', found))
const ids = computed(() => data.value?.groups[0]?.ids ?? [])
watch([ids, () => tasks.turn], () => tasks.need(ids.value), { immediate: true })

const width = computed(() => (step.value === 'day' ? 1 : 7))
const MOST = 3
const open = ref<string | null>(null)
const lying = computed((): Lying[] =>
  ids.value.flatMap((id) => {
    const task = tasks.rows.get(id)
    if (!task?.due) return []
    const m = moving.value?.id === id ? moving.value : null
    const due = m?.due ?? task.due
    return [{ id, task, start: (m ? m.start : task.start) ?? due, due }]
  }),
)
const laid = computed(() =>
  rowsOf(step.value, days.value).map((first) => ({
    first,
    ...layWeek(
      lying.value,
      first,
      width.value,
      step.value === 'month' && open.value !== first ? MOST : Infinity,
    ),
  })),
)

function dayAt({ x, y }: Point): number | null {
  for (const row of sheet.value?.querySelectorAll<HTMLElement>('.wk') ?? []) {
    const box = row.getBoundingClientRect()
    if (y < box.top || y > box.bottom) continue
    const col = Math.floor(((x - box.left) / box.width) * width.value)
    return (
      daysBetween(days.value.first, row.dataset['first']!) +
      Math.max(0, Math.min(width.value - 1, col))
    )
  }
  return null
}
const { moving, carry, landing, key } = useDayMoves(
  () => props.known,
  dayAt,
  () => ({ x: (sheet.value?.clientWidth ?? 0) / width.value }),
)

const deeds = useTaskDeeds(
  () => props.known,
  () => ids.value,
)
const adding = ref<string | null>(null)
const { stop, go, came, keydown } = useCalendarKeys({
  sheet,
  today: () => props.known.today,
  days: () => days.value,
  laid: () => ({ sheet: step.value, weeks: laid.value, width: width.value }),
  leafTo: (day) => (at.value = day),
  add: beginAdding,
  move: (event, id) => key(event, tasks.rows.get(id)!),
  act: deeds.key,
})
const begins = () => ({
  assignees: [session.me!.id],
  ...beginsIn(props.def.scope),
  due: adding.value,
})
/** Shows all of a week; the focus goes on from where it said how many more there are. */
async function showMore(first: string): Promise<void> {
  const { day, on } = stop.value
  open.value = first
  if (on !== 'more') return
  const here = lying.value.filter((l) => l.start <= day && l.due >= day)
  await go({ day, on: here[MOST]?.id ?? null })
}
/** Begins a task that is due on a day: what is typed next is its name. */
async function beginAdding(day: string): Promise<void> {
  if (!mayChange.value) return
  adding.value = day
  await nextTick()
  sheet.value?.querySelector<HTMLElement>('.addhere input')?.focus()
}
function leaveAdding(day: string): void {
  adding.value = null
  void go({ day, on: null })
}
async function added(made: TaskRow): Promise<void> {
  messages.did(`“${made.title}” is due ${sayDate(made.due!, props.known.today)}.`, made)
  adding.value = null
  await reload()
  await go({ day: made.due!, on: made.id })
}
function startAdding(event: MouseEvent): void {
  if (!mayChange.value || !(event.target as HTMLElement).classList.contains('cell')) return
  const day = dayAt({ x: event.clientX, y: event.clientY })
  if (day !== null) void beginAdding(plusDays(days.value.first, day))
}
const heading = computed(() => headingOf(step.value, at.value, props.known.today))
const NAMES = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']
/** Open work by the day it is due: tasks, and minutes. */
const loads = computed(() => {
  const byDay = new Map<string, { tasks: number; minutes: number }>()
  for (const { due, task } of lying.value) {
    if (task.closedAt) continue
    const { tasks: n, minutes } = byDay.get(due) ?? NOTHING
    byDay.set(due, { tasks: n + 1, minutes: minutes + (task.estimate ?? 0) })
  }
  return byDay
})
const NOTHING = { tasks: 0, minutes: 0 }
const load = (day: string) => loads.value.get(day) ?? NOTHING
const holiday = useHolidays(() => days.value)
const { on: expected } = useExpected(
  () => ({ ...props.def, today: props.known.today, member: props.known.member }),
  () => days.value,
)
const apart = computed(() =>
  props.def.scope.of === 'project' ? () => '' : apartOf(lying.value.map(({ task }) => task)),
)
const STEPS = [
  { value: 'month', name: 'Month' },
  { value: 'week', name: 'Week' },
  { value: 'day', name: 'Day' },
] as const
</script>

<template>
  <LoadState v-if="!data" :error="error" @retry="reload" />
  <div v-else class="cal">
    <Teleport defer to="#view-own">
      <div class="nav">
        <v-btn aria-label="Earlier" @click="at = leaf(step, at, -1)">‹</v-btn>
        <v-btn @click="at = known.today">Today</v-btn>
        <v-btn aria-label="Later" @click="at = leaf(step, at, 1)">›</v-btn>
        <h2 aria-live="polite">{{ heading }}</h2>
        <OneOf
          label="How much"
          :model-value="step"
          :options="STEPS"
          @update:model-value="emit('change', { step: $event })"
        />
      </div>
    </Teleport>
    <div
      ref="sheet"
      class="sheetcal"
      :class="step"
      role="grid"
      data-work
      :aria-label="`Calendar: ${heading}`"
      :aria-colcount="width"
      @dblclick="startAdding"
      @keydown="keydown"
      @focusin="came"
    >
      <div v-if="width === 7" class="names" role="row">
        <span v-for="n in NAMES" :key="n" role="columnheader">
          <b>{{ n.slice(0, 3) }}</b>
          <i>{{ n.slice(3) }}</i>
        </span>
      </div>
      <CalendarWeek
        v-for="week in laid"
        :key="week.first"
        v-land="landing"
        v-bind="{ width, def, known, load, carry, stop, holiday, expected, apart }"
        :first="week.first"
        :laid="week"
        :month="step === 'month' ? at.slice(0, 7) : null"
        :moving="moving?.id ?? null"
        :may="mayChange"
        @open="emit('open', $event)"
        @add="beginAdding"
        @more="showMore(week.first)"
      >
        <template #default="{ day }">
          <div
            v-if="adding === day"
            class="addhere"
            @keydown="escapes($event, () => leaveAdding(day))"
          >
            <QuickAdd
              label="What is to be done"
              placeholder="What is to be done"
              @blur="($event.target as HTMLInputElement).value.trim() || (adding = null)"
              :begins="begins"
              @made="added"
            />
          </div>
        </template>
      </CalendarWeek>
    </div>
    <p class="small quiet">
      Double-click a day, or press its +, to add a task. Drag a bar to move it, its edge to lengthen
      it. Arrows go from day to day and down to what lies on it; Alt with arrows moves a task.
    </p>
  </div>
</template>

<style scoped>
.cal {
  height: 100%;
  display: flex;
  flex-direction: column;
  min-height: 420px;
}
.nav {
  display: flex;
  gap: 6px;
  align-items: center;
}
h2 {
  font: 500 17px var(--display);
  margin: 0 6px;
  white-space: nowrap;
}
.names {
  position: sticky;
  top: 0;
  z-index: 4;
  background: var(--paper);
  display: grid;
  grid-template-columns: repeat(7, 1fr);
  font: 600 12px var(--sans);
  color: var(--ink-3);
  border-bottom: 1.5px solid var(--ink);
}
.names span {
  padding: 3px 6px;
}
.names b {
  font-weight: inherit;
}
.names i {
  font-style: normal;
}
.sheetcal {
  position: relative;
  flex: 1;
  overflow: auto;
  display: flex;
  flex-direction: column;
  user-select: none;
}
.addhere {
  position: relative;
  z-index: 3;
  margin-top: 2px;
}
@media (max-width: 700px) {
  .names i {
    display: none;
  }
  .nav {
    flex-wrap: wrap;
  }
}
</style>
