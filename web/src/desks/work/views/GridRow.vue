<script setup lang="ts">
import {
  mdiCheck,
  mdiChevronDown,
  mdiChevronRight,
  mdiCommentOutline,
  mdiFormatListChecks,
  mdiPaperclip,
} from '@mdi/js'
import { computed } from 'vue'
import { FIELD_TYPES } from '#core/fields/types.ts'
import type { TaskRow } from '#contract/tasks.ts'
import Glyph from '#web/parts/Glyph.vue'
import StateBar from '#web/parts/StateBar.vue'
import FieldCell from '#web/fields/cells/FieldCell.vue'
import { colourFor, fieldOf, paletteOf, sayField } from '#web/fields/fields.ts'
import { plural } from '#web/parts/say.ts'
import type { Known } from '#web/fields/known.ts'

/**
 * One task as a row of a list or a table. What is pressed is told upward: rows hold no state of
 * their own.
 */
const props = defineProps<{
  task: TaskRow
  columns: readonly { field: string; width: number }[]
  known: Known
  depth: number
  kids: boolean
  folded: boolean
  marked: boolean
  colour: string | null
  cells: boolean
  /** Its fields stand below its title, those that say something. */
  stacked: boolean
  active: number | null
}>()
const emit = defineEmits<{
  open: []
  fold: []
  mark: [shift: boolean]
  tick: []
  cell: [field: string, target: HTMLElement]
  focusCell: [at: number]
}>()
const stripe = computed(() => paletteOf(colourFor(props.known, props.colour, props.task)))
const isAmount = (path: string): boolean =>
  FIELD_TYPES[fieldOf(props.known, path)?.type ?? 'text'].operand === 'amount'
const cell = (field: string, event: Event) =>
  emit('cell', field, event.currentTarget as HTMLElement)
</script>

<template>
  <div
    class="gr"
    role="row"
    :class="[
      { closed: task.closedAt !== null, marked, cells, stacked },
      stripe ? `c-${stripe} stripe` : '',
    ]"
  >
    <span class="gut" role="gridcell">
      <input
        type="checkbox"
        class="mark"
        :checked="marked"
        :aria-label="`Mark ${task.title}`"
        tabindex="-1"
        @click.stop="emit('mark', ($event as MouseEvent).shiftKey)"
      />
    </span>
    <span
      class="ttl"
      role="gridcell"
      :style="{ paddingLeft: `${depth * 18}px` }"
      :tabindex="cells ? (active === 0 ? 0 : -1) : undefined"
      :data-at="cells ? 0 : undefined"
      @focus="cells && emit('focusCell', 0)"
      @dblclick="cells && cell('title', $event)"
    >
      <button
        v-if="kids"
        class="fold"
        :aria-label="
          folded ? `Show the subtasks of ${task.title}` : `Fold the subtasks of ${task.title}`
        "
        :aria-expanded="!folded"
        tabindex="-1"
        @click="emit('fold')"
      >
        <Glyph :path="folded ? mdiChevronRight : mdiChevronDown" :size="16" />
      </button>
      <button
        class="tick"
        role="checkbox"
        :aria-checked="task.state === 'done'"
        :disabled="!task.mayWork"
        :aria-label="`Done: ${task.title}`"
        tabindex="-1"
        @click="emit('tick')"
      >
        <Glyph v-if="task.state === 'done'" :path="mdiCheck" :size="13" />
      </button>
      <button
        class="st"
        :aria-label="`${task.stateName}; change the state of ${task.title}`"
        tabindex="-1"
        :disabled="!task.mayWork"
        @click="cell('state', $event)"
      >
        <StateBar :state="task.state" :colour="task.stateColour" :name="task.stateName" />
      </button>
      <button
        class="name"
        :data-opens="task.id"
        :tabindex="!cells && active === 0 ? 0 : -1"
        @focus="cells || emit('focusCell', 0)"
        :data-tip="task.title"
        @click="emit('open')"
      >
        {{ task.title }}
      </button>
      <span v-if="task.priority === 'urgent' || task.priority === 'high'" class="urgent">
        {{ task.priority === 'urgent' ? 'Urgent' : 'High' }}
      </span>
      <span
        v-if="task.subtasks.of"
        class="meta"
        role="img"
        :aria-label="`${task.subtasks.done} of ${task.subtasks.of} subtasks done`"
      >
        {{ task.subtasks.done }}/{{ task.subtasks.of }}
      </span>
      <span
        v-if="task.checklist.length"
        class="meta"
        role="img"
        :aria-label="`${task.checklist.filter((i) => i.done).length} of ${task.checklist.length} ticked`"
      >
        <Glyph :path="mdiFormatListChecks" :size="13" />
        {{ task.checklist.filter((i) => i.done).length }}/{{ task.checklist.length }}
      </span>
      <span
        v-if="task.comments"
        class="meta"
        role="img"
        :aria-label="plural(task.comments, 'comment')"
      >
        <Glyph :path="mdiCommentOutline" :size="12" />
        {{ task.comments }}
      </span>
      <span
        v-if="task.files"
        class="meta"
        role="img"
        :aria-label="plural(task.files, 'file or link', 'files and links')"
      >
        <Glyph :path="mdiPaperclip" :size="12" />
        {{ task.files }}
      </span>
      <span v-if="task.rung" class="auto meta" :data-tip="`Rule “${task.rung.rule}”`">
        rung {{ task.rung.at }} of {{ task.rung.of }}
      </span>
    </span>
    <span
      v-for="(c, i) in columns"
      :key="c.field"
      role="gridcell"
      class="cl"
      :class="{ none: stacked && !sayField(known, c.field, task) }"
      :style="stacked ? undefined : { width: `${c.width}px` }"
    >
      <button
        class="cb"
        :class="{
          late: fieldOf(known, c.field)?.colour?.(task) === 'alarm',
          num: isAmount(c.field),
        }"
        :tabindex="active === i + 1 ? 0 : -1"
        :data-at="i + 1"
        :aria-label="`${fieldOf(known, c.field)?.label ?? ''}: ${sayField(known, c.field, task) || 'empty'}`"
        @focus="emit('focusCell', i + 1)"
        @click="cell(c.field, $event)"
      >
        <FieldCell :path="c.field" :task="task" :known="known" />
      </button>
    </span>
  </div>
</template>

<style scoped>
.gr {
  display: flex;
  align-items: center;
  height: 36px;
  border-bottom: 1px solid var(--rule);
  position: relative;
}
.gr:hover {
  background: color-mix(in srgb, var(--fern) 5%, transparent);
}
.gr.marked {
  background: var(--fern-wash);
}
.stripe::before {
  content: '';
  position: absolute;
  left: 0;
  top: 3px;
  bottom: 3px;
  width: 4px;
  border-radius: 2px;
  background: var(--own);
}
.gut {
  width: 30px;
  flex: none;
  display: grid;
  place-items: center;
}
.mark {
  opacity: 0;
  width: 15px;
  height: 15px;
  accent-color: var(--fern);
  margin: 0;
}
.gr:hover .mark,
.mark:checked,
.mark:focus-visible,
.marking .mark {
  opacity: 1;
}
.ttl {
  flex: 1 1 260px;
  min-width: 220px;
  display: flex;
  align-items: center;
  gap: 8px;
  overflow: hidden;
  height: 100%;
  padding-right: 8px;
}
.fold {
  width: 18px;
  height: 24px;
  margin-left: -6px;
  margin-right: -4px;
  color: var(--ink-3);
  flex: none;
}
.tick {
  width: 16px;
  height: 16px;
  border: 1.5px solid var(--ink-3);
  border-radius: 3px;
  background: var(--sheet);
  flex: none;
  display: grid;
  place-items: center;
  color: var(--fern-ink);
}
/* Looked at, not ticked. */
.tick:disabled {
  opacity: 0.35;
  cursor: default;
}
.tick[aria-checked='true'] {
  background: var(--fern);
  border-color: var(--fern);
}
.st {
  flex: none;
  height: 28px;
  padding: 0 2px;
  display: grid;
  place-items: center;
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  text-align: left;
  min-width: 40px;
}
.name:hover {
  text-decoration: underline;
  text-underline-offset: 3px;
}
.closed .name {
  color: var(--ink-3);
  text-decoration: line-through;
}
.urgent {
  color: var(--alarm);
  font-size: 12px;
  font-weight: 600;
  flex: none;
}
.meta {
  color: var(--ink-3);
  font-size: 11.5px;
  display: inline-flex;
  align-items: center;
  gap: 2px;
  flex: none;
}
.meta.auto {
  color: var(--fern);
}
.cl {
  flex: none;
  height: 100%;
  padding-right: 6px;
}
.cb {
  width: 100%;
  height: 100%;
  display: flex;
  align-items: center;
  gap: 4px;
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
  border-radius: 2px;
  padding: 0 5px;
}
.cb:hover {
  box-shadow: inset 0 0 0 1px var(--rule-strong);
}
.num {
  justify-content: flex-end;
}
.late {
  color: var(--alarm);
  font-weight: 600;
}
.cells .cl,
.cells .ttl {
  border-right: 1px solid var(--rule);
}
.cells .cl {
  padding: 0;
}
.cells :focus-visible {
  outline-offset: -2px;
}
.stacked {
  --beside: 40px; /* the tick and the state: what lies below begins under the title */
  height: auto;
  flex-wrap: wrap;
  padding: 5px 0 3px calc(30px + var(--beside));
}
.stacked .gut {
  height: 30px;
  margin-left: calc(-30px - var(--beside));
}
.stacked .ttl {
  flex: 0 0 calc(100% + var(--beside));
  min-width: 0;
  height: auto;
  min-height: 30px;
  flex-wrap: wrap;
  row-gap: 2px;
}
.stacked .name {
  flex: 1 1 0;
  min-width: 120px;
  white-space: normal;
  overflow-wrap: anywhere;
}
.stacked .cl {
  height: 24px;
  padding-right: 12px;
}
.stacked .cb {
  padding: 0;
}
.stacked .cl.none {
  display: none;
}
/* Fingers are wider than a tick. */
@media (pointer: coarse) {
  .mark {
    opacity: 1;
  }
  .mark,
  .tick {
    width: 24px;
    height: 24px;
  }
  .st {
    width: 24px;
    height: 44px;
  }
  .stacked {
    --beside: 64px;
  }
  .stacked .gut {
    height: 44px;
  }
  .stacked .name {
    min-height: 44px;
  }
  .stacked .cl {
    height: 32px;
  }
}
</style>
