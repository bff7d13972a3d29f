<script setup lang="ts">
import type { ViewDefinition } from '#contract/query.ts'
import type { TaskRow } from '#contract/tasks.ts'
import { vCarry, type Carried } from '#web/drag/carry.ts'
import { colourFor, paletteOf } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'
import { sayDate, sayMinutes, sayTime } from '#web/parts/say.ts'
import StateBar from '#web/parts/StateBar.vue'
import type { layWeek } from './lanes.ts'
import { plusDays, type Drag } from './span.ts'

/** What lies on a calendar in lanes: a task and the days it lies across. */
export interface Lying {
  readonly task: TaskRow
  readonly start: string
  readonly due: string
}

/** A row of a calendar sheet: its days, and what lies across them. */
const props = defineProps<{
  first: string
  laid: ReturnType<typeof layWeek<Lying>>
  /** Days in a row. */
  width: number
  def: ViewDefinition
  known: Known
  /** The month whose days are not another’s; null where all are shown alike. */
  month: string | null
  /** Minutes of work due on a day. */
  load: (day: string) => number
  moving: number | null
  may: boolean
  carry: (task: TaskRow, part?: Drag['part']) => Carried | false
}>()
const emit = defineEmits<{
  open: [id: number]
  add: [day: string]
  more: []
  key: [event: KeyboardEvent, task: TaskRow]
}>()
const dayOf = (column: number) => plusDays(props.first, column - 1)
const wordsOf = ({ title, assignees }: TaskRow) =>
  [title, ...assignees.map((a) => a.name)].join(', ')
</script>

<template>
  <div
    class="wk"
    :class="{ tall: def.step !== 'month' }"
    :data-first="first"
    :style="{
      gridTemplateColumns: `repeat(${width}, minmax(0, 1fr))`,
      gridTemplateRows: `25px repeat(${laid.rows + 1}, ${def.step === 'month' ? 23 : 26}px) 1fr`,
    }"
  >
    <div
      v-for="i in width"
      :key="i"
      class="cell"
      :class="{
        rest: width === 7 && i > 5,
        today: dayOf(i) === known.today,
        other: month !== null && dayOf(i).slice(0, 7) !== month,
      }"
      :style="{ gridColumn: i, gridRow: '1 / -1' }"
    >
      <span class="n">
        <b>{{ Number(dayOf(i).slice(8)) }}</b>
        <span v-if="load(dayOf(i))" class="quiet">{{ sayMinutes(load(dayOf(i))) }}</span>
        <v-btn
          v-if="may"
          variant="plain"
          class="plus"
          :aria-label="`Add a task due ${sayDate(dayOf(i))}`"
          @click="emit('add', dayOf(i))"
        >
          +
        </v-btn>
      </span>
      <slot :day="dayOf(i)" />
    </div>
    <div
      v-for="{ item, lane, from, span, before, after } in laid.bars"
      :key="item.task.id"
      v-carry="carry(item.task)"
      class="ent"
      :class="[
        {
          closed: item.task.closedAt,
          late: item.task.late,
          moving: moving === item.task.id,
          before,
          after,
          long: item.start !== item.due,
        },
        `c-${paletteOf(colourFor(known, def.colour, item.task)) ?? 'none'}`,
      ]"
      :style="{ gridColumn: `${from + 1} / span ${span}`, gridRow: lane + 2 }"
      :data-task="item.task.id"
    >
      <i v-if="!before" v-carry="carry(item.task, 'start')" class="edge l" />
      <StateBar
        :state="item.task.state"
        :colour="item.task.stateColour"
        :name="item.task.stateName"
      />
      <v-btn
        variant="plain"
        :data-opens="item.task.id"
        :data-tip="wordsOf(item.task)"
        @click="emit('open', item.task.id)"
        @keydown="emit('key', $event, item.task)"
      >
        <template v-if="item.task.dueTime && item.due === item.task.due">
          {{ sayTime(item.task.dueTime, known.clock) }}
        </template>
        {{ item.task.title }}
      </v-btn>
      <i v-if="!after" v-carry="carry(item.task, 'end')" class="edge r" />
    </div>
    <template v-for="(n, i) in laid.more" :key="`m${i}`">
      <v-btn
        v-if="n"
        variant="plain"
        class="more"
        :style="{ gridColumn: i + 1, gridRow: laid.rows + 2 }"
        @click="emit('more')"
      >
        {{ n }} more
      </v-btn>
    </template>
  </div>
</template>

<style scoped>
.wk {
  display: grid;
  flex: 1 0 92px;
  border-bottom: 1px solid var(--rule-strong);
  position: relative;
  row-gap: 2px;
}
.wk.tall {
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
  .ent button {
    font-size: 11px;
  }
}
@media (hover: none) {
  .plus {
    opacity: 1;
  }
}
</style>
