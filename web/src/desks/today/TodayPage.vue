<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { TaskRow } from '#contract/tasks.ts'
import { TODAY_GROUPS, TODAY_NAMES } from '#core/query/due-groups.ts'
import type { LiveChange } from '#contract/live.ts'
import type { TodaySheet } from '#contract/desks.ts'
import { plural, sayDate, sayLongDate, sayMinutes, sayTime } from '#web/parts/say.ts'
import TaskLine from '#web/parts/TaskLine.vue'
import MarginPane from '#web/parts/MarginPane.vue'
import LoadState from '#web/parts/LoadState.vue'
import { useSession } from '#web/state/session.ts'
import { useResource } from '#web/state/resource.ts'
import TodayMargin from './TodayMargin.vue'
import QuickAdd from '#web/parts/QuickAdd.vue'
import { useRoving } from '#web/parts/useRoving.ts'
import { later } from '#web/state/later.ts'

const session = useSession()
const FieldMenu = later(() => import('#web/fields/FieldMenu.vue'))
const TaskSheet = later(() => import('#web/parts/task/TaskSheet.vue'))

/** Guests hear of nothing but their own. */
const isMine = ({ on }: LiveChange) => !session.me?.may.member || on.includes(session.me.id)
const route = useRoute()
const router = useRouter()
const { data, error, reload, touched } = useResource<TodaySheet>(
  () => (session.me ? '/today' : null),
  // Others' work shows in the margin alone.
  (change, sheet) => (isMine(change) || shows(sheet, change) ? 'now' : 'later'),
)
const tasksOf = (sheet: TodaySheet | null): readonly TaskRow[] =>
  TODAY_GROUPS.flatMap((group) => sheet?.groups[group] ?? [])
const shows = (sheet: TodaySheet | null, { tasks }: LiveChange): boolean =>
  tasksOf(sheet).some(({ id }) => tasks.includes(id))
const day = computed(() => (typeof route.query['day'] === 'string' ? route.query['day'] : null))
const opened = computed(() => Number(route.query['task']) || null)
const everything = computed(() => tasksOf(data.value))
const sections = computed(
  (): { key: string; name: string; late: boolean; tasks: readonly TaskRow[] }[] => {
    if (!data.value) return []
    if (day.value)
      return [
        {
          key: day.value,
          name: `Due ${sayDate(day.value, session.today)}`,
          late: false,
          tasks: everything.value.filter((t) => t.due === day.value),
        },
      ]
    return TODAY_GROUPS.filter((g) => data.value!.groups[g].length).map((g) => ({
      key: g,
      name: TODAY_NAMES[g],
      late: g === 'slipped',
      tasks: data.value!.groups[g],
    }))
  },
)
const planned = computed(() =>
  (data.value?.groups.today ?? []).reduce((sum, t) => sum + (t.estimate ?? 0), 0),
)
const firstDue = computed(() => data.value?.groups.today.find((t) => t.dueTime)?.dueTime)
function head(section: { late: boolean; tasks: readonly TaskRow[] }): string {
  const count = plural(section.tasks.length, 'task')
  const minutes = section.tasks.reduce((sum, t) => sum + (t.estimate ?? 0), 0)
  const oldest = Math.max(0, ...section.tasks.map((t) => t.daysLate))
  if (section.late)
    return `${count}, ${oldest ? `oldest ${plural(oldest, 'working day')}` : 'since today'}`
  return `${count}${minutes ? ` · ${sayMinutes(minutes)}` : ''}`
}
const open = (id: number | null) =>
  router.replace({
    query: { ...(day.value && { day: day.value }), ...(id && { task: String(id) }) },
  })

const lines = ref<HTMLElement | null>(null)
useRoving(lines, '.row')

async function added(id: number): Promise<void> {
  await reload()
  await open(id)
}
</script>

<template>
  <main class="page">
    <div ref="lines" class="sheet" data-work>
      <LoadState v-if="!data" :error="error" @retry="reload" />
      <template v-else>
        <h1>{{ sayLongDate(data.today) }}</h1>
        <div class="sub">
          <span v-if="!session.me?.may.member">
            {{ everything.length ? `${plural(everything.length, 'task')} with you` : '' }}
          </span>
          <span v-else-if="data.capacity">
            {{ sayMinutes(planned) }} planned of {{ sayMinutes(data.capacity) }}
          </span>
          <span v-else>Not a working day for you</span>
          <span
            v-if="data.capacity && session.me?.may.member"
            class="gauge"
            role="img"
            :aria-label="`${Math.round((planned / data.capacity) * 100)} per cent of today is planned`"
          >
            <i
              :style="{ width: `${Math.min(100, (planned / data.capacity) * 100)}%` }"
              :class="{ over: planned > data.capacity }"
            />
          </span>
          <span v-if="firstDue">first due {{ sayTime(firstDue, session.saying.clock) }}</span>
          <span v-if="data.doneToday">{{ data.doneToday }} done in the last day</span>
        </div>
        <p v-if="error" class="wrong" role="alert">{{ error }}</p>
        <p v-if="day" class="btns">
          <v-btn @click="router.replace({ query: {} })">Show every day</v-btn>
        </p>
        <section v-for="s in sections" :key="s.key" :aria-label="s.name">
          <h2 class="section" :class="{ late: s.late }">
            {{ s.name }}
            <span v-if="s.tasks.length">{{ head(s) }}</span>
          </h2>
          <div v-if="s.tasks.length" role="grid" :aria-label="s.name">
            <TaskLine
              v-for="task in s.tasks"
              :key="task.id"
              :task="task"
              @open="open"
              @changed="touched"
            />
          </div>
          <p v-else class="empty">Nothing of yours is due that day.</p>
        </section>
        <div v-if="!sections.length" class="empty">
          <h3>Nothing waits for you</h3>
          <p>Work given to you, and work that series make for you, appears here on its day.</p>
          <div v-if="session.me?.may.member" class="btns">
            <v-btn to="/work">See all projects</v-btn>
          </div>
        </div>
        <QuickAdd
          v-if="session.me?.may.member"
          class="quick"
          label="Add a task"
          :placeholder="`Add something for ${day ? sayDate(day, session.today) : 'today'}, press Enter`"
          :begins="() => ({ assignees: [session.me!.id], due: day ?? session.today })"
          @made="added($event.id)"
        />
      </template>
    </div>
    <FieldMenu v-if="session.me?.may.member" :scope="{ of: 'firm' }" />
    <MarginPane :label="opened ? 'Task' : 'What to know'" :opened="opened" @close="open(null)">
      <TaskSheet v-if="opened" :id="opened" :key="opened" @close="open(null)" @changed="touched" />
      <TodayMargin v-else-if="data" :view="data" @open="open" @changed="touched" />
    </MarginPane>
  </main>
</template>

<style scoped>
.gauge {
  width: 240px;
  height: 9px;
  background: var(--track);
  border-radius: 1px;
  display: flex;
}
.gauge i {
  background: var(--fern);
}
.gauge i.over {
  background: var(--alarm);
}
.quick {
  margin-top: 16px;
  max-width: 520px;
}
</style>
