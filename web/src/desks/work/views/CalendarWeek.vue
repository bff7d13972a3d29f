<script setup lang="ts">
import { computed } from 'vue'
import type { ExpectedWork } from '#contract/series.ts'
import type { Holiday } from '#contract/desks.ts'
import type { ViewDefinition } from '#contract/query.ts'
import type { TaskRow } from '#contract/tasks.ts'
import { vCarry, type Carried } from '#web/drag/carry.ts'
import { colourFor, paletteOf } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'
import { plural, sayDate, sayMinutes, sayTime } from '#web/parts/say.ts'
import StateBar from '#web/parts/StateBar.vue'
import { sayTask } from '#web/parts/task/say-task.ts'
import ExpectedOnDay from './ExpectedOnDay.vue'
import type { Lying } from './calendar-days.ts'
import type { Spot } from './calendar-keys.ts'
import type { layWeek } from './lanes.ts'
import { plusDays, type Drag } from './span.ts'

/** Rows of a calendar sheet: some days, and in lanes below what lies across them. */
const props = defineProps<{
  first: string
  laid: ReturnType<typeof layWeek<Lying>>
  /** Days in a row. */
  width: number
  def: ViewDefinition
  known: Known
  /** The month whose days are not another’s; null where all are shown alike. */
  month: string | null
  /** Work that is due on a day: tasks, and minutes. */
  load: (day: string) => { tasks: number; minutes: number }
  holiday: (day: string) => Holiday | undefined
  /** What series will make for a day. */
  expected: (day: string) => readonly ExpectedWork[]
  /** What tells a task from others of its name. */
  apart: (task: TaskRow) => string
  moving: number | null
  may: boolean
  /** Where Tab comes to on the sheet. */
  stop: Spot
  carry: (task: TaskRow, part?: Drag['part']) => Carried | false
}>()
const emit = defineEmits<{ open: [id: number]; add: [day: string]; more: [] }>()
const dayOf = (column: number) => plusDays(props.first, column - 1)
const days = computed(() =>
  Array.from({ length: props.width }, (_, i) => {
    const day = dayOf(i + 1)
    return { day, column: i + 1, holiday: props.holiday(day), ...props.load(day) }
  }),
)
function sayDay({ day, holiday, tasks, minutes }: (typeof days.value)[number]): string {
  return [
    sayDate(day, props.known.today),
    day === props.known.today && 'today',
    holiday && (holiday.half ? `${holiday.name}, half a day` : holiday.name),
    tasks ? `${plural(tasks, 'task')} due` : 'nothing due',
    minutes > 0 && sayMinutes(minutes),
    props.expected(day).length > 0 && `${props.expected(day).length} expected`,
  ]
    .filter(Boolean)
    .join(', ')
}
const lanes = computed(() =>
  Array.from({ length: props.laid.rows }, (_, lane) =>
    props.laid.bars.filter((bar) => bar.lane === lane),
  ),
)
/** Whether Tab comes to what lies here: it may lie in other weeks too. */
const isStop = (on: Spot['on'], day?: string) =>
  props.stop.on === on &&
  (day ? props.stop.day === day : props.stop.day >= props.first && props.stop.day <= dayOf(7))
</script>

<template>
  <div
    class="wk"
    role="rowgroup"
    :class="{ tall: month === null }"
    :data-first="first"
    :style="{
      gridTemplateColumns: `repeat(${width}, minmax(0, 1fr))`,
      gridTemplateRows: `var(--head) repeat(${laid.rows + 1}, var(--lane)) 1fr`,
    }"
  >
    <div role="row" class="flat">
      <div
        v-for="d in days"
        :key="d.day"
        class="cell"
        role="gridcell"
        :class="{
          rest: (width === 7 && d.column > 5) || (d.holiday && !d.holiday.half),
          today: d.day === known.today,
          other: month !== null && d.day.slice(0, 7) !== month,
        }"
        :style="{ gridColumn: d.column, gridRow: '1 / -1' }"
        :aria-label="sayDay(d)"
        :aria-colindex="d.column"
        :aria-current="d.day === known.today ? 'date' : undefined"
        :tabindex="isStop(null, d.day) ? 0 : -1"
        :data-spot="d.day"
      >
        <span class="n">
          <b>{{ Number(d.day.slice(8)) }}</b>
          <span v-if="d.holiday" class="quiet hol" :data-tip="d.holiday.name">
            {{ d.holiday.name }}
          </span>
          <span v-else-if="d.minutes" class="quiet">{{ sayMinutes(d.minutes) }}</span>
          <v-btn
            v-if="may"
            variant="plain"
            class="plus"
            tabindex="-1"
            :aria-label="`Add a task due ${sayDate(d.day, known.today)}`"
            @click="emit('add', d.day)"
          >
            +
          </v-btn>
          <ExpectedOnDay v-if="expected(d.day).length" :work="expected(d.day)" :day="d.day" />
        </span>
        <slot :day="d.day" />
      </div>
    </div>
    <div v-for="(bars, i) in lanes" :key="i" role="row" class="flat">
      <div
        v-for="{ item, lane, from, span, before, after } in bars"
        :key="item.id"
        v-carry="carry(item.task)"
        role="gridcell"
        class="ent"
        :aria-colindex="from + 1"
        :aria-colspan="span"
        :class="[
          {
            closed: item.task.closedAt,
            late: item.task.late,
            moving: moving === item.id,
            before,
            after,
            long: item.start !== item.due,
          },
          `c-${paletteOf(colourFor(known, def.colour, item.task)) ?? 'none'}`,
        ]"
        :style="{ gridColumn: `${from + 1} / span ${span}`, gridRow: lane + 2 }"
        :data-task="item.id"
      >
        <i v-if="!before" v-carry="carry(item.task, 'start')" class="edge l" />
        <StateBar
          :state="item.task.state"
          :colour="item.task.stateColour"
          :name="item.task.stateName"
          aria-hidden="true"
        />
        <v-btn
          variant="plain"
          :tabindex="isStop(item.id) ? 0 : -1"
          :data-opens="item.id"
          :data-spot="`${plusDays(first, from)}/${item.id}`"
          :aria-label="sayTask(item.task, known)"
          :data-tip="sayTask(item.task, known)"
          @click="emit('open', item.id)"
        >
          <span class="what">
            <template v-if="item.task.dueTime && item.due === item.task.due">
              {{ sayTime(item.task.dueTime, known.clock) }}
            </template>
            {{ item.task.title }}
          </span>
          <span v-if="apart(item.task)" class="whose">{{ apart(item.task) }}</span>
        </v-btn>
        <i v-if="!after" v-carry="carry(item.task, 'end')" class="edge r" />
      </div>
    </div>
    <div v-if="laid.more.some(Boolean)" role="row" class="flat">
      <template v-for="(n, i) in laid.more" :key="`m${i}`">
        <div
          v-if="n"
          role="gridcell"
          class="more"
          :aria-colindex="i + 1"
          :style="{ gridColumn: i + 1, gridRow: laid.rows + 2 }"
        >
          <v-btn
            variant="plain"
            :tabindex="isStop('more', dayOf(i + 1)) ? 0 : -1"
            :data-spot="`${dayOf(i + 1)}/more`"
            :aria-label="`${n} more on ${sayDate(dayOf(i + 1), known.today)}`"
            @click="emit('more')"
          >
            {{ n }} more
          </v-btn>
        </div>
      </template>
    </div>
  </div>
</template>

<style scoped>
.wk {
  --head: 25px;
  --lane: 24px;
  display: grid;
  flex: 1 0 92px;
  border-bottom: 1px solid var(--rule-strong);
  position: relative;
  row-gap: 2px;
}
.wk.tall {
  --lane: 26px;
  flex: 1 0 380px;
}
.flat {
  display: contents;
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
.n .hol {
  color: var(--heather);
  font-weight: 600;
}
.whose {
  flex: none;
  max-width: 55%;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  color: var(--ink-2);
  font-size: 11px;
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
.cell:focus .plus {
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
}
.ent button {
  font-size: 12.5px;
  flex: 1;
  min-width: 0;
  justify-content: flex-start;
  text-align: left;
  overflow: hidden;
  cursor: inherit;
}
.ent button :deep(.v-btn__content) {
  display: flex;
  justify-content: flex-start;
  gap: 5px;
  min-width: 0;
}
.what {
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
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
  width: min(24px, 25%);
  cursor: ew-resize;
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
  padding: 0 6px;
  justify-self: start;
}
@media (max-width: 700px) {
  .ent button {
    font-size: 11px;
  }
}
@media (pointer: coarse) {
  /* Days are narrower than two fingers here; a task's own sheet has both its dates. */
  .edge {
    display: none;
  }
  .ent {
    padding: 0 2px;
  }
  .ent button {
    min-height: 32px;
    text-align: left;
  }
  .wk {
    --head: 32px;
    --lane: 34px;
  }
  .plus {
    opacity: 1;
    min-width: 28px;
    min-height: 28px;
  }
}
</style>
