<script setup lang="ts">
import { ref } from 'vue'
import type { TemplateTask } from '#core/templates/template.ts'
import { vCarry, vLand, type Carried, type Landing } from '#web/drag/carry.ts'
import type { Point } from '#web/drag/way.ts'
import LineMenu from '#web/parts/LineMenu.vue'
import { plural, sayMinutes } from '#web/parts/say.ts'
import { sayOffset, type axisOf } from './axis.ts'
import {
  addTask,
  namePhase,
  placePhase,
  placeTask,
  stepPhase,
  shiftTask,
  tasksOf,
  type Draft,
  type DraftPhase,
} from './template-edits.ts'

/** A phase of a template: its name, its tasks, and on the axis when each is due. */
const chosen = defineModel<string | null>('chosen', { required: true })
const props = defineProps<{
  draft: Draft
  phase: DraftPhase
  axis: ReturnType<typeof axisOf>
  may: boolean
}>()
const number = (key: string) => tasksOf(props.draft).findIndex((t) => t.key === key) + 1
const roleName = (key: string | undefined) =>
  props.draft.roles?.find((r) => r.key === key)?.name ?? ''
const shift = (task: TemplateTask, by: number) => props.may && shiftTask(props.draft, task.key, by)

/** What is carried here: a phase by its head, a task by its row, its dates by its bar. */
const carried = (kind: 'step' | 'step-phase' | 'lead', id: string, name: string) =>
  props.may && { kind, id, name }
/** The task, or the head (empty), that something would be put down at. */
const over = ref<string | null>(null)
const headLanding: Landing = {
  takes: ({ kind }) => kind === 'step' || kind === 'step-phase',
  over(what) {
    over.value = what && ''
    return what?.kind === 'step' ? `to the end of ${props.phase.name}` : `to ${props.phase.name}`
  },
  land({ kind, id }) {
    if (kind === 'step') placeTask(props.draft, String(id), props.phase.key)
    else placePhase(props.draft, String(id), props.phase.key)
  },
}
const rowLanding = (task: TemplateTask): Landing => ({
  takes: ({ kind }) => kind === 'step',
  over(what) {
    over.value = what && what.id !== task.key ? task.key : null
    return what?.id === task.key ? 'where it is' : `to the place of “${task.title}”`
  },
  land: ({ id }) => placeTask(props.draft, String(id), props.phase.key, task.key),
})
/** By how many days a bar is being moved. */
const moving = ref({ key: '', by: 0 })
const lane = ref<HTMLElement[]>([])
const day = () => (lane.value[0]?.clientWidth ?? 0) / props.axis.days
const daysMoved = (at: Point, from: Point) => Math.round((at.x - from.x) / day())
const laneLanding = (task: TemplateTask): Landing => ({
  takes: ({ kind, id }) => kind === 'lead' && id === task.key,
  over(what: Carried | null, at, from) {
    const by = what ? daysMoved(at, from) : 0
    moving.value = { key: what ? task.key : '', by }
    const due = { ...task.due, days: task.due.days + by }
    return what ? sayOffset(due, props.draft.anchor) : ''
  },
  land: (_what, at, from) => void shift(task, daysMoved(at, from)),
  grain: () => ({ x: day() }),
})
const placeOf = (task: TemplateTask) => {
  const by = moving.value.key === task.key ? moving.value.by : 0
  return { ...props.axis.place(task), transform: `translateX(${by * day()}px)` }
}
</script>

<template>
  <section :aria-label="phase.name">
    <div
      v-carry="carried('step-phase', phase.key, phase.name)"
      v-land="may && headLanding"
      class="ph"
      :class="{ over: over === '' }"
    >
      <v-text-field
        :model-value="phase.name"
        class="pn seamless"
        aria-label="Name of the phase"
        :readonly="!may"
        maxlength="80"
        @update:model-value="namePhase(draft, phase.key, $event)"
      />
      <small>{{ plural(phase.tasks.length, 'task') }}</small>
      <LineMenu
        v-if="may && draft.phases.length > 1"
        :label="`Move the phase ${phase.name}`"
        :lines="[
          { name: 'Up by one', run: () => stepPhase(draft, phase.key, -1) },
          { name: 'Down by one', run: () => stepPhase(draft, phase.key, 1) },
        ]"
      />
    </div>
    <div
      v-for="task in phase.tasks"
      :key="task.key"
      v-carry="carried('step', task.key, task.title)"
      v-land="may && rowLanding(task)"
      class="tr"
      :class="{ on: task.key === chosen, over: over === task.key }"
      @click="chosen = task.key"
    >
      <span class="no">{{ number(task.key) }}</span>
      <v-btn variant="plain" class="t" :data-opens="task.key" :aria-expanded="task.key === chosen">
        {{ task.title }}
      </v-btn>
      <span class="rl">{{ roleName(task.role) }}</span>
      <span class="e">{{ task.effort === undefined ? '' : sayMinutes(task.effort) }}</span>
      <div
        ref="lane"
        v-land="may && laneLanding(task)"
        class="lane"
        :style="{ '--days': axis.days }"
      >
        <i class="zero" :style="{ left: `${axis.zero}%` }" />
        <v-btn
          v-carry="carried('lead', task.key, task.title)"
          variant="plain"
          class="span"
          :class="{ point: !task.start, other: task.due.from && task.due.from !== 'anchor' }"
          :style="placeOf(task)"
          :aria-label="`${task.title}, due ${sayOffset(task.due, draft.anchor)}; arrow keys move it`"
          :data-tip="sayOffset(task.due, draft.anchor)"
          @keydown.left.prevent="shift(task, -1)"
          @keydown.right.prevent="shift(task, 1)"
        />
      </div>
    </div>
    <v-btn v-if="may" variant="text" @click="chosen = addTask(draft, phase)">Add a task</v-btn>
  </section>
</template>

<style scoped>
@import './template-axis.css';
.ph {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  padding: 10px 0 3px;
  border-bottom: 1px solid var(--rule);
}
.over {
  box-shadow: inset 0 2px var(--fern);
}
.pn {
  font: 500 15px var(--display);
  border-color: transparent;
  background: none;
  padding: 0 4px;
  margin-left: -5px;
  min-height: 24px;
}
.pn:hover {
  border-color: var(--rule-strong);
}
.ph small {
  color: var(--ink-3);
  font-size: 12px;
  white-space: nowrap;
}
.tr {
  min-height: 33px;
  border-bottom: 1px solid var(--rule);
  cursor: pointer;
}
.tr:hover,
.tr.on {
  background: var(--fern-wash);
}
.no {
  color: var(--ink-3);
  font-size: 12px;
  text-align: right;
}
.t {
  font-weight: 550;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.rl {
  font-size: 12.5px;
  color: var(--heather);
  font-weight: 550;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.e {
  font-size: 12.5px;
  color: var(--ink-2);
  text-align: right;
}
.lane {
  position: relative;
  height: 33px;
  background: linear-gradient(90deg, var(--rule) 1px, transparent 1px) 0 0 /
    calc(100% / var(--days)) 100%;
  overflow: hidden;
}
.zero {
  position: absolute;
  top: 0;
  bottom: 0;
  border-left: 1.5px solid var(--alarm);
  opacity: 0.55;
}
.span {
  position: absolute;
  top: 9px;
  height: 15px;
  background: var(--dusk);
  border-radius: 2px;
  cursor: grab;
  min-width: 6px;
}
.span.other {
  background: repeating-linear-gradient(135deg, var(--dusk) 0 3px, var(--dusk-wash) 3px 6px);
}
.span.point {
  border-radius: 8px;
}
</style>
