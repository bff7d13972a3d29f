<script setup lang="ts">
import { computed, ref } from 'vue'
import type { ProjectRow } from '#contract/desks.ts'
import {
  HEALTH_NAMES,
  PROJECT_STATE_NAMES,
  PROJECT_STATES,
  type ProjectState,
} from '#contract/words.ts'
import { plural } from '#web/parts/say.ts'
import LoadState from '#web/parts/LoadState.vue'
import { answeredAt, get } from '#web/api/client.ts'
import { useAgain } from '#web/state/again.ts'
import { isEverything, onChange } from '#web/state/live.ts'
import { useSession } from '#web/state/session.ts'
import { useResource } from '#web/state/resource.ts'
import ProjectNew from './project/ProjectNew.vue'
import ProgressGauge from './ProgressGauge.vue'
import ProjectsTable from './ProjectsTable.vue'
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
const which = ref<ProjectState | 'finished' | 'archived'>('running')
const isOpen = computed(() => which.value !== 'finished' && which.value !== 'archived')
const count = (state: ProjectState) => data.value?.filter((p) => p.state === state).length ?? ''
const names = computed(() => session.me?.projectNames ?? PROJECT_STATE_NAMES)
const parts = computed(() => [
  ...PROJECT_STATES.map((value) => ({
    value,
    name: `${names.value[value]} ${count(value)}`,
  })),
  { value: 'finished' as const, name: names.value.finished },
  { value: 'archived' as const, name: 'Archived' },
])
const words = ref('')
const closed = useClosedProjects(
  computed(() =>
    which.value === 'finished' || which.value === 'archived' ? which.value : 'running',
  ),
  words,
)
const narrowed = computed(() =>
  (data.value ?? []).filter(
    (p) =>
      p.state === which.value &&
      `${p.name} ${p.client?.name ?? ''} ${p.lead?.name ?? ''} ${p.category}`
        .toLowerCase()
        .includes(words.value.toLowerCase()),
  ),
)
const shown = computed(() => (isOpen.value ? narrowed.value : closed.rows.value))
const making = ref(false)
/** What is said where there is none of a kind, or none of that name. */
const NONE = computed((): Record<typeof which.value, string> => {
  const none = words.value ? 'No project matches' : ''
  return {
    running: none || 'No project runs',
    proposed: none || 'No project is proposed',
    hold: none || 'No project is on hold',
    finished: none || 'No project is finished',
    archived: none || 'No project is archived',
  }
})
const GROUPS = [
  { value: '', title: 'in one list' },
  { value: 'client', title: 'by client' },
  { value: 'lead', title: 'by lead' },
  { value: 'category', title: 'by category' },
  { value: 'health', title: 'by how they stand' },
] as const
const grouped = ref<(typeof GROUPS)[number]['value']>('')
const NAMES = {
  client: (p: ProjectRow) => p.client?.name ?? 'No client',
  lead: (p: ProjectRow) => p.lead?.name ?? 'No lead',
  category: (p: ProjectRow) => p.category || 'No category',
  health: (p: ProjectRow) => HEALTH_NAMES[p.health.value],
}
/** Projects together with how far they are, all told: tasks done of all there are. */
const groups = computed(() => {
  const by = grouped.value
  const found = new Map<string, ProjectRow[]>()
  for (const row of shown.value) {
    const name = by ? NAMES[by](row) : 'Projects'
    found.set(name, [...(found.get(name) ?? []), row])
  }
  const sum = (rows: readonly ProjectRow[], of: 'open' | 'done') =>
    rows.reduce((total, row) => total + row[of], 0)
  return [...found]
    .map(([name, rows]) => {
      const all = sum(rows, 'open') + sum(rows, 'done')
      return { name, rows, progress: all ? sum(rows, 'done') / all : 0 }
    })
    .sort((a, b) => (a.name < b.name ? -1 : 1))
})
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
            :placeholder="isOpen ? 'Narrow by name, client or lead' : 'Narrow by name or client'"
          />
          <v-select v-model="grouped" class="grouping" aria-label="Together" :items="GROUPS" />
        </div>
        <LoadState
          v-if="!isOpen && !closed.known.value"
          :error="closed.error.value"
          @retry="closed.again"
        />
        <div v-else-if="!shown.length" class="empty">
          <h3>{{ data.length || words ? NONE[which] : 'No projects yet' }}</h3>
          <p>
            {{
              session.me?.may.member
                ? 'A project is started from a template: its tasks come with dates and people.'
                : 'Projects in which something is with you stand here.'
            }}
          </p>
          <v-btn v-if="!data.length && session.me?.may.structure" to="/first-steps">
            Open the first steps
          </v-btn>
        </div>
        <template v-for="group in groups" v-else :key="group.name">
          <h2 v-if="grouped" class="section">
            {{ group.name }}
            <span>
              {{ plural(group.rows.length, 'project') }}
              <ProgressGauge :progress="group.progress" />
            </span>
          </h2>
          <ProjectsTable :rows="group.rows" :label="group.name" />
        </template>
        <p v-if="!isOpen && closed.next.value" class="btns">
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
.find {
  max-width: 260px;
}
.grouping {
  max-width: 190px;
}
.section {
  margin: 18px 0 4px;
}
.section > span {
  display: flex;
  align-items: center;
  gap: 10px;
}
</style>
