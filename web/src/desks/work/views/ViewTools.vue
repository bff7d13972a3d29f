<script setup lang="ts">
import { computed, ref } from 'vue'
import { VIEW_KINDS_LIST } from './kinds.ts'
import type { Fault } from '#core/conditions/condition.ts'
import type { SavedView, ViewDefinition, ViewKind } from '#contract/query.ts'
import { fieldOf, fieldsIn, groupsIn, takesDrops } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'
import ConditionEdit from '#web/fields/ConditionEdit.vue'
import SaveView from './SaveView.vue'
import { boardField, laneField } from './definition.ts'

/**
 * How the work is looked at: which view, what is asked, in what order, in what groups; and keeping
 * it.
 */
const props = defineProps<{
  def: ViewDefinition
  known: Known
  changed: boolean
  saved: SavedView | null
  faults: readonly Fault[]
  total: number
}>()
const emit = defineEmits<{
  change: [part: Partial<ViewDefinition>]
  show: [kind: ViewKind]
  back: []
}>()
const filtering = ref(false)
const asked = computed(() => {
  const count = (of: ViewDefinition['filter']['of']): number =>
    of.reduce((n, each) => n + ('match' in each ? count(each.of) : 1), 0)
  return count(props.def.filter.of)
})
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
const sort = computed(() => props.def.sort[0])
const gridlike = computed(() => props.def.kind === 'list' || props.def.kind === 'table')
</script>

<template>
  <div class="tools">
    <div class="kinds" role="group" aria-label="View">
      <button
        v-for="k in VIEW_KINDS_LIST"
        :key="k.value"
        :aria-pressed="def.kind === k.value"
        :class="{ on: def.kind === k.value }"
        @click="emit('show', k.value)"
      >
        {{ k.name }}
      </button>
    </div>
    <button
      class="btn"
      :aria-expanded="filtering"
      :class="{ lit: asked }"
      @click="filtering = !filtering"
    >
      Filter
      <b v-if="asked">{{ asked }}</b>
    </button>
    <label v-if="def.kind !== 'calendar'" class="pick">
      <span>
        {{ def.kind === 'board' ? 'Columns' : def.kind === 'timeline' ? 'Lanes' : 'Groups' }}
      </span>
      <select
        class="inp"
        :value="group"
        @change="emit('change', { group: ($event.target as HTMLSelectElement).value || null })"
      >
        <option v-if="gridlike" value="">none</option>
        <option v-for="f in groups" :key="f.name" :value="f.name">{{ f.label }}</option>
      </select>
    </label>
    <label v-if="def.kind !== 'calendar'" class="pick">
      <span>Order</span>
      <select
        class="inp"
        :value="sort?.field ?? ''"
        @change="
          emit('change', {
            sort: ($event.target as HTMLSelectElement).value
              ? [{ field: ($event.target as HTMLSelectElement).value, down: false }]
              : [],
          })
        "
      >
        <option value="">{{ def.scope.of === 'project' ? 'by hand' : 'by due date' }}</option>
        <option v-for="f in fields.filter((x) => x.sorts)" :key="f.name" :value="f.name">
          {{ f.label }}
        </option>
      </select>
    </label>
    <button
      v-if="sort && def.kind !== 'calendar'"
      class="btn"
      :aria-label="sort.down ? 'Falling; turn round' : 'Rising; turn round'"
      @click="emit('change', { sort: [{ ...sort, down: !sort.down }] })"
    >
      {{ sort.down ? '↓' : '↑' }}
    </button>
    <label class="pick">
      <span>Colour</span>
      <select
        class="inp"
        :value="def.colour ?? ''"
        @change="emit('change', { colour: ($event.target as HTMLSelectElement).value || null })"
      >
        <option value="">none</option>
        <option
          v-for="f in fields.filter((x) => x.colour || (x.name !== 'kind' && takesDrops(x.name)))"
          :key="f.name"
          :value="f.name"
        >
          {{ f.label }}
        </option>
      </select>
    </label>
    <v-menu v-if="gridlike" :close-on-content-click="false">
      <template #activator="{ props: menu }">
        <button v-bind="menu" class="btn">Columns</button>
      </template>
      <div class="menu cols">
        <div v-for="f in columns" :key="f.name" class="colrow">
          <label>
            <input type="checkbox" :checked="shown.includes(f.name)" @change="column(f.name)" />
            {{ f.label }}
          </label>
          <span v-if="shown.includes(f.name)">
            <button :aria-label="`Move ${f.label} to the left`" @click="nudge(f.name, -1)">
              ←
            </button>
            <button :aria-label="`Move ${f.label} to the right`" @click="nudge(f.name, 1)">
              →
            </button>
          </span>
        </div>
        <label class="colrow">
          <span>
            <input
              type="checkbox"
              :checked="def.tree"
              @change="emit('change', { tree: !def.tree })"
            />
            Subtasks under their parents
          </span>
        </label>
      </div>
    </v-menu>
    <slot />
    <span class="gap" />
    <span class="quiet small" role="status">
      {{ total === 1 ? '1 task' : `${total.toLocaleString('en-GB')} tasks` }}
    </span>
    <SaveView :def="def" :changed="changed" :saved="saved" @back="emit('back')" />
  </div>
  <div v-if="filtering || faults.length" class="filter">
    <ConditionEdit
      :model-value="def.filter"
      :known="known"
      :faults="faults"
      @update:model-value="emit('change', { filter: $event })"
    />
    <p
      v-for="f in faults.filter((x) => !/^\d/.test(x.place))"
      :key="f.place"
      class="wrong"
      role="alert"
    >
      {{
        f.place.startsWith('group')
          ? 'Grouping'
          : f.place.startsWith('sort')
            ? 'Ordering'
            : 'A total'
      }}: {{ f.detail }}
      <button
        class="btn flat"
        @click="
          emit(
            'change',
            f.place.startsWith('group')
              ? { group: null }
              : { sort: [], columns: def.columns.filter((c) => fieldOf(known, c.field)) },
          )
        "
      >
        Take it out
      </button>
    </p>
  </div>
</template>

<style scoped>
.tools {
  display: flex;
  gap: 7px;
  align-items: center;
  flex-wrap: wrap;
  padding: 8px 0;
}
.gap {
  flex: 1;
}
.kinds {
  display: inline-flex;
  border: 1px solid var(--rule-strong);
  border-radius: 4px;
  overflow: hidden;
  background: var(--sheet);
}
.kinds button {
  padding: 4px 10px;
  font-size: 12.5px;
  font-weight: 550;
  min-height: 26px;
  border-right: 1px solid var(--rule);
}
.kinds button:last-child {
  border-right: 0;
}
.kinds .on {
  background: var(--fern);
  color: var(--fern-ink);
}
.pick {
  display: inline-flex;
  align-items: center;
  gap: 4px;
  font-size: 12px;
  color: var(--ink-3);
}
.pick .inp {
  width: auto;
  max-width: 112px;
  min-height: 28px;
  padding: 2px 4px;
  font-size: 12.5px;
}
.lit {
  border-color: var(--fern);
  color: var(--fern);
}
.filter {
  border-block: 1px solid var(--rule);
  padding: 8px 0;
  margin-bottom: 4px;
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
.colrow button {
  display: inline-block;
  width: 24px;
  text-align: center;
}
@media (max-width: 700px) {
  .pick span {
    display: none;
  }
  .kinds button {
    padding: 4px 7px;
  }
}
</style>
