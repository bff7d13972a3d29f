<script setup lang="ts">
import { computed } from 'vue'
import type { Outline, OutlineGroup, ViewDefinition } from '#contract/query.ts'
import type { TaskRow } from '#contract/tasks.ts'
import { put } from '#web/api/client.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useTasks } from '#web/state/tasks.ts'
import BoardColumn from './BoardColumn.vue'
import { beginsInGroup, boardField } from './definition.ts'
import { groupWith } from './grid-items.ts'
import { useRegroup } from './useRegroup.ts'
import type { Known } from '#web/fields/known.ts'

/** Columns by a field; a card dropped on another column takes its value. */
const props = defineProps<{ def: ViewDefinition; outline: Outline; known: Known }>()
const emit = defineEmits<{ open: [id: number]; reload: [] }>()
const tasks = useTasks()
const messages = useMessages()
const { attempt } = useAttempt()
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
const groupOf = (id: number, out?: string) => groupWith(props.outline.groups, id, out)

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
async function drop(
  { id, from }: { id: number; from: OutlineGroup | undefined },
  group: OutlineGroup,
  after?: number | null,
): Promise<void> {
  const task = tasks.rows.get(id)
  if (!task || !from) return
  const stays = from.key === group.key
  if (stays && (!byHand.value || after === id)) return
  await attempt(async () => {
    if (!stays && !(await regroup(task, from, group, shownAs(group, task)))) return
    if (byHand.value && after !== undefined) {
      const done = await put(`/tasks/${id}/order`, { after })
      if (stays) messages.did('The order is changed.', done)
    }
    emit('reload')
  })
}
const begins = (group: OutlineGroup) => () =>
  beginsInGroup(props.known, props.def.scope, field.value, group.key)
/** By keyboard: a card goes to the next column on either side. */
async function step(group: OutlineGroup, id: number, by: number): Promise<void> {
  const to = columns.value[columns.value.indexOf(group) + by]
  if (to) await drop({ id, from: group }, to)
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
      :takes="(id) => groupOf(id) !== undefined"
      :ordered="byHand"
      :field="field"
      @land="(id, after, out) => drop({ id, from: groupOf(id, out) }, group, after)"
      @open="(id) => emit('open', id)"
      :begins="begins(group)"
      @made="emit('reload')"
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
