<script setup lang="ts">
import { computed } from 'vue'
import type { TaskRow } from '#contract/tasks.ts'
import { vCarry, type Carried } from '#web/drag/carry.ts'
import type { Known } from '#web/fields/known.ts'
import StateBar from '#web/parts/StateBar.vue'
import { sayTask } from '#web/parts/task/say-task.ts'
import type { Drag } from './span.ts'

/** A task on the timeline: its name, its bar, who is on it. */
const props = defineProps<{
  task: TaskRow
  known: Known
  /** A name of the palette. */
  colour: string
  /** Whose it is, where that is not plain. */
  whose: string
  place: { left: string; width: string }
  moving: boolean
  /** What of it Tab comes to. */
  stop: 'name' | 'bar' | null
  /** As what it, or an edge of it, is picked up. */
  carry: (part: Drag['part']) => Carried | false
}>()
const emit = defineEmits<{ open: [] }>()
const said = computed(() => sayTask(props.task, props.known))
const people = computed(() => props.task.assignees.map((a) => a.name.split(' ')[0]).join(', '))
</script>

<template>
  <div class="label" role="rowheader">
    <StateBar
      :state="task.state"
      :colour="task.stateColour"
      :name="task.stateName"
      aria-hidden="true"
    />
    <button
      class="nm"
      data-at="name"
      :tabindex="stop === 'name' ? 0 : -1"
      :data-opens="task.id"
      :aria-label="said"
      :data-tip="said"
      @click="emit('open')"
    >
      <span class="what">{{ task.title }}</span>
      <span v-if="whose" class="whose">{{ whose }}</span>
    </button>
  </div>
  <div class="lane" role="gridcell">
    <div
      v-carry="carry('whole')"
      class="tb"
      role="button"
      data-at="bar"
      :tabindex="stop === 'bar' ? 0 : -1"
      :data-task="task.id"
      :data-opens="task.id"
      :aria-label="`${said}; Alt and arrows move it`"
      :class="[{ closed: task.closedAt, late: task.late, moving }, `c-${colour}`]"
      :style="place"
      @click="emit('open')"
      @keydown.enter.exact="emit('open')"
    >
      <i v-carry="carry('start')" class="edge l" />
      <i v-carry="carry('end')" class="edge r" />
    </div>
    <span
      class="after"
      aria-hidden="true"
      :style="{ left: `calc(${place.left} + ${place.width} + 6px)` }"
    >
      {{ people }}
    </span>
  </div>
</template>

<style scoped>
.nm {
  display: flex;
  gap: 6px;
  align-items: baseline;
  min-width: 0;
}
.what {
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
}
.whose {
  flex: none;
  max-width: 50%;
  overflow: hidden;
  text-overflow: ellipsis;
  color: var(--ink-2);
  font-size: 11px;
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
  width: calc(18px + min(6px, 25%));
  cursor: ew-resize;
}
/* They lie mostly beside the bar, so that a short one can still be met itself. */
.l {
  left: -18px;
}
.r {
  right: -18px;
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
