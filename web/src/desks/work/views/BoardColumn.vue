<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual'
import { computed, ref, watch } from 'vue'
import type { OutlineGroup } from '#contract/query.ts'
import { useSession } from '#web/state/session.ts'
import { useTasks } from '#web/state/tasks.ts'
import BoardSlip from './BoardSlip.vue'
import { paletteOf, sayCount } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'

/**
 * One column of a board: its count and effort at the head, slips below; only those in sight exist.
 */
const props = defineProps<{
  group: OutlineGroup
  known: Known
  colour: string | null
  lifted: number | null
  field: string
}>()
const emit = defineEmits<{
  lift: [id: number]
  land: [after: number | null]
  rest: []
  open: [id: number]
  add: [title: string]
  step: [id: number, by: number]
}>()
const tasks = useTasks()
const session = useSession()
const title = ref('')
const over = ref(false)
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

/** The slip above the place where something was dropped. */
function landing(event: DragEvent): number | null {
  const y =
    event.clientY -
    (scroller.value?.getBoundingClientRect().top ?? 0) +
    (scroller.value?.scrollTop ?? 0)
  const above = slots.value.filter((s) => s.start + s.size / 2 < y).at(-1)
  return above ? (props.group.ids[above.index] ?? null) : null
}
function drop(event: DragEvent): void {
  over.value = false
  emit('land', landing(event))
}
function lift(event: DragEvent, id: number): void {
  event.dataTransfer?.setData('text/x-fernwick-task', String(id))
  emit('lift', id)
}
function add(): void {
  if (title.value.trim()) emit('add', title.value.trim())
  title.value = ''
}
</script>

<template>
  <section
    class="col"
    :class="[{ over }, group.colour ? `c-${paletteOf(group.colour)}` : '']"
    :aria-label="group.name"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="drop"
  >
    <h2>
      <span class="nm">{{ group.name }}</span>
      <span class="quiet">{{ sayCount(group.ids.length, group.minutes) }}</span>
    </h2>
    <div ref="scroller" class="slips">
      <ul :style="{ height: `${virtual.getTotalSize()}px` }">
        <li
          v-for="slot in slots"
          :key="String(slot.key)"
          :ref="measure"
          :data-index="slot.index"
          :style="{ transform: `translateY(${slot.start}px)` }"
          :draggable="session.me?.may.member"
          @dragstart="lift($event, group.ids[slot.index]!)"
          @dragend="emit('rest')"
          @keydown.alt.right.prevent="emit('step', group.ids[slot.index]!, 1)"
          @keydown.alt.left.prevent="emit('step', group.ids[slot.index]!, -1)"
        >
          <BoardSlip
            v-if="tasks.rows.get(group.ids[slot.index]!)"
            :task="tasks.rows.get(group.ids[slot.index]!)!"
            :known="known"
            :colour="colour"
            :field="field"
            :class="{ lifted: lifted === group.ids[slot.index] }"
            @open="emit('open', group.ids[slot.index]!)"
          />
          <div v-else class="ghost">…</div>
        </li>
      </ul>
    </div>
    <form v-if="session.me?.may.member" @submit.prevent="add">
      <input
        v-model="title"
        class="inp"
        maxlength="200"
        :placeholder="`Add to ${group.name}`"
        :aria-label="`Add a task to ${group.name}`"
      />
    </form>
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
h2 {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  padding: 8px 10px 6px;
  font: 600 13px var(--sans);
  border-bottom: 3px solid var(--own, var(--rule-strong));
  margin: 0;
}
.nm {
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
form .inp {
  border-color: transparent;
  background: none;
}
form .inp:hover,
form .inp:focus {
  border-color: var(--rule-strong);
  background: var(--sheet);
}
</style>
