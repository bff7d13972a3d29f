<script setup lang="ts">
import { mdiChevronDown } from '@mdi/js'
import { useElementSize } from '@vueuse/core'
import { computed, nextTick, ref, useTemplateRef } from 'vue'
import { VIEW_KINDS_LIST } from './kinds.ts'
import type { Fault } from '#core/conditions/condition.ts'
import type { ProjectSheet } from '#contract/projects.ts'
import type { SavedView, ViewDefinition, ViewKind } from '#contract/query.ts'
import { fieldOf } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'
import ConditionEdit from '#web/fields/ConditionEdit.vue'
import SaveView from './SaveView.vue'
import ViewPicks from './ViewPicks.vue'
import { escapes } from '#web/parts/escape.ts'
import Glyph from '#web/parts/Glyph.vue'
import OneOf from '#web/parts/OneOf.vue'

/**
 * How the work is looked at: which view, what is asked, in what order, in what groups; and keeping
 * it.
 */
const props = defineProps<{
  def: ViewDefinition
  known: Known
  changed: boolean
  saved: SavedView | null
  home: ProjectSheet | null
  faults: readonly Fault[]
  total: number
}>()
const emit = defineEmits<{
  change: [part: Partial<ViewDefinition>]
  show: [kind: ViewKind]
  back: []
}>()
const filtering = ref(false)
const opener = useTemplateRef<{ $el: HTMLElement }>('opener')
/** Opens or closes the filter; the keys go with it. */
async function filter(on: boolean): Promise<void> {
  filtering.value = on
  await nextTick()
  const first = document.querySelector<HTMLElement>('#view-filter input[type="text"]')
  ;(on ? first : opener.value?.$el)?.focus()
}
const asked = computed(() => {
  const count = (of: ViewDefinition['filter']['of']): number =>
    of.reduce((n, each) => n + ('match' in each ? count(each.of) : 1), 0)
  return count(props.def.filter.of)
})
const tools = ref<HTMLElement | null>(null)
const { width } = useElementSize(tools, { width: innerWidth, height: 0 })
/** How wide a row is that holds all of it, in CSS pixels. */
const ALL: Readonly<Record<ViewKind, number>> = {
  ...{ list: 1020, table: 1020, board: 1020 },
  ...{ calendar: 1160, timeline: 1420 },
}
/** With room for all in a row; for the kinds of view alone; for one menu. */
const room = computed(() =>
  width.value >= ALL[props.def.kind] ? 'all' : width.value >= 560 ? 'kinds' : 'none',
)
/** Whether the menu is open that holds what has no room in the row. */
const folded = ref(false)
const kindName = computed(
  () => VIEW_KINDS_LIST.find(({ value }) => value === props.def.kind)?.name ?? '',
)
</script>

<template>
  <div ref="tools" class="tools">
    <OneOf
      v-if="room !== 'none'"
      label="View"
      :model-value="def.kind"
      :options="VIEW_KINDS_LIST"
      @update:model-value="emit('show', $event)"
    />
    <v-menu v-if="room !== 'all'" v-model="folded" :close-on-content-click="false">
      <template #activator="{ props: menu }">
        <v-btn v-bind="menu">
          {{ room === 'none' ? kindName : 'Shown as' }}
          <Glyph :path="mdiChevronDown" :size="16" />
        </v-btn>
      </template>
      <div class="menu stack" role="group" aria-label="How it is shown">
        <OneOf
          v-if="room === 'none'"
          label="View"
          :model-value="def.kind"
          :options="VIEW_KINDS_LIST"
          @update:model-value="(emit('show', $event), (folded = false))"
        />
        <ViewPicks :def="def" :known="known" @change="emit('change', $event)" />
        <slot />
        <SaveView
          v-if="room === 'none'"
          :def="def"
          :changed="changed"
          :saved="saved"
          :home="home"
          @back="emit('back')"
        />
      </div>
    </v-menu>
    <v-btn
      ref="opener"
      :aria-expanded="filtering"
      aria-controls="view-filter"
      :class="{ lit: asked }"
      @click="filter(!filtering)"
    >
      Filter
      <b v-if="asked">{{ asked }}</b>
    </v-btn>
    <template v-if="room === 'all'">
      <ViewPicks :def="def" :known="known" @change="emit('change', $event)" />
      <slot />
    </template>
    <div id="view-own" class="own" />
    <span class="gap" />
    <span class="quiet small count" role="status">
      {{ total === 1 ? '1 task' : `${total.toLocaleString('en-GB')} tasks` }}
    </span>
    <SaveView
      v-if="room !== 'none'"
      :def="def"
      :changed="changed"
      :saved="saved"
      :home="home"
      @back="emit('back')"
    />
  </div>
  <div
    v-if="filtering || faults.length"
    id="view-filter"
    class="filter"
    role="group"
    aria-label="Filter"
    @keydown="escapes($event, () => filtering && filter(false))"
  >
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
      <v-btn
        variant="text"
        @click="
          emit(
            'change',
            f.place.startsWith('group')
              ? { group: null }
              : { sort: [], columns: def.columns.filter((c) => fieldOf(known, c.field)) },
          )
        "
      >
        Remove it
      </v-btn>
    </p>
  </div>
</template>

<style scoped>
.tools {
  display: flex;
  gap: 7px;
  align-items: center;
  flex-wrap: wrap;
  padding: 4px 0;
}
.own {
  display: contents;
}
.gap {
  flex: 1;
}
.count {
  white-space: nowrap;
}
.lit {
  border-color: var(--fern);
  color: var(--fern);
}
.stack {
  display: grid;
  gap: 8px;
  padding: 10px;
  justify-items: start;
}
.stack :deep(.pick) {
  display: grid;
  grid-template-columns: 62px 180px;
}
.stack :deep(.pick .v-input) {
  width: 180px;
}
.filter {
  border-block: 1px solid var(--rule);
  padding: 8px 0;
  margin-bottom: 4px;
}
</style>
