<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual'
import { useElementSize } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import type { Outline, OutlineGroup, ViewDefinition } from '#contract/query.ts'
import type { NewTask, TaskPatch, TaskRow } from '#contract/tasks.ts'
import { post, put, sentence } from '#web/api/client.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSelection } from '#web/state/selection.ts'
import { printing } from '#web/state/printing.ts'
import { useSession } from '#web/state/session.ts'
import { useTasks } from '#web/state/tasks.ts'
import { useFieldMenu } from '#web/fields/fieldMenu.ts'
import { canSet, editForGroup, fieldOf, sayField } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'
import GroupHead from './GroupHead.vue'
import { useRegroup } from './useRegroup.ts'
import GridRow from './GridRow.vue'
import { tickEdit } from '#web/parts/tick.ts'

/** A list or, with cells to move about in, a table: only the rows in sight exist. */
const props = defineProps<{ def: ViewDefinition; outline: Outline; known: Known }>()
const emit = defineEmits<{
  change: [part: Partial<ViewDefinition>]
  open: [id: number]
  reload: []
}>()
const tasks = useTasks()
const session = useSession()
const selection = useSelection()
const messages = useMessages()
const menu = useFieldMenu()

type Item =
  | { kind: 'head'; group: OutlineGroup; key: string }
  | { kind: 'row'; id: number; depth: number; kids: number; group: OutlineGroup }
  | { kind: 'add'; group: OutlineGroup }
const folded = ref(new Set<string>())
const foldedRows = ref(new Set<number>())
const cells = computed(() => props.def.kind === 'table')
const headed = computed(() => props.def.group !== null)
const member = computed(() => session.me?.may.member === true)
const addable = (group: OutlineGroup) =>
  member.value &&
  (!headed.value ||
    ['phase', 'state', 'priority', 'assignee', 'project', 'client'].includes(props.def.group!)) &&
  (props.def.scope.of === 'project' || group.key !== null || !headed.value)
const items = computed((): Item[] => {
  const out: Item[] = []
  for (const group of props.outline.groups) {
    const key = String(group.key)
    if (headed.value) out.push({ kind: 'head', group, key })
    if (headed.value && folded.value.has(key)) continue
    let hidden = Infinity
    group.ids.forEach((id, i) => {
      const depth = group.depths?.[i] ?? 0
      if (depth > hidden) return
      hidden = Infinity
      const kids = (group.depths?.[i + 1] ?? 0) > depth ? 1 : 0
      if (kids && foldedRows.value.has(id)) hidden = depth
      out.push({ kind: 'row', id, depth, kids, group })
    })
    if (addable(group)) out.push({ kind: 'add', group })
  }
  return out
})
const order = computed(() => items.value.flatMap((i) => (i.kind === 'row' ? [i.id] : [])))

const scroller = ref<HTMLElement | null>(null)
const { width: shownWidth } = useElementSize(scroller)
const virtual = useVirtualizer(
  computed(() => ({
    count: items.value.length,
    getScrollElement: () => scroller.value,
    estimateSize: (i: number) => (items.value[i]?.kind === 'head' ? 42 : 36),
    overscan: 6,
  })),
)
/** As many rows as are ever put on paper. */
const MOST_PRINTED = 2_000
const slots = computed((): { index: number; key: unknown; start: number; size: number }[] =>
  printing.value
    ? items.value
        .slice(0, MOST_PRINTED)
        .map((_, index) => ({ index, key: index, start: 0, size: 36 }))
    : virtual.value.getVirtualItems(),
)
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
watch(items, () => virtual.value.measure())
// Put in another order, a list begins at its beginning.
watch(
  () => JSON.stringify([props.def.group, props.def.sort, props.def.filter]),
  () => scroller.value?.scrollTo({ top: 0 }),
)

const wide = computed(() => props.def.columns.reduce((sum, c) => sum + c.width, 0) + 30 + 240)
function resize(event: PointerEvent, index: number): void {
  const start = event.clientX
  const from = props.def.columns[index]!.width
  const handle = event.currentTarget as HTMLElement
  handle.setPointerCapture(event.pointerId)
  const move = (e: PointerEvent) =>
    emit('change', {
      columns: props.def.columns.map((c, i) =>
        i === index ? { ...c, width: Math.max(48, Math.min(600, from + e.clientX - start)) } : c,
      ),
    })
  handle.addEventListener('pointermove', move)
  handle.addEventListener(
    'lostpointercapture',
    () => handle.removeEventListener('pointermove', move),
    { once: true },
  )
}
const nudge = (index: number, by: number) =>
  emit('change', {
    columns: props.def.columns.map((c, i) =>
      i === index ? { ...c, width: Math.max(48, Math.min(600, c.width + by)) } : c,
    ),
  })
const sortOf = (field: string) => props.def.sort.find((s) => s.field === field)
function sortBy(field: string): void {
  if (!fieldOf(props.known, field)?.sorts) return
  const now = sortOf(field)
  emit('change', {
    sort: !now ? [{ field, down: false }] : now.down ? [] : [{ field, down: true }],
  })
}

function setField(id: number, field: string, target: HTMLElement, typed?: string): void {
  const task = tasks.rows.get(id)
  if (!task || !canSet(props.known, field) || !member.value) return
  menu.open({
    target,
    field,
    task,
    ...(typed !== undefined && { typed }),
    apply: (patch: TaskPatch) => tasks.edit(id, patch, {}, (t) => `“${t.title}” is saved.`),
  })
}
async function tick(task: TaskRow): Promise<void> {
  await tasks.edit(task.id, ...tickEdit(task))
}

// Adding a task where it is meant to stand.
const adding = ref<Record<string, string>>({})
async function add(group: OutlineGroup): Promise<void> {
  const key = String(group.key)
  const title = (adding.value[key] ?? '').trim()
  if (!title) return
  const { scope } = props.def
  const start: NewTask = {
    title,
    ...(scope.of === 'project' && { projectId: scope.id }),
    ...(scope.of === 'client' && { clientId: scope.id }),
    ...(scope.of === 'person' && { assignees: [scope.id] }),
  }
  const blank = { assignees: [], tags: [] } as unknown as TaskRow
  try {
    await post('/tasks', {
      ...start,
      ...(headed.value &&
        group.key !== null &&
        editForGroup(props.known, props.def.group!, { key: group.key, from: null }, blank)),
    })
    adding.value[key] = ''
    emit('reload')
  } catch (error) {
    messages.fault(sentence(error))
  }
}

// Dragging rows: into another group, or into their place in the order by hand.
const dragged = ref<{ id: number; from: OutlineGroup } | null>(null)
const over = ref<number | null>(null)
const byHand = computed(() => props.def.scope.of === 'project' && props.def.sort.length === 0)
function drag(event: DragEvent, item: Item): void {
  if (item.kind !== 'row') return
  dragged.value = { id: item.id, from: item.group }
  event.dataTransfer?.setData('text/x-fernwick-task', String(item.id))
}
const SORTED = 'Rows are sorted by a field; take the sorting off to order them by hand.'
const regroup = useRegroup(
  () => props.known,
  () => props.def.group!,
)
/** What a row stands after that is dropped there: on a row it takes that row's place. */
function placeAt(index: number, id: number): number | null {
  const target = items.value[index]!
  if (target.kind === 'add') return target.group.ids.at(-1) ?? null
  const before = items.value.slice(0, index).findLast((i) => i.kind === 'row' && i.id !== id)
  return before?.kind === 'row' ? before.id : null
}
async function drop(index: number): Promise<void> {
  const moved = dragged.value
  const target = items.value[index]
  dragged.value = over.value = null
  if (!moved || !target || (target.kind === 'row' && target.id === moved.id)) return
  const task = tasks.rows.get(moved.id)
  if (task) await place(task, moved.from, index)
}
async function place(task: TaskRow, from: OutlineGroup, index: number): Promise<void> {
  const target = items.value[index]!
  const stays = target.group === from
  if (stays && !byHand.value) return messages.say(SORTED)
  try {
    if (!stays && !(await regroup(task, from, target.group))) return
    if (byHand.value) {
      const done = await put(`/tasks/${task.id}/order`, { after: placeAt(index, task.id) })
      if (stays) messages.did('The order is changed.', done)
    }
    emit('reload')
  } catch (error) {
    messages.fault(sentence(error))
  }
}

/** A row moved by keyboard: past the row above or below it. */
async function shiftRow(index: number, id: number, by: 1 | -1): Promise<void> {
  if (!byHand.value) return messages.say(SORTED)
  const ids = order.value
  const at = ids.indexOf(id)
  const after = by > 0 ? ids[at + 1] : at < 2 ? null : ids[at - 2]
  if (after === undefined || (by < 0 && at === 0)) return
  try {
    messages.did('The order is changed.', await put(`/tasks/${id}/order`, { after }))
    emit('reload')
    cursor.value = { ...cursor.value, row: index + by }
    setTimeout(() => void go(0), 250)
  } catch (error) {
    messages.fault(sentence(error))
  }
}

// Keys go from cell to cell; in a table typing begins an edit, in a list Enter does.
const cursor = ref<{ row: number; at: number }>({ row: 0, at: 0 })
const rowIndexes = computed(() => items.value.flatMap((i, n) => (i.kind === 'row' ? [n] : [])))
async function go(step: number, side = 0): Promise<void> {
  const position = Math.max(
    0,
    rowIndexes.value.findIndex((n) => n >= cursor.value.row),
  )
  const row = rowIndexes.value[Math.max(0, Math.min(rowIndexes.value.length - 1, position + step))]
  if (row === undefined) return
  cursor.value = {
    row,
    at: Math.max(0, Math.min(props.def.columns.length, cursor.value.at + side)),
  }
  virtual.value.scrollToIndex(row)
  await nextTick()
  const line = scroller.value?.querySelector<HTMLElement>(`[data-index="${row}"]`)
  line
    ?.querySelector<HTMLElement>(
      cells.value || cursor.value.at > 0 ? `[data-at="${cursor.value.at}"]` : '.name',
    )
    ?.focus()
}
const fieldAt = (at: number) => (at === 0 ? 'title' : props.def.columns[at - 1]!.field)
const STEPS: Readonly<Record<string, readonly [rows: number, cells: number]>> = {
  ArrowDown: [1, 0],
  ArrowUp: [-1, 0],
  PageDown: [12, 0],
  PageUp: [-12, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
}
/** Where a key leads, by rows and cells; the last cell lets Tab leave the table. */
function stepOf({ key, shiftKey, altKey }: KeyboardEvent): readonly [number, number] | undefined {
  if (altKey) return undefined
  if (key !== 'Tab' || !cells.value) return STEPS[key]
  const by = shiftKey ? -1 : 1
  const to = cursor.value.at + by
  return to < 0 || to > props.def.columns.length ? undefined : [0, by]
}
/** Keys of a list's row: mark it, fold what is under it. */
function listKey({ key, shiftKey }: KeyboardEvent, id: number): boolean {
  if (key === ' ' || key.toLowerCase() === 'x') mark(id, shiftKey)
  else if (key === 'f') toggleRow(id)
  else return false
  return true
}
/** Keys of a table's cell: mark its row, edit it, or begin to type in it. */
function cellKey(event: KeyboardEvent, id: number): boolean {
  const { key, shiftKey, ctrlKey, metaKey, altKey } = event
  const edits = key === 'Enter' || key === 'F2'
  if (key === ' ') mark(id, shiftKey)
  else if (edits || (key.length === 1 && !ctrlKey && !metaKey && !altKey))
    setField(id, fieldAt(cursor.value.at), event.target as HTMLElement, edits ? undefined : key)
  else return false
  return true
}
const mark = (id: number, through: boolean) =>
  selection.toggle(id, through ? order.value : undefined)
/** What a key does on a row; answers whether it did anything. */
function rowKey(event: KeyboardEvent, row: number, id: number): boolean {
  const { key, altKey } = event
  if (altKey && (key === 'ArrowDown' || key === 'ArrowUp') && member.value) {
    void shiftRow(row, id, key === 'ArrowDown' ? 1 : -1)
    return true
  }
  const step = stepOf(event)
  if (step) {
    void go(...step)
    return true
  }
  return cells.value ? cellKey(event, id) : listKey(event, id)
}
function keydown(event: KeyboardEvent): void {
  const from = event.target as HTMLElement
  if (from.tagName === 'INPUT' && (from as HTMLInputElement).type !== 'checkbox') return
  if (menu.ask && menu.sink) {
    event.preventDefault()
    menu.sink(event)
    return
  }
  const row = Number(from.closest<HTMLElement>('[data-index]')?.dataset['index'] ?? -1)
  const item = items.value[row]
  if (item?.kind !== 'row') return
  const at = Number(from.closest<HTMLElement>('[data-at]')?.dataset['at'] ?? 0)
  cursor.value = { row, at }
  if (rowKey(event, row, item.id)) event.preventDefault()
}
function toggleRow(id: number): void {
  const next = new Set(foldedRows.value)
  if (!next.delete(id)) next.add(id)
  foldedRows.value = next
}
function toggleGroup(key: string): void {
  const next = new Set(folded.value)
  if (!next.delete(key)) next.add(key)
  folded.value = next
}

// Copying and pasting what spreadsheets copy: tabs between cells, lines between rows.
function copy(event: ClipboardEvent): void {
  if (!cells.value || (event.target as HTMLElement).tagName === 'INPUT') return
  const ids = selection.count ? order.value.filter((id) => selection.has(id)) : []
  const fields = ['title', ...props.def.columns.map((c) => c.field)]
  const item = items.value[cursor.value.row]
  const rows = ids.length
    ? ids.map((id) =>
        fields.map((f) => {
          const t = tasks.rows.get(id)
          return t ? sayField(props.known, f, t) : ''
        }),
      )
    : item?.kind === 'row' && tasks.rows.get(item.id)
      ? [[sayField(props.known, fieldAt(cursor.value.at), tasks.rows.get(item.id)!)]]
      : []
  if (!rows.length) return
  event.preventDefault()
  event.clipboardData?.setData(
    'text/plain',
    rows
      .map((r) => r.map((c) => (/[\t\n"]/.test(c) ? `"${c.replaceAll('"', '""')}"` : c)).join('\t'))
      .join('\n'),
  )
}
async function paste(event: ClipboardEvent): Promise<void> {
  if (!cells.value || (event.target as HTMLElement).tagName === 'INPUT') return
  const text = event.clipboardData?.getData('text/plain') ?? ''
  const item = items.value[cursor.value.row]
  if (!text || item?.kind !== 'row') return
  event.preventDefault()
  const fields = ['title', ...props.def.columns.map((c) => c.field)].slice(cursor.value.at)
  const below = order.value.slice(order.value.indexOf(item.id))
  const { pasted } = await import('./paste.ts')
  const { edits, make, faults } = pasted(
    text,
    fields,
    below.map((id) => tasks.rows.get(id)),
    props.known,
    props.def.scope,
  )
  if (faults.length)
    return messages.fault(
      `${faults[0]}${faults.length > 1 ? ` And ${faults.length - 1} more.` : ''} Nothing was pasted.`,
    )
  try {
    const done = await post<{ count: number }>('/tasks/edits', { edits, make })
    messages.did(`${done.count} ${done.count === 1 ? 'task' : 'tasks'} pasted over.`, done)
    emit('reload')
  } catch (error) {
    messages.fault(sentence(error))
  }
}
</script>

<template>
  <div
    ref="scroller"
    class="scroller"
    :class="{ cells, marking: selection.count > 0 }"
    role="grid"
    :aria-label="cells ? 'Table of tasks' : 'List of tasks'"
    :aria-rowcount="items.length + 1"
    aria-multiselectable="true"
    @keydown="keydown"
    @copy="copy"
    @paste="paste"
  >
    <div role="row" class="heads" :style="{ minWidth: `${wide}px` }">
      <span class="gut" role="columnheader"><span class="sr">Marked</span></span>
      <span
        class="ttl"
        role="columnheader"
        :aria-sort="sortOf('title') ? (sortOf('title')!.down ? 'descending' : 'ascending') : 'none'"
      >
        <button @click="sortBy('title')">
          Task
          <span v-if="sortOf('title')" aria-hidden="true">
            {{ sortOf('title')!.down ? '↓' : '↑' }}
          </span>
        </button>
      </span>
      <span
        v-for="(c, i) in def.columns"
        :key="c.field"
        class="hd"
        role="columnheader"
        :style="{ width: `${c.width}px` }"
        :aria-sort="sortOf(c.field) ? (sortOf(c.field)!.down ? 'descending' : 'ascending') : 'none'"
      >
        <button @click="sortBy(c.field)">
          {{ fieldOf(known, c.field)?.label ?? 'Gone' }}
          <span v-if="sortOf(c.field)" aria-hidden="true">
            {{ sortOf(c.field)!.down ? '↓' : '↑' }}
          </span>
        </button>
        <i
          class="grip"
          tabindex="0"
          role="separator"
          aria-orientation="vertical"
          :aria-label="`Width of ${fieldOf(known, c.field)?.label}`"
          :aria-valuenow="c.width"
          aria-valuemin="48"
          aria-valuemax="600"
          @pointerdown="resize($event, i)"
          @keydown.left.prevent.stop="nudge(i, -12)"
          @keydown.right.prevent.stop="nudge(i, 12)"
        />
      </span>
    </div>
    <div
      role="rowgroup"
      class="body"
      :style="{ height: `${virtual.getTotalSize()}px`, minWidth: `${wide}px` }"
    >
      <template v-for="slot in slots" :key="String(slot.key)">
        <div
          v-if="items[slot.index]"
          class="line"
          :data-index="slot.index"
          role="presentation"
          :class="{ over: over === slot.index }"
          :style="{ transform: `translateY(${slot.start}px)`, height: `${slot.size}px` }"
          :draggable="member && items[slot.index]!.kind === 'row'"
          @dragstart="drag($event, items[slot.index]!)"
          @dragover.prevent="over = slot.index"
          @dragleave="over = null"
          @drop.prevent="drop(slot.index)"
          @dragend="dragged = over = null"
        >
          <template v-for="item in [items[slot.index]!]" :key="item.kind">
            <GroupHead
              v-if="item.kind === 'head'"
              :group="item.group"
              :known="known"
              :width="Math.min(shownWidth, 620)"
              :folded="folded.has(item.key)"
              @fold="toggleGroup(item.key)"
            />
            <template v-else-if="item.kind === 'row'">
              <GridRow
                v-if="tasks.rows.get(item.id)"
                :task="tasks.rows.get(item.id)!"
                :columns="def.columns"
                :known="known"
                :depth="item.depth"
                :kids="item.kids"
                :folded="foldedRows.has(item.id)"
                :marked="selection.has(item.id)"
                :colour="def.colour"
                :cells="cells"
                :active="cursor.row === slot.index ? cursor.at : null"
                @open="emit('open', item.id)"
                @fold="toggleRow(item.id)"
                @mark="selection.toggle(item.id, $event ? order : undefined)"
                @tick="tick(tasks.rows.get(item.id)!)"
                @cell="(field, target) => setField(item.id, field, target)"
                @focus-cell="(at) => (cursor = { row: slot.index, at })"
              />
              <div v-else role="row" class="ghost"><span role="gridcell">…</span></div>
            </template>
            <div v-else role="row" class="addrow">
              <span role="gridcell">
                <input
                  v-model="adding[String(item.group.key)]"
                  class="inp"
                  maxlength="200"
                  :placeholder="headed ? `Add to ${item.group.name}` : 'Add a task'"
                  :aria-label="headed ? `Add a task to ${item.group.name}` : 'Add a task'"
                  @keydown.enter="add(item.group)"
                />
              </span>
            </div>
          </template>
        </div>
      </template>
    </div>
  </div>
</template>

<style scoped>
.scroller {
  overflow: auto;
  height: 100%;
  position: relative;
}
.body {
  position: relative;
}
.line {
  position: absolute;
  left: 0;
  right: 0;
  top: 0;
}
.line.over {
  box-shadow: inset 0 2px var(--fern);
}
.heads {
  display: flex;
  position: sticky;
  top: 0;
  z-index: 2;
  background: var(--paper);
  height: 30px;
  align-items: center;
  border-bottom: 1.5px solid var(--ink);
  font: 600 12px var(--sans);
  color: var(--ink-3);
}
.gut {
  width: 30px;
  flex: none;
}
.ttl {
  flex: 1 1 260px;
  min-width: 220px;
}
.hd {
  flex: none;
  position: relative;
  padding: 0 11px 0 5px;
  overflow: hidden;
  white-space: nowrap;
}
.grip {
  position: absolute;
  right: 2px;
  top: 0;
  bottom: 0;
  width: 9px;
  cursor: col-resize;
  touch-action: none;
}
.grip::after {
  content: '';
  position: absolute;
  left: 4px;
  top: 5px;
  bottom: 5px;
  width: 1px;
  background: var(--rule-strong);
}
.grip:hover::after,
.grip:focus-visible::after {
  background: var(--fern);
  width: 2px;
}
.ghost {
  height: 36px;
  border-bottom: 1px solid var(--rule);
  color: var(--ink-3);
  padding: 8px 40px;
}
.addrow {
  height: 36px;
  display: flex;
  align-items: center;
  padding-left: 26px;
}
.addrow .inp {
  border-color: transparent;
  background: none;
  width: 300px;
}
.addrow .inp:hover,
.addrow .inp:focus {
  border-color: var(--rule-strong);
  background: var(--sheet);
}
@media print {
  .scroller,
  .body {
    height: auto !important;
    overflow: visible !important;
  }
  .line {
    position: static;
    transform: none !important;
    break-inside: avoid;
  }
  .heads {
    position: static;
  }
}
</style>
