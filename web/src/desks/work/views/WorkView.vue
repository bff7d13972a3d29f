<script setup lang="ts">
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Milestone, ProjectSheet } from '#contract/projects.ts'
import type { Group } from '#core/conditions/condition.ts'
import type { Outline, SavedView, Scope, ViewDefinition } from '#contract/query.ts'
import { plural } from '#web/parts/say.ts'
import LoadState from '#web/parts/LoadState.vue'
import MarginPane from '#web/parts/MarginPane.vue'
import { useSelection } from '#web/state/selection.ts'
import { useSession } from '#web/state/session.ts'
import BulkBar from './BulkBar.vue'
import { standard, useDefinition, type Within } from './definition.ts'
import FieldMenu from '#web/fields/FieldMenu.vue'
import { useKnown } from '#web/fields/useKnown.ts'
import GridView from './GridView.vue'
import TakeOut from './TakeOut.vue'
import { provideMayChange } from './may-change.ts'
import { useOutline } from './useOutline.ts'
import ViewTools from './ViewTools.vue'
import { later } from '#web/state/later.ts'

// A list opens sooner without what only other views need.
const TaskSheet = later(() => import('#web/parts/task/TaskSheet.vue'))
const BoardView = later(() => import('./BoardView.vue'))
const CalendarView = later(() => import('./CalendarView.vue'))
const TimelineView = later(() => import('./TimelineView.vue'))

/**
 * Any work, looked at in any way: list, board, calendar, timeline or table over one scope, with a
 * task open beside it.
 */
const props = withDefaults(
  defineProps<{
    scope: Scope
    saved?: SavedView | null
    within?: Within | null
    /** The project whose work it is. */
    home?: ProjectSheet | null
    milestones?: readonly Milestone[]
  }>(),
  { saved: null, within: null, home: null, milestones: () => [] },
)
const emit = defineEmits<{ split: [ids: number[]] }>()
const selection = useSelection()
const session = useSession()
provideMayChange(() => props.home?.may.edit ?? session.me?.may.member === true)
const route = useRoute()
const router = useRouter()
const { def, changed, change, show, putBack } = useDefinition(
  (): ViewDefinition =>
    props.saved?.definition ?? props.home?.view ?? standard(props.scope, props.within),
  () =>
    props.saved
      ? `saved.${props.saved.id}.${props.saved.version}`
      : props.within
        ? `${props.within.field}.${props.within.id}`
        : `${props.scope.of}.${'id' in props.scope ? props.scope.id : ''}`,
)
/** Phases of all running projects are asked for only where a column or a test speaks of them. */
const speaksOfPhases = (filter: Group): boolean =>
  filter.of.some((each) => ('match' in each ? speaksOfPhases(each) : each.field === 'phase'))
const known = useKnown(
  () => def.value.scope,
  () =>
    speaksOfPhases(def.value.filter) || def.value.columns.some((c) => c.field === 'phase')
      ? def.value.scope.of === 'project'
        ? undefined
        : null
      : undefined,
)
const dated = computed(() => def.value.kind === 'calendar' || def.value.kind === 'timeline')
/** Dated views ask for their own days and tell what they found; for the others it is asked here. */
const { data, error, reload, touched } = useOutline(
  computed(() => (dated.value ? null : def.value)),
  known,
)
const ofDays = ref<Outline | null>(null)
const found = computed(() => (dated.value ? ofDays.value : data.value))
const all = computed(() => [...new Set((found.value?.groups ?? []).flatMap((g) => g.ids))])
const range = ref<{ first: string; last: string } | undefined>()
watch(
  () => def.value.kind,
  () => (ofDays.value = null),
)

const opened = computed(() => Number(route.query['task']) || null)
const open = (id: number | null) =>
  router.replace({ query: { ...route.query, task: id ? String(id) : undefined } })
// What is not shown any more is not marked any more: nothing unseen is changed.
watch(all, (now) => {
  if (!selection.count) return
  const here = new Set(now)
  const kept = [...selection.marked].filter((id) => here.has(id))
  if (kept.length < selection.count) selection.set(kept)
})
onBeforeUnmount(() => selection.clear())
const project = computed(() => (def.value.scope.of === 'project' ? def.value.scope.id : null))
</script>

<template>
  <div class="wv" :class="{ aside: opened }">
    <div class="main">
      <ViewTools
        :def="def"
        :known="known"
        :changed="changed"
        :saved="saved"
        :home="home"
        :faults="found?.faults ?? []"
        :total="found?.total ?? 0"
        @change="change"
        @show="show"
        @back="putBack"
      >
        <TakeOut :def="def" :known="known" :range="dated ? range : undefined" />
      </ViewTools>
      <div class="area">
        <CalendarView
          v-if="def.kind === 'calendar'"
          :def="def"
          :known="known"
          @change="change"
          @open="open"
          @found="ofDays = $event"
          @range="range = $event"
        />
        <TimelineView
          v-else-if="def.kind === 'timeline'"
          :def="def"
          :known="known"
          :milestones="milestones"
          @change="change"
          @open="open"
          @found="ofDays = $event"
          @range="range = $event"
        />
        <LoadState v-else-if="!data" :error="error" @retry="reload" />
        <template v-else>
          <p v-if="data.cut" class="small ochre">
            Only the first 20,000 tasks are shown; narrow the filter to see the others.
          </p>
          <BoardView
            v-if="def.kind === 'board'"
            :def="def"
            :outline="data"
            :known="known"
            @open="open"
            @reload="reload"
          />
          <template v-else>
            <div v-if="!data.total && !data.groups.length" class="empty">
              <h3>Nothing matches</h3>
              <p>
                {{
                  def.filter.of.length
                    ? 'No task here meets the filter.'
                    : 'Tasks of this scope stand here.'
                }}
              </p>
              <div v-if="def.filter.of.length" class="btns">
                <v-btn @click="change({ filter: { match: 'all', of: [] } })">
                  Remove the filter
                </v-btn>
              </div>
            </div>
            <GridView
              v-else
              :def="def"
              :outline="data"
              :known="known"
              @change="change"
              @open="open"
              @reload="reload"
            />
          </template>
        </template>
      </div>
      <!-- It stands here before anything is marked: so how many are is said. -->
      <p class="sr" role="status">
        {{ selection.count ? `${plural(selection.count, 'task')} marked` : '' }}
      </p>
      <BulkBar
        :known="known"
        :all="all"
        :project="project"
        :def="def"
        :outline="found"
        @reload="reload"
        @split="emit('split', $event)"
      />
    </div>
    <MarginPane v-if="opened" class="side" label="Task" :opened="opened" @close="open(null)">
      <TaskSheet :id="opened" :key="opened" @close="open(null)" @changed="touched" />
    </MarginPane>
    <FieldMenu :scope="def.scope" />
  </div>
</template>

<style scoped>
.wv {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  height: 100%;
  min-height: 0;
}
.wv.aside {
  grid-template-columns: minmax(0, 1fr) 372px;
}
.main {
  display: flex;
  flex-direction: column;
  min-height: 0;
  min-width: 0;
  padding: 0 20px;
}
.area {
  flex: 1;
  min-height: 0;
  overflow: hidden;
}
.side {
  --pane: 100%;
  min-height: 0;
}
@media (max-width: 900px) {
  .main {
    padding: 0 12px;
  }
  .wv.aside {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media print {
  .area {
    overflow: visible;
  }
}
</style>
