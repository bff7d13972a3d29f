<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import type { DataTableHeader } from 'vuetify'
import type { SeenBy, SharedSheet, WhoSees } from '#contract/access.ts'
import { guestWord, ACCESS_NAMES } from '#web/desks/people/access-names.ts'
import { WIDE } from '#web/parts/columns.ts'
import LoadState from '#web/parts/LoadState.vue'
import PersonMark from '#web/parts/PersonMark.vue'
import { plural } from '#web/parts/say.ts'
import type { ProjectSheet } from '#contract/projects.ts'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'
import { useTitle } from '#web/state/title.ts'
import ForWhom from './ForWhom.vue'
import ShareList from './ShareList.vue'
import { MAY, WHY } from './words.ts'

/** Who sees a project or a task, what each may do there, and why; for a project also to be changed. */
const session = useSession()
const route = useRoute()
const what = computed(() => (route.params['what'] === 'task' ? 'tasks' : 'projects'))
const id = computed(() => Number(route.params['id']))
const { data, error, reload } = useResource<WhoSees>(() => `/${what.value}/${id.value}/seen-by`)
const project = computed(() => (what.value === 'projects' ? id.value : null))
const { data: sheet } = useResource<ProjectSheet>(
  () => (project.value ? `/projects/${project.value}` : null),
  (c) => c.projects.includes(id.value),
)
const shapes = computed(() => sheet.value?.may.structure === true)
const { data: shared, reload: readShared } = useResource<SharedSheet>(() =>
  shapes.value && project.value ? `/projects/${project.value}/shares` : null,
)
const changed = () => Promise.all([reload(), readShared(), session.refresh(true)])
useTitle(() => data.value && `Who sees ${data.value.name}`)
const why = ({ why: all }: SeenBy) => [...new Set(all.map((each) => WHY[each.why]))].join('; ')
const COLUMNS: DataTableHeader<SeenBy>[] = [
  { title: 'Person', key: 'name' },
  { title: 'Is here as', key: 'access', value: (p) => ACCESS_NAMES[p.access], ...WIDE },
  { title: 'May', key: 'may', value: (p) => MAY[p.may] },
  { title: 'Because', key: 'why', value: why },
]
const forWhom = computed(() => {
  const { audience, team } = data.value ?? { audience: 'firm', team: null }
  if (audience === 'firm') return 'for everybody inside'
  return audience === 'named'
    ? 'for those named'
    : `for ${team ? `the team ${team.name}` : 'a team'}`
})
const guests = computed(() => data.value?.people.filter((p) => guestWord(p.access)).length ?? 0)
</script>

<template>
  <main>
    <div class="sheet">
      <LoadState v-if="!data" :error="error" @retry="reload" />
      <template v-else>
        <h1>Who sees “{{ data.name }}”</h1>
        <p class="facts">
          <v-btn v-if="what === 'tasks'" variant="plain" class="link" :to="`/task/${id}`">
            the task
          </v-btn>
          <v-btn v-if="data.project" variant="plain" class="link" :to="`/work/${data.project.id}`">
            {{ what === 'tasks' ? `in ${data.project.name}` : 'the project' }}
          </v-btn>
          <span v-else>in no project, and so for everybody inside</span>
          <span v-if="data.project">{{ forWhom }}</span>
          <v-btn
            v-if="what === 'tasks' && data.project"
            variant="plain"
            class="link"
            :to="`/who-sees/project/${data.project.id}`"
          >
            who sees the project
          </v-btn>
        </p>
        <template v-if="shared && project">
          <h2 class="section">Who it is for</h2>
          <ForWhom :project="project" :sheet="shared" @changed="changed" />
          <h2 class="section">Shared by name</h2>
          <ShareList
            structure
            :shares="shared.shares"
            :home="`/projects/${project}/shares`"
            :phases="sheet?.phases ?? []"
            @changed="changed"
          />
        </template>
        <h2 class="section">
          {{ plural(data.people.length, 'person sees it', 'people see it') }}
          <span>
            {{ guests ? `${plural(guests, 'guest')} among them; ` : '' }}
            {{ plural(data.others, 'other does', 'others do') }} not
          </span>
        </h2>
        <v-data-table :headers="COLUMNS" :items="data.people">
          <template #[`item.name`]="{ item: p }">
            <span class="whom">
              <PersonMark :person="p" />
              {{ p.name }}
              <span v-if="p.title" class="quiet small">{{ p.title }}</span>
            </span>
          </template>
        </v-data-table>
      </template>
    </div>
  </main>
</template>

<style scoped>
.facts {
  display: flex;
  gap: 12px;
  flex-wrap: wrap;
  color: var(--ink-2);
  margin: 2px 0 12px;
}
.whom {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
.section {
  margin-bottom: 8px;
}
.link {
  text-decoration: underline;
  text-underline-offset: 2px;
}
</style>
