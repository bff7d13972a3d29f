<script setup lang="ts">
import { computed, ref } from 'vue'
import type { DataTableHeader } from 'vuetify'
import type { ProjectRow } from '#contract/desks.ts'
import type { Health } from '#contract/words.ts'
import { WIDE } from '#web/parts/columns.ts'
import { plural, sayDate } from '#web/parts/say.ts'
import LoadState from '#web/parts/LoadState.vue'
import { answeredAt, get } from '#web/api/client.ts'
import { useAgain } from '#web/state/again.ts'
import { isEverything, onChange } from '#web/state/live.ts'
import { useSession } from '#web/state/session.ts'
import { useResource } from '#web/state/resource.ts'
import HealthMark from './HealthMark.vue'
import ProjectNew from './project/ProjectNew.vue'
import ProgressGauge from './ProgressGauge.vue'
import { useClosedProjects } from './useClosedProjects.ts'
import WorkNav from './WorkNav.vue'
import OneOf from '#web/parts/OneOf.vue'

const session = useSession()
const { data, error, reload } = useResource<ProjectRow[]>(
  () => '/projects',
  (c) => c.entities.includes('projects'),
)
// What changes inside a project changes its row alone.
const touched = new Set<number>()
const rowsAgain = useAgain(async () => {
  // As many as an address holds; what is left is asked for with the next.
  const ids = [...touched].slice(0, 500)
  for (const id of ids) touched.delete(id)
  try {
    const found = await get<ProjectRow[]>(`/projects?ids=${ids.join(',')}`)
    const fresh = new Map(found.map((row) => [row.id, row]))
    data.value = (data.value ?? []).map((row) => fresh.get(row.id) ?? row)
    return answeredAt(found)
  } catch {
    // The next change asks again.
    for (const id of ids) touched.add(id)
    return 0
  }
})
onChange((change) => {
  if (change.entities.includes('projects') || isEverything(change)) return
  const here = change.projects.filter((id) => data.value?.some((row) => row.id === id))
  for (const id of here) touched.add(id)
  rowsAgain.hear(change, here.length > 0 && 'now')
})
const which = ref<'running' | 'finished' | 'archived'>('running')
const parts = computed(() => [
  { value: 'running' as const, name: `Running ${data.value?.length ?? ''}` },
  { value: 'finished' as const, name: 'Finished' },
  { value: 'archived' as const, name: 'Archived' },
])
const words = ref('')
const closed = useClosedProjects(which, words)
const narrowed = computed(() =>
  (data.value ?? []).filter((p) =>
    `${p.name} ${p.client?.name ?? ''} ${p.lead?.name ?? ''}`
      .toLowerCase()
      .includes(words.value.toLowerCase()),
  ),
)
const shown = computed(() => (which.value === 'running' ? narrowed.value : closed.rows.value))
const making = ref(false)
/** How they stand, the worst first. */
const WORST: readonly Health[] = ['trouble', 'watch', 'steady']
const deadlineOf = (p: ProjectRow) => (p.anchorIs === 'deadline' && p.anchor) || ''
/** By what is empty, rows come last. */
const COLUMNS: DataTableHeader<ProjectRow>[] = [
  { title: 'Project', key: 'name' },
  { title: 'Client', key: 'client', value: (p) => p.client?.short ?? '', ...WIDE },
  { title: 'Lead', key: 'lead', value: (p) => p.lead?.name ?? '', ...WIDE },
  { title: 'Stands', key: 'stands', value: (p) => WORST.indexOf(p.health.value) },
  { title: 'Progress', key: 'progress' },
  { title: 'Next due', key: 'due', value: (p) => p.nextDue ?? '~' },
  { title: 'Deadline', key: 'deadline', value: (p) => deadlineOf(p) || '~', ...WIDE },
]
</script>

<template>
  <WorkNav />
  <main class="page wide">
    <ProjectNew v-if="making" @close="making = false" />
    <div class="sheet">
      <LoadState v-if="!data" :error="error" @retry="reload" />
      <template v-else>
        <div class="top">
          <h1>Projects</h1>
          <span v-if="session.me?.may.member" class="btns">
            <v-btn @click="making = true">Start an empty one</v-btn>
            <v-btn variant="flat" to="/clockwork/templates">Start one from a template</v-btn>
          </span>
        </div>
        <div class="sub">
          <OneOf v-model="which" label="Which projects" :options="parts" />
          <v-text-field
            v-model="words"
            class="find"
            aria-label="Narrow the list"
            :placeholder="
              which === 'running' ? 'Narrow by name, client or lead' : 'Narrow by name or client'
            "
          />
        </div>
        <LoadState
          v-if="which !== 'running' && !closed.known.value"
          :error="closed.error.value"
          @retry="closed.again"
        />
        <div v-else-if="!shown.length" class="empty">
          <h3>{{ data.length || words ? 'No project matches' : 'No projects yet' }}</h3>
          <p>
            {{
              session.me?.may.member
                ? 'A project is started from a template: its tasks come with dates and people.'
                : 'Projects in which something is with you stand here.'
            }}
          </p>
        </div>
        <v-data-table v-else :headers="COLUMNS" :items="shown">
          <template #[`item.name`]="{ item: p }">
            <v-btn variant="plain" :to="`/work/${p.id}`" class="name">{{ p.name }}</v-btn>
            <span v-if="p.audience !== 'firm' && session.me?.may.member" class="tint c-heather">
              {{ p.audience === 'named' ? 'for those named' : 'for its team' }}
            </span>
            <v-btn
              variant="plain"
              v-if="p.series && session.me?.may.member"
              class="auto"
              :to="`/clockwork/series/${p.series.id}`"
            >
              from series
            </v-btn>
          </template>
          <template #[`item.stands`]="{ item: p }"><HealthMark :health="p.health" /></template>
          <template #[`item.progress`]="{ item: p }">
            <ProgressGauge :progress="p.progress" />
            <span class="small quiet of">{{ p.done }} of {{ p.done + p.open }}</span>
          </template>
          <template #[`item.due`]="{ item: p }">
            <span v-if="p.nextDue" :class="{ alarm: p.late }">
              {{ sayDate(p.nextDue, session.today) }}
            </span>
            <span v-if="p.late" class="small alarm">
              {{ ` · ${plural(p.late, 'late task')}` }}
            </span>
          </template>
          <template #[`item.deadline`]="{ item: p }">
            {{ deadlineOf(p) && sayDate(deadlineOf(p), session.today) }}
          </template>
        </v-data-table>
        <p v-if="which !== 'running' && closed.next.value" class="btns">
          <v-btn @click="closed.more">Show earlier ones</v-btn>
        </p>
      </template>
    </div>
  </main>
</template>

<style scoped>
.top {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
}
.of {
  white-space: nowrap;
}
.find {
  max-width: 260px;
}
.name {
  font-weight: 550;
  margin-right: 8px;
}
.name:hover {
  text-decoration: underline;
}
</style>
