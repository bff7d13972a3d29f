<script setup lang="ts">
import { ref } from 'vue'
import type { ViewDefinition } from '#contract/query.ts'
import { vCarry, vLand, type Landing } from '#web/drag/carry.ts'
import { fieldOf } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'
import { reordered, sized, WIDTHS } from './grid-items.ts'

/** The heads of the columns: pressed to sort, carried to another place, pulled wider. */
const props = defineProps<{ def: ViewDefinition; known: Known; width: number }>()
const emit = defineEmits<{ change: [part: Partial<ViewDefinition>] }>()
const over = ref<string | null>(null)

const labelOf = (field: string) => fieldOf(props.known, field)?.label ?? 'Gone'
const setWidth = (index: number, width: number) =>
  emit('change', { columns: sized(props.def.columns, props.def.columns[index]!.field, width) })
function resize(event: PointerEvent, index: number): void {
  const start = event.clientX
  const from = props.def.columns[index]!.width
  const handle = event.currentTarget as HTMLElement
  handle.setPointerCapture(event.pointerId)
  const move = (e: PointerEvent) => setWidth(index, from + e.clientX - start)
  handle.addEventListener('pointermove', move)
  handle.addEventListener(
    'lostpointercapture',
    () => handle.removeEventListener('pointermove', move),
    { once: true },
  )
}
const nudge = (index: number, by: number) => setWidth(index, props.def.columns[index]!.width + by)

const sortOf = (field: string) => props.def.sort.find((s) => s.field === field)
const sorted = (field: string) => {
  const sort = sortOf(field)
  return sort ? (sort.down ? 'descending' : 'ascending') : 'none'
}
function sortBy(field: string): void {
  if (!fieldOf(props.known, field)?.sorts) return
  const now = sortOf(field)
  emit('change', {
    sort: !now ? [{ field, down: false }] : now.down ? [] : [{ field, down: true }],
  })
}
const landing = (field: string): Landing => ({
  takes: ({ kind, id }) => kind === 'column' && props.def.columns.some((c) => c.field === id),
  over(carried) {
    over.value = carried && carried.id !== field ? field : null
    return carried?.id === field ? 'where it is' : `to the place of ${labelOf(field)}`
  },
  land: ({ id }) =>
    emit('change', { columns: [...reordered(props.def.columns, String(id), field)] }),
})
</script>

<template>
  <div role="row" class="heads" :style="{ minWidth: `${width}px` }">
    <span class="gut" role="columnheader"><span class="sr">Marked</span></span>
    <span class="ttl" role="columnheader" :aria-sort="sorted('title')">
      <v-btn variant="plain" @click="sortBy('title')">
        Task
        <span v-if="sortOf('title')" aria-hidden="true">
          {{ sortOf('title')!.down ? '↓' : '↑' }}
        </span>
      </v-btn>
    </span>
    <span
      v-for="(c, i) in def.columns"
      :key="c.field"
      v-carry="{ kind: 'column', id: c.field, name: labelOf(c.field) }"
      v-land="landing(c.field)"
      class="hd"
      :class="{ over: over === c.field }"
      role="columnheader"
      :style="{ width: `${c.width}px` }"
      :aria-sort="sorted(c.field)"
    >
      <v-btn variant="plain" @click="sortBy(c.field)">
        {{ labelOf(c.field) }}
        <span v-if="sortOf(c.field)" aria-hidden="true">
          {{ sortOf(c.field)!.down ? '↓' : '↑' }}
        </span>
      </v-btn>
      <i
        class="grip"
        data-own-drag
        tabindex="0"
        role="separator"
        aria-orientation="vertical"
        :aria-label="`Width of ${labelOf(c.field)}`"
        :aria-valuenow="c.width"
        :aria-valuemin="WIDTHS.least"
        :aria-valuemax="WIDTHS.most"
        @pointerdown="resize($event, i)"
        @keydown.left.prevent.stop="nudge(i, -12)"
        @keydown.right.prevent.stop="nudge(i, 12)"
      />
    </span>
  </div>
</template>

<style scoped>
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
.hd.over {
  background: var(--fern-wash);
  box-shadow: inset 2px 0 var(--fern);
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
@media print {
  .heads {
    position: static;
  }
}
</style>
