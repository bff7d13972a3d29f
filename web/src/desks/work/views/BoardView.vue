<script setup lang="ts">
import { computed, ref, useTemplateRef } from 'vue'
import type { Outline, OutlineGroup, ViewDefinition } from '#contract/query.ts'
import type { TaskRow } from '#contract/tasks.ts'
import { put } from '#web/api/client.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useTasks } from '#web/state/tasks.ts'
import { useTaskDeeds } from '#web/fields/useTaskDeeds.ts'
import { useMayChange } from './may-change.ts'
import { useBoardKeys } from './useBoardKeys.ts'
import { SORTED } from './useRowMoves.ts'
import type { MenuLine } from '#web/parts/LineMenu.vue'
import ColumnForm from './ColumnForm.vue'
import { useColumnEdits, type ColumnDraft } from './useColumnEdits.ts'
import BoardColumn from './BoardColumn.vue'
import { beginsInGroup, boardField } from './definition.ts'
import { groupWith } from './grid-items.ts'
import { useRegroup } from './useRegroup.ts'
import type { Known } from '#web/fields/known.ts'

/** Columns by a field; a card dropped on another column takes its value. */
const props = defineProps<{ def: ViewDefinition; outline: Outline; known: Known }>()
const emit = defineEmits<{ open: [id: number]; reload: [] }>()
const tasks = useTasks()
const mayChange = useMayChange()
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
): Promise<boolean> {
  const task = tasks.rows.get(id)
  if (!task || !from) return false
  const stays = from.key === group.key
  if (stays && (!byHand.value || after === id)) return false
  return attempt(async () => {
    if (!stays && !(await regroup(task, from, group, shownAs(group, task)))) return
    if (byHand.value && after !== undefined) {
      const done = await put(`/tasks/${id}/order`, { after })
      if (stays) messages.did('The order is changed.', done)
    }
    emit('reload')
  })
}
const deeds = useTaskDeeds(
  () => props.known,
  () => columns.value.flatMap(({ ids }) => ids),
)
const begins = (group: OutlineGroup) => () =>
  beginsInGroup(props.known, props.def.scope, field.value, group.key)
/** By keyboard: a slip goes to the next column on either side. */
async function step(at: number, id: number, by: 1 | -1): Promise<boolean> {
  const [from, to] = [columns.value[at], columns.value[at + by]]
  return from !== undefined && to !== undefined && drop({ id, from }, to)
}
/** By keyboard: past the slip above or below. */
async function shift(at: number, id: number, by: 1 | -1): Promise<boolean> {
  const group = columns.value[at]!
  const i = group.ids.indexOf(id)
  if (!byHand.value) messages.say(SORTED)
  const after = by > 0 ? group.ids[i + 1] : i < 2 ? null : group.ids[i - 2]
  if (!byHand.value || after === undefined || (by < 0 && i === 0)) return false
  return drop({ id, from: group }, group, after)
}
const columnRefs = useTemplateRef<InstanceType<typeof BoardColumn>[]>('column')
const { stop, keydown, came } = useBoardKeys({
  columns: () => columns.value,
  adds: () => mayChange.value,
  find: (at, on) =>
    columnRefs.value?.find((c) => c.keyOf() === columns.value[at]?.key)?.find(on) ?? null,
  step: async (at, id, by) => mayChange.value && step(at, id, by),
  shift: async (at, id, by) => mayChange.value && shift(at, id, by),
  act: deeds.key,
})
const edits = useColumnEdits({
  def: () => props.def,
  known: () => props.known,
  columns: () => columns.value,
  changed: () => emit('reload'),
})
const BLANK: ColumnDraft = { name: '', colour: null, kind: 'under-way' }
/** The column that is being written; null for a new one. */
const editing = ref<{ id: number | null; value: ColumnDraft } | null>(null)
const keep = (draft: ColumnDraft) =>
  editing.value?.id == null ? edits.add(draft) : edits.change(editing.value.id, draft)
function draftOf({ key, name }: OutlineGroup): ColumnDraft {
  const state = props.known.directory.states.find((s) => s.id === key)
  const own = edits.of.value === 'states' && state
  return { name, colour: own ? state.colour : null, kind: own ? state.kind : 'under-way' }
}
function moreOf(group: OutlineGroup): MenuLine[] {
  if (!edits.of.value || group.key === null) return []
  const id = Number(group.key)
  const goes = edits.after(id)
  return [
    {
      name: edits.of.value === 'states' ? 'Change name, colour, kind…' : 'Rename…',
      run: () => (editing.value = { id, value: draftOf(group) }),
    },
    { name: 'To the left', run: () => edits.shift(id, -1) },
    { name: 'To the right', run: () => edits.shift(id, 1) },
    {
      name: 'Remove',
      hint: goes ? `its tasks go to ${goes}` : 'its tasks stay, in none',
      run: () => edits.remove(id, group.name),
    },
  ]
}
</script>

<template>
  <div class="board" role="group" aria-label="Board" data-work @keydown="keydown" @focusin="came">
    <BoardColumn
      v-for="(group, i) in columns"
      :key="String(group.key)"
      ref="column"
      :data-column="i"
      :more="moreOf(group)"
      :stop="stop.column === i ? stop.on : null"
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
    />
    <div v-if="edits.of.value" class="addcol">
      <v-btn variant="text" @click="editing = { id: null, value: BLANK }">Add a column</v-btn>
    </div>
  </div>
  <ColumnForm
    v-if="editing"
    :value="editing.value"
    :states="edits.of.value === 'states'"
    :is-new="editing.id === null"
    :keep="keep"
    @close="editing = null"
  />
</template>

<style scoped>
.addcol {
  flex: none;
  padding: 5px 10px;
}
.board {
  display: flex;
  gap: 0;
  height: 100%;
  overflow-x: auto;
  overflow-y: hidden;
  border-top: 1.5px solid var(--ink);
}
</style>
