<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Outline, OutlineGroup, ViewDefinition } from '#contract/query.ts'
import type { TaskPatch, TaskRow } from '#contract/tasks.ts'
import { post, put, sentence } from '#web/api/client.ts'
import { useMessages } from '#web/state/messages.ts'
import { useTasks } from '#web/state/tasks.ts'
import BoardColumn from './BoardColumn.vue'
import { boardField } from './definition.ts'
import { editForGroup } from '#web/fields/fields.ts'
import { useRegroup } from './useRegroup.ts'
import type { Known } from '#web/fields/known.ts'

/** Columns by a field; a card dropped on another column takes its value. */
const props = defineProps<{ def: ViewDefinition; outline: Outline; known: Known }>()
const emit = defineEmits<{ open: [id: number]; reload: [] }>()
const tasks = useTasks()
const messages = useMessages()
const field = computed(() => boardField(props.def))
const byHand = computed(() => props.def.scope.of === 'project' && props.def.sort.length === 0)
/**
 * Whom nothing is assigned to has no column of their own: only those with work, and whoever is in
 * the room.
 */
const columns = computed(() =>
  props.outline.groups.filter(
    (g) =>
      g.ids.length || !['assignee', 'client', 'project'].includes(field.value) || g.key === null,
  ),
)
const dragged = ref<{ id: number; from: OutlineGroup } | null>(null)

function shownAs(group: OutlineGroup, task: TaskRow): Partial<TaskRow> {
  if (field.value === 'state') {
    const state = props.known.directory.states.find((s) => s.id === group.key)
    return state
      ? { stateId: state.id, state: state.kind, stateName: state.name, stateColour: state.colour }
      : {}
  }
  return field.value === 'priority'
    ? { priority: group.key as TaskRow['priority'] }
    : { version: task.version }
}
const regroup = useRegroup(
  () => props.known,
  () => field.value,
)
/**
 * `after` is the slip above the place it was dropped on (null for the first place), or no place at
 * all.
 */
async function drop(group: OutlineGroup, after: number | null | undefined): Promise<void> {
  const moved = dragged.value
  dragged.value = null
  const task = moved && tasks.rows.get(moved.id)
  if (!moved || !task) return
  const stays = moved.from.key === group.key
  if (
    stays
      ? !byHand.value || after === moved.id
      : !(await regroup(task, moved.from, group, shownAs(group, task)))
  )
    return
  try {
    if (byHand.value && after !== undefined) {
      const done = await put(`/tasks/${moved.id}/order`, { after })
      if (stays) messages.did('The order is changed.', done)
    }
    emit('reload')
  } catch (error) {
    messages.fault(sentence(error))
  }
}
async function add(group: OutlineGroup, title: string): Promise<void> {
  const { scope } = props.def
  const blank = { assignees: [], tags: [] } as unknown as TaskRow
  try {
    const at: TaskPatch =
      (group.key === null
        ? {}
        : editForGroup(props.known, field.value, { key: group.key, from: null }, blank)) ?? {}
    await post('/tasks', {
      title,
      ...(scope.of === 'project' && { projectId: scope.id }),
      ...(scope.of === 'client' && { clientId: scope.id }),
      ...(scope.of === 'person' && { assignees: [scope.id] }),
      ...at,
    })
    emit('reload')
  } catch (error) {
    messages.fault(sentence(error))
  }
}
/** By keyboard: a card goes to the next column on either side. */
async function step(group: OutlineGroup, id: number, by: number): Promise<void> {
  const to = columns.value[columns.value.indexOf(group) + by]
  if (!to) return
  dragged.value = { id, from: group }
  await drop(to, undefined)
}
</script>

<template>
  <div class="board" role="group" aria-label="Board">
    <BoardColumn
      v-for="group in columns"
      :key="String(group.key)"
      :group="group"
      :known="known"
      :colour="def.colour"
      :lifted="dragged?.id ?? null"
      :field="field"
      @lift="(id) => (dragged = { id, from: group })"
      @land="(after) => drop(group, after)"
      @rest="dragged = null"
      @open="(id) => emit('open', id)"
      @add="(title) => add(group, title)"
      @step="(id, by) => step(group, id, by)"
    />
  </div>
</template>

<style scoped>
.board {
  display: flex;
  gap: 0;
  height: 100%;
  overflow-x: auto;
  overflow-y: hidden;
  border-top: 1.5px solid var(--ink);
}
</style>
