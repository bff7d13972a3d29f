<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual'
import { useElementSize, useMediaQuery } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { Outline, OutlineGroup, ViewDefinition } from '#contract/query.ts'
import type { ExpectedWork } from '#contract/series.ts'
import type { Milestone } from '#contract/projects.ts'
import type { TaskRow } from '#contract/tasks.ts'
import { sayDate } from '#web/parts/say.ts'
import LoadState from '#web/parts/LoadState.vue'
import { useTasks } from '#web/state/tasks.ts'
import { colourFor, paletteOf, sayCount } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'
import { daysBetween, plusDays } from './span.ts'
import {
  around,
  EVERY_DAY,
  fitted,
  groundOf,
  headOf,
  reachOf,
  type Scale,
} from './timeline-scale.ts'
import TimelineExpected from './TimelineExpected.vue'
import TimelineRow from './TimelineRow.vue'
import { vLand } from '#web/drag/carry.ts'
import type { Point } from '#web/drag/way.ts'
import { useTaskDeeds } from '#web/fields/useTaskDeeds.ts'
import { useHolidays } from '#web/state/holidays.ts'
import { useTimelineKeys } from './useTimelineKeys.ts'
import { useDayMoves } from './useDayMoves.ts'
import { useExpected } from './useExpected.ts'
import { useOutline } from './useOutline.ts'
import OneOf from '#web/parts/OneOf.vue'

/** Bars by date, in lanes; the scale goes from days to quarters. */
const props = defineProps<{ def: ViewDefinition; known: Known; milestones: readonly Milestone[] }>()
const emit = defineEmits<{
  change: [part: Partial<ViewDefinition>]
  open: [id: number]
  found: [outline: Outline]
  range: [range: { first: string; last: string }]
}>()
const tasks = useTasks()
const scroller = ref<HTMLElement | null>(null)
const { width } = useElementSize(scroller)
const middle = ref(props.known.today)
const narrow = useMediaQuery('(max-width: 700px)')
/** Pixels that the names take up on the left. */
const label = computed(() => (narrow.value ? 130 : 230))
const step = computed(() => props.def.step)
const asked = computed(() => (step.value === 'fit' ? EVERY_DAY : around(middle.value, step.value)))
const def = computed(() => props.def)
const known = computed(() => props.known)
const { data, error, reload } = useOutline(def, known, asked)
/** The first and last day of what is shown, milestones among it. */
const span = computed(() => {
  const dates = [
    ...props.milestones.map((m) => m.date),
    ...[data.value?.span?.first, data.value?.span?.last],
  ].filter((date) => !!date)
  return { first: dates.toSorted()[0], last: dates.toSorted().at(-1) }
})
const scale = computed((): Scale => {
  if (step.value !== 'fit') return around(middle.value, step.value)
  const { first = props.known.today, last = props.known.today } = span.value
  return fitted({ first: first!, last: last! }, Math.max(300, (width.value || 1_200) - label.value))
})
const total = computed(
  () => (daysBetween(scale.value.first, scale.value.last) + 1) * scale.value.px,
)
const x = (date: string) => daysBetween(scale.value.first, date) * scale.value.px
watch(
  () => [scale.value.first, scale.value.last] as const,
  ([first, last]) => emit('range', { first, last }),
  { immediate: true },
)
watch(data, (found) => found && emit('found', found))
const holidays = useHolidays(() => scale.value)
/** Holidays that have the room to be seen. */
const resting = computed(() =>
  scale.value.px < 5
    ? []
    : Array.from({ length: daysBetween(scale.value.first, scale.value.last) + 1 }, (_, i) =>
        holidays(plusDays(scale.value.first, i)),
      ).filter((holiday) => holiday !== undefined),
)

type Item =
  | { kind: 'head'; group: OutlineGroup }
  | { kind: 'row'; id: number; group: OutlineGroup }
  | { kind: 'marks' }
  | { kind: 'expected'; work: readonly ExpectedWork[] }
const { bySeries } = useExpected(
  () => ({ ...props.def, today: props.known.today, member: props.known.member }),
  () => scale.value,
)
const headed = computed(() => props.def.group !== null)
const items = computed((): Item[] => [
  ...(props.milestones.some((m) => m.date) ? [{ kind: 'marks' as const }] : []),
  ...(data.value?.groups ?? []).flatMap((group): Item[] => {
    const rows = group.ids.map((id): Item => ({ kind: 'row', id, group }))
    return rows.length && headed.value ? [{ kind: 'head', group }, ...rows] : rows
  }),
  ...bySeries.value.map((work): Item => ({ kind: 'expected', work })),
])
/** Milestones in the order of their dates, each with the room it has until the next. */
const marked = computed(() => {
  const dated = props.milestones
    .flatMap((m) => (m.date ? [{ ...m, date: m.date }] : []))
    .sort((a, b) => (a.date < b.date ? -1 : 1))
  return dated.map((m, i) => ({
    ...m,
    room: dated[i + 1] ? Math.max(8, x(dated[i + 1]!.date) - x(m.date) - 4) : 240,
  }))
})
const virtual = useVirtualizer(
  computed(() => ({
    count: items.value.length,
    getScrollElement: () => scroller.value,
    estimateSize: () => 30,
    overscan: 16,
  })),
)
const slots = computed(() => virtual.value.getVirtualItems())
watch(
  [slots, () => tasks.turn, items],
  () =>
    tasks.need(
      slots.value.flatMap((s) => {
        const it = items.value[s.index]
        return it?.kind === 'row' ? [it.id] : []
      }),
    ),
  { immediate: true },
)

const head = computed(() => headOf(scale.value))
function dayAt(point: Point): number | null {
  const box = scroller.value?.getBoundingClientRect()
  return box
    ? Math.floor((point.x - box.left + scroller.value!.scrollLeft - label.value) / scale.value.px)
    : null
}
const { moving, carry, landing, key } = useDayMoves(
  () => props.known,
  dayAt,
  () => ({ x: scale.value.px }),
)
function barOf(task: TaskRow): { left: string; width: string } {
  const m = moving.value?.id === task.id ? moving.value : task
  const start = (m.start ?? m.due)!
  return {
    left: `${x(start)}px`,
    width: `${Math.max(9, (daysBetween(start, m.due!) + 1) * scale.value.px - 2)}px`,
  }
}
const colourOf = (task: TaskRow) =>
  paletteOf(colourFor(props.known, props.def.colour ?? 'state', task)) ?? 'slate'
const deeds = useTaskDeeds(
  () => props.known,
  () => items.value.flatMap((item) => (item.kind === 'row' ? [item.id] : [])),
)
const { stop, keydown } = useTimelineKeys({
  scroller,
  idAt: (index) => {
    const item = items.value[index]
    return item?.kind === 'row' ? item.id : null
  },
  count: () => items.value.length,
  inSight: () => slots.value.map(({ index }) => index),
  show: (index) => virtual.value.scrollToIndex(index),
  move: (event, id) => key(event, tasks.rows.get(id)!),
  act: deeds.key,
})
/** Whose a task is, where neither the page nor the head it stands under says so. */
const whose = (task: TaskRow): string =>
  props.def.scope.of === 'project' || /^(client|project)$/.test(props.def.group ?? '')
    ? ''
    : (task.client?.short ?? task.project?.name ?? '')
function scrollTo(date: string): void {
  scroller.value?.scrollTo({ left: Math.max(0, x(date) - 160) })
}
function toToday(): void {
  middle.value = props.known.today
  scrollTo(props.known.today)
}
const leaf = (by: number) => {
  if (step.value !== 'fit') middle.value = plusDays(middle.value, by * reachOf(step.value) * 0.5)
}
// What is fitted begins at its beginning, what is not around its middle.
watch(
  () => [step.value, data.value !== null],
  () => setTimeout(() => step.value !== 'fit' && scrollTo(middle.value), 0),
)
const STEPS = [
  { value: 'fit', name: 'All of it' },
  { value: 'day', name: 'Days' },
  { value: 'week', name: 'Weeks' },
  { value: 'month', name: 'Months' },
  { value: 'quarter', name: 'Quarters' },
] as const
</script>

<template>
  <LoadState v-if="!data" :error="error" @retry="reload" />
  <div v-else class="time">
    <Teleport defer to="#view-own">
      <div class="nav">
        <template v-if="step !== 'fit'">
          <v-btn aria-label="Earlier" @click="leaf(-1)">‹</v-btn>
          <v-btn @click="toToday">Today</v-btn>
          <v-btn aria-label="Later" @click="leaf(1)">›</v-btn>
        </template>
        <OneOf
          label="Scale"
          :model-value="def.step"
          :options="STEPS"
          @update:model-value="emit('change', { step: $event })"
        />
      </div>
    </Teleport>
    <div
      ref="scroller"
      v-land="landing"
      class="scroller"
      data-work
      :role="headed ? 'treegrid' : 'grid'"
      aria-label="Timeline"
      aria-colcount="2"
      :aria-rowcount="items.length"
      :style="{ '--label': `${label}px` }"
      @keydown="keydown"
    >
      <div class="head" :style="{ width: `${label + total}px` }" aria-hidden="true">
        <div class="label" />
        <div class="marks up" :style="{ width: `${total}px` }">
          <span
            v-for="m in head.upper"
            :key="m.at"
            :style="{ left: `${m.at}px`, width: `${m.width}px` }"
          >
            <b>{{ m.name }}</b>
          </span>
        </div>
        <div class="label low" />
        <div class="marks" :style="{ width: `${total}px` }">
          <span
            v-for="m in head.lower"
            :key="m.at"
            :style="{ left: `${m.at}px`, width: `${m.width}px` }"
          >
            {{ m.name }}
          </span>
        </div>
      </div>
      <div
        class="body"
        role="rowgroup"
        :style="{ height: `${virtual.getTotalSize()}px`, width: `${label + total}px` }"
      >
        <div
          class="ground"
          aria-hidden="true"
          :style="{ left: `${label}px`, width: `${total}px`, ...groundOf(scale) }"
        >
          <i
            v-for="h in resting"
            :key="h.date"
            class="hol"
            :style="{ left: `${x(h.date)}px`, width: `${scale.px}px` }"
            :data-tip="`${h.name}, ${sayDate(h.date, known.today)}`"
          />
          <i class="now" :style="{ left: `${x(known.today) + scale.px / 2}px` }" data-tip="Today" />
        </div>
        <template v-for="slot in slots" :key="String(slot.key)">
          <div
            v-for="item in [items[slot.index]].filter((i) => i !== undefined)"
            :key="item.kind"
            class="line"
            role="row"
            :aria-rowindex="slot.index + 1"
            :aria-level="headed ? (item.kind === 'row' ? 2 : 1) : undefined"
            :data-index="slot.index"
            :class="item.kind"
            :style="{ transform: `translateY(${slot.start}px)` }"
          >
            <template v-if="item.kind === 'head'">
              <div
                class="label"
                role="rowheader"
                :class="item.group.colour ? `c-${paletteOf(item.group.colour)}` : ''"
              >
                <b>{{ item.group.name }}</b>
                {{ ' ' }}
                <span class="quiet">
                  {{ sayCount(item.group.ids.length, item.group.minutes) }}
                </span>
              </div>
            </template>
            <template v-else-if="item.kind === 'marks'">
              <div class="label" role="rowheader"><b>Milestones</b></div>
              <div class="lane" role="gridcell">
                <span
                  v-for="m in marked"
                  :key="m.id"
                  class="mile"
                  :class="{ done: m.doneAt, late: m.late }"
                  :style="{ left: `${x(m.date)}px`, maxWidth: `${m.room}px` }"
                  :data-tip="`${m.name}, ${sayDate(m.date, known.today)}${m.owner ? `, ${m.owner.name}` : ''}`"
                >
                  {{ m.name }}
                </span>
              </div>
            </template>
            <TimelineExpected
              v-else-if="item.kind === 'expected'"
              :work="item.work"
              :today="known.today"
              :x="x"
              :px="scale.px"
            />
            <template v-else>
              <TimelineRow
                v-for="task in [tasks.rows.get(item.id)].filter((t) => t?.due)"
                :key="task!.id"
                :task="task!"
                :known="known"
                :colour="colourOf(task!)"
                :whose="whose(task!)"
                :place="barOf(task!)"
                :moving="moving?.id === item.id"
                :stop="stop.index === slot.index ? (stop.bar ? 'bar' : 'name') : null"
                :carry="(part) => carry(task!, part)"
                @open="emit('open', item.id)"
              />
              <div v-if="!tasks.rows.get(item.id)?.due" role="rowheader" class="label quiet">…</div>
            </template>
          </div>
        </template>
      </div>
    </div>
  </div>
</template>

<style>
.time .label {
  width: var(--label);
  flex: none;
  position: sticky;
  left: 0;
  z-index: 3;
  background: var(--paper);
  display: flex;
  gap: 7px;
  align-items: center;
  padding: 0 8px 0 2px;
  overflow: hidden;
  white-space: nowrap;
  font-size: 12.5px;
  border-right: 1px solid var(--rule-strong);
  color: var(--ink);
}
.time .lane {
  position: relative;
  flex: 1;
}
</style>

<style scoped>
.time {
  height: 100%;
  display: flex;
  flex-direction: column;
  min-height: 320px;
}
.nav {
  display: flex;
  gap: 6px;
  align-items: center;
}
.scroller {
  flex: 1;
  overflow: auto;
  position: relative;
  user-select: none;
  border-top: 1.5px solid var(--ink);
}
.head {
  position: sticky;
  top: 0;
  z-index: 4;
  background: var(--paper);
  display: grid;
  grid-template-columns: var(--label) auto;
  border-bottom: 1px solid var(--rule-strong);
}
.marks {
  position: relative;
  height: 20px;
  font-size: 11.5px;
  color: var(--ink-3);
}
.marks span {
  position: absolute;
  top: 0;
  bottom: 0;
  border-left: 1px solid var(--rule);
  padding: 2px 4px;
  overflow: hidden;
  white-space: nowrap;
}
.up b {
  position: sticky;
  left: calc(var(--label) + 10px);
  font-weight: 600;
  color: var(--ink-2);
}
.up span {
  overflow: clip;
}
.body {
  position: relative;
}
.ground {
  position: absolute;
  top: 0;
  bottom: 0;
}
.hol {
  position: absolute;
  top: 0;
  bottom: 0;
  background: var(--hatch);
  opacity: 0.45;
}
.now {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 2px;
  background: var(--marigold);
}
.line {
  position: absolute;
  left: 0;
  right: 0;
  top: 0;
  height: 30px;
  display: flex;
  border-bottom: 1px solid var(--rule);
}
.line.head {
  border-bottom-color: var(--rule-strong);
  z-index: auto;
  position: absolute;
  background: none;
  display: flex;
}
.line.head .label b {
  overflow: hidden;
  text-overflow: ellipsis;
  color: var(--own, var(--ink));
}
.mile {
  position: absolute;
  top: 5px;
  font-size: 11.5px;
  font-weight: 600;
  color: var(--heather);
  border-left: 3px solid var(--heather);
  padding-left: 4px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.mile.done {
  color: var(--ink-3);
  border-color: var(--fern);
}
.mile.late {
  color: var(--alarm);
  border-color: var(--alarm);
}
</style>
