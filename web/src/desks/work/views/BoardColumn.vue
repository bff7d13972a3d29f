<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual'
import { computed, ref, watch } from 'vue'
import type { OutlineGroup } from '#contract/query.ts'
import type { NewTask } from '#contract/tasks.ts'
import { carrying, vCarry, vLand, type Carried, type Landing } from '#web/drag/carry.ts'
import type { Point } from '#web/drag/way.ts'
import { useTasks } from '#web/state/tasks.ts'
import { useMayChange } from './may-change.ts'
import BoardSlip from './BoardSlip.vue'
import { paletteOf, sayCount } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'
import type { Spot } from './useBoardKeys.ts'
import LineMenu, { type MenuLine } from '#web/parts/LineMenu.vue'
import QuickAdd from '#web/parts/QuickAdd.vue'

/**
 * One column of a board: its count and effort at the head, slips below; only those in sight exist.
 */
const props = defineProps<{
  group: OutlineGroup
  known: Known
  colour: string | null
  field: string
  /** Whether a task is of this board. */
  takes: (id: number) => boolean
  /** Whether its slips stand in an order by hand. */
  ordered: boolean
  /** What can be done with the column itself. */
  more: readonly MenuLine[]
  /** What of it Tab comes to. */
  stop: Spot | null
  /** What a task begins with that is noted here. */
  begins: () => Partial<NewTask>
}>()
const emit = defineEmits<{
  /** A task put down under another, and what column it is out of. */
  land: [id: number, after: number | null, out: string | undefined]
  open: [id: number]
  made: []
}>()
const tasks = useTasks()
const mayChange = useMayChange()
const over = ref(false)
const column = ref<HTMLElement | null>(null)
const scroller = ref<HTMLElement | null>(null)
const virtual = useVirtualizer(
  computed(() => ({
    count: props.group.ids.length,
    getScrollElement: () => scroller.value,
    estimateSize: () => 84,
    overscan: 6,
    getItemKey: (i: number) => props.group.ids[i]!,
  })),
)
const slots = computed(() => virtual.value.getVirtualItems())
watch(
  [slots, () => tasks.turn, () => props.group],
  () => tasks.need(slots.value.flatMap((s) => props.group.ids[s.index] ?? [])),
  { immediate: true },
)
const measure = (el: unknown) => virtual.value.measureElement(el as HTMLElement)

/** The slip above the place where something is put down. */
function above({ y }: Point): number | null {
  const { top = 0 } = scroller.value?.getBoundingClientRect() ?? {}
  const at = y - top + (scroller.value?.scrollTop ?? 0)
  const slot = slots.value.filter((s) => s.start + s.size / 2 < at).at(-1)
  return slot ? (props.group.ids[slot.index] ?? null) : null
}
const landing: Landing = {
  takes: ({ kind, id }) => kind === 'task' && props.takes(Number(id)),
  over(carried, at) {
    over.value = carried !== null
    const id = above(at)
    const title = id !== null && props.ordered && tasks.rows.get(id)?.title
    return title ? `to ${props.group.name}, under “${title}”` : `to ${props.group.name}`
  },
  land: ({ id, out }, at) => emit('land', Number(id), above(at), out),
  grain: () => ({ y: 42 }),
}
/** Brings a slip, or the line that adds one, into sight; answers what takes the focus there. */
function find(on: Spot): HTMLElement | null {
  if (on !== 'add') virtual.value.scrollToIndex(props.group.ids.indexOf(on))
  const of = on === 'add' ? '.quickadd input' : `[data-opens="${on}"]`
  return column.value?.querySelector<HTMLElement>(of) ?? null
}
defineExpose({ find, keyOf: () => props.group.key })
function carried(id: number): Carried | false {
  const task = tasks.rows.get(id)
  if (!mayChange.value || !task) return false
  return { kind: 'task', id, name: task.title, out: String(props.group.key) }
}
</script>

<template>
  <section
    ref="column"
    class="col"
    :class="[{ over }, group.colour ? `c-${paletteOf(group.colour)}` : '']"
    :aria-label="group.name"
    v-land="landing"
  >
    <div class="head">
      <h2>
        <span class="nm">{{ group.name }}</span>
        <span class="quiet">{{ sayCount(group.ids.length, group.minutes) }}</span>
      </h2>
      <LineMenu v-if="more.length" :label="`More for the column ${group.name}`" :lines="more">
        <template #default="{ props: opens }">
          <v-btn
            v-bind="opens"
            variant="plain"
            class="colmore"
            :aria-label="`More for the column ${group.name}`"
          >
            ⋯
          </v-btn>
        </template>
      </LineMenu>
    </div>
    <div ref="scroller" class="slips">
      <ul :style="{ height: `${virtual.getTotalSize()}px` }">
        <li
          v-for="slot in slots"
          :key="String(slot.key)"
          :ref="measure"
          :data-index="slot.index"
          :style="{ transform: `translateY(${slot.start}px)` }"
          v-carry="carried(group.ids[slot.index]!)"
        >
          <BoardSlip
            v-if="tasks.rows.get(group.ids[slot.index]!)"
            :task="tasks.rows.get(group.ids[slot.index]!)!"
            :known="known"
            :colour="colour"
            :field="field"
            :stop="stop === group.ids[slot.index]"
            :class="{ lifted: carrying?.what.id === group.ids[slot.index] }"
            @open="emit('open', group.ids[slot.index]!)"
          />
          <div v-else class="ghost">…</div>
        </li>
      </ul>
    </div>
    <QuickAdd
      v-if="mayChange"
      :label="`Add a task to ${group.name}`"
      :placeholder="`Add to ${group.name}`"
      :tabindex="stop === 'add' ? 0 : -1"
      :begins="begins"
      @made="emit('made')"
    />
  </section>
</template>

<style scoped>
.col {
  flex: 1 0 200px;
  max-width: 330px;
  display: flex;
  flex-direction: column;
  border-right: 1px solid var(--rule-strong);
  min-height: 0;
}
.col.over {
  background: color-mix(in srgb, var(--fern) 8%, transparent);
}
.head,
h2 {
  display: flex;
  justify-content: space-between;
  gap: 8px;
}
.head {
  padding: 8px 10px 6px;
  border-bottom: 3px solid var(--own, var(--rule-strong));
}
h2 {
  flex: 1;
  min-width: 0;
  font: 600 13px var(--sans);
  margin: 0;
}
.colmore {
  min-width: 24px;
  min-height: 24px;
  text-align: center;
  color: var(--ink-2);
}
.nm {
  flex: 1;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
h2 .quiet {
  font-weight: 500;
  font-size: 12px;
  white-space: nowrap;
}
.slips {
  flex: 1;
  overflow-y: auto;
  min-height: 0;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  position: relative;
}
li {
  position: absolute;
  top: 0;
  left: 0;
  right: 0;
}
.ghost {
  height: 84px;
  border-bottom: 1px solid var(--rule);
  padding: 10px;
  color: var(--ink-3);
}
.lifted {
  opacity: 0.45;
}
form {
  padding: 5px 8px;
  border-top: 1px solid var(--rule);
}
</style>
