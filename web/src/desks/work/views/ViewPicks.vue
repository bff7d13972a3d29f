<script setup lang="ts">
import { computed } from 'vue'
import type { ViewDefinition } from '#contract/query.ts'
import { fieldOf, fieldsIn, groupsIn, takesDrops } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'
import { sized } from './grid-items.ts'
import { boardField, laneField } from './definition.ts'

/** In what groups, order and colours work is shown, and which columns it has. */
const props = defineProps<{ def: ViewDefinition; known: Known }>()
const emit = defineEmits<{ change: [part: Partial<ViewDefinition>] }>()
const fields = computed(() => fieldsIn(props.known))
const groups = computed(() =>
  groupsIn(props.known).filter(
    (f) => takesDrops(f.name) || (props.def.kind !== 'board' && props.def.kind !== 'timeline'),
  ),
)
const group = computed(() =>
  props.def.kind === 'board'
    ? boardField(props.def)
    : props.def.kind === 'timeline'
      ? laneField(props.def)
      : (props.def.group ?? ''),
)
const shown = computed(() => props.def.columns.map((c) => c.field))
/** Columns to choose from: those shown, in their order, then the others. */
const columns = computed(() => {
  const all = fields.value.filter((f) => f.column)
  return [
    ...shown.value.flatMap((field) => all.find((f) => f.name === field) ?? []),
    ...all.filter((f) => !shown.value.includes(f.name)),
  ]
})
/** Types whose values are names, which need room. */
const WIDE: ReadonlySet<string> = new Set(['item', 'tags', 'text'])
function column(field: string): void {
  emit('change', {
    columns: shown.value.includes(field)
      ? props.def.columns.filter((c) => c.field !== field)
      : [
          ...props.def.columns,
          { field, width: WIDE.has(fieldOf(props.known, field)?.type ?? 'text') ? 170 : 110 },
        ],
  })
}
function nudge(field: string, by: number): void {
  const next = [...props.def.columns]
  const at = next.findIndex((c) => c.field === field)
  const [moved] = next.splice(at, 1)
  next.splice(Math.max(0, at + by), 0, moved!)
  emit('change', { columns: next })
}
function widen(field: string, by: number): void {
  const now = props.def.columns.find((c) => c.field === field)
  if (now) emit('change', { columns: sized(props.def.columns, field, now.width + by) })
}
const grouping = computed(
  () => ({ board: 'Columns', timeline: 'Lanes' })[props.def.kind as string] ?? 'Groups',
)
const sort = computed(() => props.def.sort[0])
const gridlike = computed(() => props.def.kind === 'list' || props.def.kind === 'table')
</script>

<template>
  <div v-if="def.kind !== 'calendar'" class="pick">
    <span>{{ grouping }}</span>
    <v-autocomplete
      :aria-label="grouping"
      :model-value="group"
      @update:model-value="emit('change', { group: $event || null })"
      :items="[
        ...(gridlike ? [{ value: '', title: 'none' }] : []),
        ...groups.map((f) => ({ value: f.name, title: f.label })),
      ]"
    />
  </div>
  <div v-if="def.kind !== 'calendar'" class="pick">
    <span>Order</span>
    <v-autocomplete
      aria-label="Order"
      :model-value="sort?.field ?? ''"
      @update:model-value="
        emit('change', {
          sort: $event ? [{ field: $event, down: false }] : [],
        })
      "
      :items="[
        { value: '', title: def.scope.of === 'project' ? 'by hand' : 'by due date' },
        ...fields.filter((x) => x.sorts).map((f) => ({ value: f.name, title: f.label })),
      ]"
    />
  </div>
  <v-btn
    v-if="sort && def.kind !== 'calendar'"
    :aria-label="sort.down ? 'Falling; turn round' : 'Rising; turn round'"
    @click="emit('change', { sort: [{ ...sort, down: !sort.down }] })"
  >
    {{ sort.down ? '↓' : '↑' }}
  </v-btn>
  <div class="pick">
    <span>Colour</span>
    <v-autocomplete
      aria-label="Colour"
      :model-value="def.colour ?? ''"
      @update:model-value="emit('change', { colour: $event || null })"
      :items="[
        { value: '', title: 'none' },
        ...fields
          .filter((x) => x.colour || (x.name !== 'kind' && takesDrops(x.name)))
          .map((f) => ({ value: f.name, title: f.label })),
      ]"
    />
  </div>
  <v-menu v-if="gridlike" :close-on-content-click="false">
    <template #activator="{ props: menu }">
      <v-btn v-bind="menu">Columns</v-btn>
    </template>
    <div class="menu cols">
      <div v-for="f in columns" :key="f.name" class="colrow">
        <v-checkbox
          :model-value="shown.includes(f.name)"
          :label="f.label"
          @update:model-value="column(f.name)"
        />
        <span v-if="shown.includes(f.name)">
          <v-btn icon :aria-label="`Move ${f.label} to the left`" @click="nudge(f.name, -1)">
            ←
          </v-btn>
          <v-btn icon :aria-label="`Move ${f.label} to the right`" @click="nudge(f.name, 1)">
            →
          </v-btn>
          <v-btn icon :aria-label="`${f.label} narrower`" @click="widen(f.name, -24)">−</v-btn>
          <v-btn icon :aria-label="`${f.label} wider`" @click="widen(f.name, 24)">+</v-btn>
        </span>
      </div>
      <v-checkbox
        class="colrow"
        :model-value="def.tree"
        label="Subtasks under their parents"
        @update:model-value="emit('change', { tree: !def.tree })"
      />
    </div>
  </v-menu>
</template>

<style scoped>
.pick {
  display: inline-flex;
  align-items: center;
  gap: 4px;
  font-size: 12px;
  color: var(--ink-3);
}
.pick .v-input {
  width: 124px;
  font-size: 12.5px;
}
.cols {
  min-width: 230px;
  max-height: 420px;
}
.colrow {
  display: flex;
  justify-content: space-between;
  padding: 3px 8px;
  gap: 8px;
  align-items: center;
}
</style>
