<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual'
import { useElementSize } from '@vueuse/core'
import { computed, reactive, ref, watch } from 'vue'
import type { Outline, OutlineGroup, ViewDefinition } from '#contract/query.ts'
import { vCarry, vLand, type Carried } from '#web/drag/carry.ts'
import type { Point } from '#web/drag/way.ts'
import { useTaskDeeds } from '#web/fields/useTaskDeeds.ts'
import type { Known } from '#web/fields/known.ts'
import { useNarrow } from '#web/parts/narrow.ts'
import QuickAdd from '#web/parts/QuickAdd.vue'
import { printing } from '#web/state/printing.ts'
import { useSelection } from '#web/state/selection.ts'
import { useTasks } from '#web/state/tasks.ts'
import { useMayChange } from './may-change.ts'
import { beginsInGroup } from './definition.ts'
import { idsIn, itemsOf, type Item } from './grid-items.ts'
import GridHeads from './GridHeads.vue'
import GridRow from './GridRow.vue'
import GroupHead from './GroupHead.vue'
import { useGridClipboard } from './useGridClipboard.ts'
import { useGridKeys } from './useGridKeys.ts'
import { useRowMoves } from './useRowMoves.ts'

/** A list or, with cells to move about in, a table: only the rows in sight exist. */
const props = defineProps<{ def: ViewDefinition; outline: Outline; known: Known }>()
const emit = defineEmits<{
  change: [part: Partial<ViewDefinition>]
  open: [id: number]
  reload: []
}>()
const tasks = useTasks()
const selection = useSelection()

const folded = reactive({ groups: new Set<string>(), rows: new Set<number>() })
function fold<T>(among: Set<T>, key: T): void {
  if (!among.delete(key)) among.add(key)
}
function foldItem(item: Item): void {
  if (item.kind === 'head') fold(folded.groups, item.key)
  else if (item.kind === 'row' && item.kids) fold(folded.rows, item.id)
}
const cells = computed(() => props.def.kind === 'table')
const narrow = useNarrow()
/** On a narrow page a row of a list takes two lines or more: what it is, and below what is said of it. */
const stacked = computed(() => narrow.value && !cells.value)
const headed = computed(() => props.def.group !== null)
const mayChange = useMayChange()
/** Groups that a new task can be put in, by what it begins with. */
const ADDABLE = ['phase', 'state', 'priority', 'assignee', 'project', 'client']
const addable = (group: OutlineGroup) =>
  mayChange.value &&
  (!headed.value || ADDABLE.includes(props.def.group!)) &&
  (props.def.scope.of === 'project' || group.key !== null || !headed.value)
const items = computed(() =>
  itemsOf(props.outline.groups, { headed: headed.value, folded, addable }),
)

const scroller = ref<HTMLElement | null>(null)
const body = ref<HTMLElement | null>(null)
const { width: shownWidth } = useElementSize(scroller)
const virtual = useVirtualizer(
  computed(() => {
    // Asked for each of 10,000 lines: what it reads is read once.
    const lines = items.value
    const high = { head: 42, row: stacked.value ? 58 : 36, add: 36 }
    return {
      count: lines.length,
      getScrollElement: () => scroller.value,
      estimateSize: (i: number) => high[lines[i]?.kind ?? 'row'],
      overscan: 6,
    }
  }),
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
/** So many rows out of sight are asked for with those in it: when one goes, the next is here. */
const AHEAD = 20
const rowsIn = (from: number, to: number) => idsIn(items.value.slice(Math.max(0, from), to))
watch(
  [slots, () => tasks.turn, items],
  () => {
    const [first = 0, last = -1] = [slots.value[0]?.index, slots.value.at(-1)?.index]
    const ids = rowsIn(first, last + 1)
    const all = ids.every((id) => tasks.rows.has(id))
    tasks.need(all ? ids : rowsIn(first - AHEAD, last + 1 + AHEAD))
  },
  { immediate: true },
)
watch([items, stacked], () => virtual.value.measure())
// Put in another order, a list begins at its beginning.
watch(
  () => JSON.stringify([props.def.group, props.def.sort, props.def.filter]),
  () => scroller.value?.scrollTo({ top: 0 }),
)
const wide = computed(() =>
  stacked.value ? 0 : props.def.columns.reduce((sum, c) => sum + c.width, 0) + 30 + 240,
)
/** Lines that wrap say how high they are. */
const measure = (el: unknown) => {
  if (stacked.value && el instanceof HTMLElement) virtual.value.measureElement(el)
}

const deeds = useTaskDeeds(
  () => props.known,
  () => idsIn(items.value),
)
/** What a task begins with that is noted in a group. */
const begins = (group: OutlineGroup) =>
  beginsInGroup(props.known, props.def.scope, headed.value ? props.def.group : null, group.key)

function lineAt({ y }: Point): number | null {
  const at = y - (body.value?.getBoundingClientRect().top ?? 0)
  return slots.value.find(({ start, size }) => at >= start && at < start + size)?.index ?? null
}
const { over, landing, shift } = useRowMoves(() => props, items, {
  lineAt,
  moved: () => emit('reload'),
})
function carried(item: Item): Carried | false {
  const task = item.kind === 'row' ? tasks.rows.get(item.id) : undefined
  if (!mayChange.value || !task) return false
  return { kind: 'task', id: task.id, name: task.title, out: String(item.group.key) }
}
const { cursor, keydown } = useGridKeys(() => props.def, items, {
  show: (index) => virtual.value.scrollToIndex(index),
  lineOf: (index) => scroller.value?.querySelector<HTMLElement>(`[data-index="${index}"]`),
  deeds,
  fold: foldItem,
  shift: async (id, by) => mayChange.value && shift(id, by),
})
/** Notes that the focus came to a head or a line to add: listened for once, not by each of them. */
function came({ target }: FocusEvent): void {
  const line = (target as HTMLElement).closest<HTMLElement>('[data-index]')
  const row = Number(line?.dataset['index'] ?? -1)
  const kind = items.value[row]?.kind
  if (kind === 'head' || kind === 'add') cursor.value = { row, at: cursor.value.at }
}
/** The one line that Tab comes to: where the keys were last, or the first task in sight. */
const stop = computed((before?: number): number => {
  const { row } = cursor.value
  const isHere = (at: number) => slots.value.some(({ index }) => index === at)
  const isTask = (at: number) => items.value[at]?.kind === 'row'
  if (row > 0 && isHere(row)) return row
  // It stays while it is in sight: scrolling draws no row anew for it.
  if (before !== undefined && isTask(before) && isHere(before)) return before
  const first = slots.value.find(({ index }) => isTask(index)) ?? slots.value[0]
  return first?.index ?? -1
})
/** Lines that lie under heads or tasks make a tree. */
const tree = computed(() => headed.value || props.def.tree)
const levelOf = (item: Item) =>
  tree.value ? 1 + (item.kind === 'row' ? Number(headed.value) + item.depth : 0) : undefined
const { copy, paste } = useGridClipboard(() => props, items, {
  cursor,
  pasted: () => emit('reload'),
})
</script>

<template>
  <div
    ref="scroller"
    class="scroller"
    data-work
    :class="{ cells, marking: selection.count > 0 }"
    v-land="mayChange && landing"
    :role="tree ? 'treegrid' : 'grid'"
    :aria-label="cells ? 'Table of tasks' : 'List of tasks'"
    :aria-rowcount="items.length + 1"
    aria-multiselectable="true"
    @keydown="keydown"
    @focusin="came"
    @copy="copy"
    @paste="paste"
  >
    <GridHeads
      v-if="!stacked"
      :def="def"
      :known="known"
      :width="wide"
      @change="emit('change', $event)"
    />
    <div
      ref="body"
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
          :ref="measure"
          :style="{
            transform: `translateY(${slot.start}px)`,
            ...(!stacked && { height: `${slot.size}px` }),
          }"
          v-carry="carried(items[slot.index]!)"
        >
          <template v-for="item in [items[slot.index]!]" :key="item.kind">
            <GroupHead
              v-if="item.kind === 'head'"
              :group="item.group"
              :known="known"
              :width="Math.min(shownWidth, 620)"
              :folded="folded.groups.has(item.key)"
              :stop="stop === slot.index"
              :aria-rowindex="slot.index + 2"
              :aria-level="levelOf(item)"
              :aria-expanded="!folded.groups.has(item.key)"
              @fold="foldItem(item)"
            />
            <template v-else-if="item.kind === 'row'">
              <GridRow
                v-if="tasks.rows.get(item.id)"
                :task="tasks.rows.get(item.id)!"
                :columns="def.columns"
                :known="known"
                :depth="item.depth"
                :kids="item.kids"
                :folded="folded.rows.has(item.id)"
                :marked="selection.has(item.id)"
                :colour="def.colour"
                :cells="cells"
                :stacked="stacked"
                :active="stop === slot.index ? cursor.at : null"
                :aria-rowindex="slot.index + 2"
                :aria-level="levelOf(item)"
                :aria-selected="selection.has(item.id)"
                :aria-expanded="item.kids ? !folded.rows.has(item.id) : undefined"
                @open="emit('open', item.id)"
                @fold="foldItem(item)"
                @mark="deeds.mark(item.id, $event)"
                @tick="deeds.tick(item.id)"
                @cell="(field, target) => deeds.set(item.id, field, target)"
                @focus-cell="(at) => (cursor = { row: slot.index, at })"
              />
              <div v-else role="row" class="ghost"><span role="gridcell">…</span></div>
            </template>
            <div
              v-else
              role="row"
              class="addrow"
              :aria-rowindex="slot.index + 2"
              :aria-level="levelOf(item)"
            >
              <span role="gridcell">
                <QuickAdd
                  :label="headed ? `Add a task to ${item.group.name}` : 'Add a task'"
                  :placeholder="headed ? `Add to ${item.group.name}` : 'Add a task'"
                  :tabindex="stop === slot.index ? 0 : -1"
                  :begins="() => begins(item.group)"
                  @made="emit('reload')"
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
.addrow .quickadd {
  width: 340px;
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
}
</style>
