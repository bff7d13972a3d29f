<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { mondayOf } from '#core/query/due-groups.ts'
import type { Outline, ViewDefinition } from '#contract/query.ts'
import type { TaskRow } from '#contract/tasks.ts'
import { post, sentence } from '#web/api/client.ts'
import { sayDate, sayLongDate, sayMinutes, sayMonth } from '#web/parts/say.ts'
import StateBar from '#web/parts/StateBar.vue'
import LoadState from '#web/parts/LoadState.vue'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useTasks } from '#web/state/tasks.ts'
import { layWeek } from './lanes.ts'
import { colourFor, paletteOf } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'
import { daysBetween, plusDays } from './span.ts'
import { useDayMoves } from './useDayMoves.ts'
import { useOutline } from './useOutline.ts'

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
const tasks = useTasks()
const messages = useMessages()
const at = ref(props.known.today)
const sheet = ref<HTMLElement | null>(null)
const step = computed(() => (props.def.step === 'quarter' ? 'month' : props.def.step))
const days = computed(() => {
  if (step.value === 'day') return { first: at.value, last: at.value }
  if (step.value === 'week')
    return { first: mondayOf(at.value) as string, last: plusDays(mondayOf(at.value), 6) }
  const first = mondayOf(`${at.value.slice(0, 7)}-01`)
  const next = plusDays(`${at.value.slice(0, 7)}-28`, 4).slice(0, 7)
  return { first: first as string, last: plusDays(mondayOf(plusDays(`${next}-01`, -1)), 6) }
})
const def = computed(() => props.def)
const known = computed(() => props.known)
const { data, error, reload } = useOutline(def, known, days)
watch(days, (range) => emit('range', range), { immediate: true })
watch(data, (found) => found && emit('found', found))
// The week of today comes into sight when a month is opened.
watch(
  () => [data.value !== null, step.value],
  () =>
    setTimeout(() => {
      const [page, cell] = [
        sheet.value,
        sheet.value?.querySelector<HTMLElement>('.today')?.closest<HTMLElement>('.wk'),
      ]
      // Only the sheet itself: the page stays where it is.
      if (page && cell)
        page.scrollTop = Math.max(0, cell.offsetTop + cell.offsetHeight - page.clientHeight)
    }, 120),
  { immediate: true },
)
const ids = computed(() => data.value?.groups[0]?.ids ?? [])
watch([ids, () => tasks.turn], () => tasks.need(ids.value), { immediate: true })

const weeks = computed(() =>
  Array.from(
    {
      length:
        step.value === 'month'
          ? Math.round((daysBetween(days.value.first, days.value.last) + 1) / 7)
          : 1,
    },
    (_, i) => plusDays(days.value.first, i * 7),
  ),
)
const width = computed(() => (step.value === 'day' ? 1 : 7))
const MOST = 3
const open = ref<string | null>(null)
const lying = computed(() =>
  ids.value.flatMap((id) => {
    const task = tasks.rows.get(id)
    if (!task?.due) return []
    const m = moving.value?.id === id ? moving.value : null
    const due = m?.due ?? task.due
    return [{ task, start: (m ? m.start : task.start) ?? due, due }]
  }),
)
const laid = computed(() =>
  weeks.value.map((first) => ({
    first,
    ...layWeek(
      lying.value,
      first,
      width.value,
      step.value === 'month' && open.value !== first ? MOST : Infinity,
    ),
  })),
)

function dayAt(event: PointerEvent | MouseEvent): number | null {
  for (const row of sheet.value?.querySelectorAll<HTMLElement>('.wk') ?? []) {
    const box = row.getBoundingClientRect()
    if (event.clientY < box.top || event.clientY > box.bottom) continue
    const col = Math.floor(((event.clientX - box.left) / box.width) * width.value)
    return (
      daysBetween(days.value.first, row.dataset['first']!) +
      Math.max(0, Math.min(width.value - 1, col))
    )
  }
  return null
}
const { moving, press, key } = useDayMoves(() => props.known, dayAt)

const adding = ref<string | null>(null)
const title = ref('')
async function add(): Promise<void> {
  const text = title.value.trim()
  const day = adding.value
  if (!text || !day) return
  const { scope } = props.def
  try {
    const made = await post<TaskRow>('/tasks', {
      title: text,
      due: day,
      ...(scope.of === 'project' && { projectId: scope.id }),
      ...(scope.of === 'client' && { clientId: scope.id }),
      assignees: scope.of === 'person' ? [scope.id] : [session.me!.id],
    })
    messages.did(`“${text}” is due ${sayDate(day, props.known.today)}.`, made)
    title.value = ''
    adding.value = null
    await reload()
  } catch (problem) {
    messages.fault(sentence(problem))
  }
}
function startAdding(event: MouseEvent): void {
  if (!session.me?.may.member || !(event.target as HTMLElement).classList.contains('cell')) return
  const day = dayAt(event)
  if (day !== null) adding.value = plusDays(days.value.first, day)
}
function go(by: number): void {
  at.value =
    step.value === 'day'
      ? plusDays(at.value, by)
      : step.value === 'week'
        ? plusDays(at.value, 7 * by)
        : `${plusDays(`${at.value.slice(0, 7)}-15`, 30 * by).slice(0, 7)}-01`
}
const heading = computed(() =>
  step.value === 'day'
    ? sayLongDate(at.value)
    : step.value === 'week'
      ? `${sayDate(days.value.first, props.known.today)} to ${sayDate(days.value.last, props.known.today)}`
      : `${sayMonth(at.value)} ${at.value.slice(0, 4)}`,
)
const NAMES = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']
const load = (day: string) =>
  lying.value
    .filter((l) => l.due === day && !l.task.closedAt)
    .reduce((sum, l) => sum + (l.task.estimate ?? 0), 0)
</script>

<template>
  <LoadState v-if="!data" :error="error" @retry="reload" />
  <div v-else class="cal">
    <div class="nav">
      <button class="btn" aria-label="Earlier" @click="go(-1)">‹</button>
      <button class="btn" @click="at = known.today">Today</button>
      <button class="btn" aria-label="Later" @click="go(1)">›</button>
      <h2 aria-live="polite">{{ heading }}</h2>
      <span class="btns" role="group" aria-label="How much">
        <button
          v-for="s in ['month', 'week', 'day'] as const"
          :key="s"
          class="btn"
          :aria-pressed="step === s"
          :class="{ pri: step === s }"
          @click="emit('change', { step: s })"
        >
          {{ s[0]!.toUpperCase() + s.slice(1) }}
        </button>
      </span>
    </div>
    <div ref="sheet" class="sheetcal" :class="step" @dblclick="startAdding">
      <div v-if="width === 7" class="names" aria-hidden="true">
        <span v-for="n in NAMES" :key="n">
          <b>{{ n.slice(0, 3) }}</b>
          <i>{{ n.slice(3) }}</i>
        </span>
      </div>
      <div
        v-for="week in laid"
        :key="week.first"
        class="wk"
        :data-first="week.first"
        :style="{
          gridTemplateColumns: `repeat(${width}, minmax(0, 1fr))`,
          gridTemplateRows: `25px repeat(${week.rows + 1}, ${step === 'month' ? 23 : 26}px) 1fr`,
        }"
      >
        <div
          v-for="i in width"
          :key="i"
          class="cell"
          :class="{
            rest: width === 7 && i > 5,
            today: plusDays(week.first, i - 1) === known.today,
            other: step === 'month' && plusDays(week.first, i - 1).slice(0, 7) !== at.slice(0, 7),
          }"
          :style="{ gridColumn: i, gridRow: '1 / -1' }"
        >
          <span class="n">
            <b>{{ +plusDays(week.first, i - 1).slice(8) }}</b>
            <span v-if="load(plusDays(week.first, i - 1))" class="quiet">
              {{ sayMinutes(load(plusDays(week.first, i - 1))) }}
            </span>
            <button
              v-if="session.me?.may.member"
              class="plus"
              :aria-label="`Add a task due ${sayDate(plusDays(week.first, i - 1))}`"
              @click="adding = plusDays(week.first, i - 1)"
            >
              +
            </button>
          </span>
          <form
            v-if="adding === plusDays(week.first, i - 1)"
            class="addhere"
            @submit.prevent="add"
            @keydown.esc="adding = null"
          >
            <input
              v-model="title"
              class="inp"
              maxlength="200"
              aria-label="What is to be done"
              placeholder="What is to be done"
              autofocus
              @blur="title.trim() || (adding = null)"
            />
          </form>
        </div>
        <div
          v-for="bar in week.bars"
          :key="bar.item.task.id"
          class="ent"
          :class="[
            {
              closed: bar.item.task.closedAt,
              late: bar.item.task.late,
              moving: moving?.id === bar.item.task.id,
              before: bar.before,
              after: bar.after,
              long: bar.item.start !== bar.item.due,
            },
            `c-${paletteOf(colourFor(known, def.colour, bar.item.task)) ?? 'none'}`,
          ]"
          :style="{ gridColumn: `${bar.from + 1} / span ${bar.span}`, gridRow: bar.lane + 2 }"
          :data-task="bar.item.task.id"
          @pointerdown="press($event, bar.item.task, 'whole')"
        >
          <i
            v-if="!bar.before"
            class="edge l"
            @pointerdown.stop="press($event, bar.item.task, 'start')"
          />
          <StateBar
            :state="bar.item.task.state"
            :colour="bar.item.task.stateColour"
            :name="bar.item.task.stateName"
          />
          <button
            :title="[bar.item.task.title, ...bar.item.task.assignees.map((a) => a.name)].join(', ')"
            @click="emit('open', bar.item.task.id)"
            @keydown="key($event, bar.item.task)"
          >
            <template v-if="bar.item.task.dueTime && bar.item.due === bar.item.task.due">
              {{ bar.item.task.dueTime }}
            </template>
            {{ bar.item.task.title }}
          </button>
          <i
            v-if="!bar.after"
            class="edge r"
            @pointerdown.stop="press($event, bar.item.task, 'end')"
          />
        </div>
        <template v-for="(n, i) in week.more" :key="`m${i}`">
          <button
            v-if="n"
            class="more"
            :style="{ gridColumn: i + 1, gridRow: week.rows + 2 }"
            @click="open = week.first"
          >
            {{ n }} more
          </button>
        </template>
      </div>
    </div>
    <p class="small quiet">
      Double-click a day, or press its +, to add a task. Drag a bar to move it, its edge to lengthen
      it; Alt with ← → moves it by keyboard, with Shift it lengthens.
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
  padding-bottom: 8px;
}
h2 {
  flex: 1;
  font: 500 19px var(--display);
  margin: 0 6px;
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
.wk {
  display: grid;
  flex: 1 0 92px;
  border-bottom: 1px solid var(--rule-strong);
  position: relative;
  row-gap: 2px;
}
.week .wk,
.day .wk {
  flex: 1 0 380px;
}
.cell {
  border-right: 1px solid var(--rule);
  padding: 3px 6px;
  min-width: 0;
}
.cell .n {
  display: flex;
  gap: 6px;
  align-items: baseline;
  pointer-events: none;
}
.n b {
  font: 500 15px var(--display);
}
.n .quiet {
  font-size: 11.5px;
  flex: 1;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.plus {
  pointer-events: auto;
  margin-left: auto;
  color: var(--fern);
  opacity: 0;
  width: 22px;
  text-align: center;
}
.cell:hover .plus,
.plus:focus-visible {
  opacity: 1;
}
.rest {
  background: var(--rest);
}
.other .n b {
  color: var(--ink-3);
}
.today .n b {
  background: var(--fern);
  color: var(--fern-ink);
  border-radius: 3px;
  padding: 0 5px;
}
.addhere {
  position: relative;
  z-index: 3;
  margin-top: 2px;
}
.ent {
  z-index: 1;
  margin: 0 3px;
  display: flex;
  align-items: center;
  gap: 5px;
  background: color-mix(in srgb, var(--own, var(--ink-3)) 10%, var(--sheet));
  border: 1px solid color-mix(in srgb, var(--own, var(--rule-strong)) 55%, var(--sheet));
  border-radius: 3px;
  padding: 0 5px;
  min-width: 0;
  position: relative;
  cursor: grab;
  touch-action: none;
}
.ent button {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  font-size: 12.5px;
  flex: 1;
  cursor: inherit;
}
.ent :deep(.bar) {
  height: 15px;
  width: 6px;
  cursor: inherit;
}
.c-none {
  --own: var(--rule-strong);
}
.ent.late button {
  color: var(--alarm);
  font-weight: 600;
}
.ent.closed button {
  text-decoration: line-through;
  color: var(--ink-3);
}
.ent.moving {
  outline: 2px dashed var(--fern);
  z-index: 2;
}
.before {
  border-left-style: dotted;
  margin-left: 0;
  border-radius: 0 3px 3px 0;
}
.after {
  border-right-style: dotted;
  margin-right: 0;
}
.edge {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 7px;
  cursor: ew-resize;
  touch-action: none;
}
.l {
  left: -2px;
}
.r {
  right: -2px;
}
.edge:hover {
  background: var(--fern);
  border-radius: 2px;
}
.more {
  z-index: 1;
  font-size: 12px;
  color: var(--fern);
  padding: 0 9px;
  justify-self: start;
}
@media (max-width: 700px) {
  .names i {
    display: none;
  }
  .ent button {
    font-size: 11px;
  }
  .nav h2 {
    font-size: 16px;
  }
  .nav {
    flex-wrap: wrap;
  }
}
</style>
