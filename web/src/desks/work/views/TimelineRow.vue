<script setup lang="ts">
import { computed } from 'vue'
import type { TaskRow } from '#contract/tasks.ts'
import { vCarry, type Carried } from '#web/drag/carry.ts'
import { sayDate } from '#web/parts/say.ts'
import StateBar from '#web/parts/StateBar.vue'
import type { Drag } from './span.ts'

/** A task on the timeline: its name, its bar, who is on it. */
const props = defineProps<{
  task: TaskRow
  today: string
  /** A name of the palette. */
  colour: string
  place: { left: string; width: string }
  moving: boolean
  /** As what it, or an edge of it, is picked up. */
  carry: (part: Drag['part']) => Carried | false
}>()
const emit = defineEmits<{
  open: []
  pressKey: [event: KeyboardEvent]
}>()
const said = computed(() => {
  const { title, start, due } = props.task
  const dates = [start, due].flatMap((date) => (date ? [sayDate(date, props.today)] : []))
  return `${title}, ${dates.join(' to ')}; Alt and arrows move it`
})
const people = computed(() => props.task.assignees.map((a) => a.name.split(' ')[0]).join(', '))
</script>

<template>
  <div class="label">
    <StateBar :state="task.state" :colour="task.stateColour" :name="task.stateName" />
    <button class="nm" :data-opens="task.id" :data-tip="task.title" @click="emit('open')">
      {{ task.title }}
    </button>
  </div>
  <div class="lane">
    <div
      v-carry="carry('whole')"
      class="tb"
      role="button"
      tabindex="0"
      :data-task="task.id"
      :data-opens="task.id"
      :aria-label="said"
      :class="[{ closed: task.closedAt, late: task.late, moving }, `c-${colour}`]"
      :style="place"
      @click="emit('open')"
      @keydown.enter.exact="emit('open')"
      @keydown="emit('pressKey', $event)"
    >
      <i v-carry="carry('start')" class="edge l" />
      <i v-carry="carry('end')" class="edge r" />
    </div>
    <span class="after" :style="{ left: `calc(${place.left} + ${place.width} + 6px)` }">
      {{ people }}
    </span>
  </div>
</template>

<style scoped>
.nm {
  overflow: hidden;
  text-overflow: ellipsis;
}
.nm:hover {
  text-decoration: underline;
}
.tb {
  position: absolute;
  top: 6px;
  height: 18px;
  border-radius: 3px;
  background: color-mix(in srgb, var(--own) 62%, var(--sheet));
  border: 1px solid var(--own);
  cursor: grab;
}
.tb.closed {
  background: color-mix(in srgb, var(--own) 18%, var(--sheet));
  border-style: dashed;
}
.tb.late {
  box-shadow: 0 0 0 1.5px var(--alarm);
}
.tb.moving {
  outline: 2px dashed var(--fern);
  outline-offset: 2px;
}
.edge {
  position: absolute;
  top: -1px;
  bottom: -1px;
  width: 7px;
  cursor: ew-resize;
}
.l {
  left: -3px;
}
.r {
  right: -3px;
}
.edge:hover {
  background: var(--fern);
  border-radius: 2px;
}
.after {
  position: absolute;
  top: 6px;
  font-size: 11.5px;
  color: var(--ink-2);
  white-space: nowrap;
  pointer-events: none;
}
</style>
