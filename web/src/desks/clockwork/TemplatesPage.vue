<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import type { DataTableHeader } from 'vuetify'
import type { TemplateSummary, TemplateSheet } from '#contract/clockwork.ts'
import { post } from '#web/api/client.ts'
import { WIDE } from '#web/parts/columns.ts'
import { plural, sayMinutes } from '#web/parts/say.ts'
import LoadState from '#web/parts/LoadState.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useSession } from '#web/state/session.ts'
import { useResource } from '#web/state/resource.ts'
import ClockworkNav from './ClockworkNav.vue'

const session = useSession()
const { attempt } = useAttempt()
const router = useRouter()
const { data, error, reload } = useResource<TemplateSummary[]>(
  () => '/templates',
  (c) => c.entities.includes('templates') || c.entities.includes('projects'),
)
const blank = () =>
  attempt(async () => {
    const made = await post<TemplateSheet>(
      '/templates',
      {
        definition: {
          name: 'New template',
          anchor: 'deadline',
          roles: [],
          phases: [{ key: 'tasks', name: 'Tasks', tasks: [] }],
        },
      },
      { once: crypto.randomUUID() },
    )
    await router.push(`/clockwork/templates/${made.id}`)
  })
const aside = ref(false)
const COLUMNS: DataTableHeader<TemplateSummary>[] = [
  { title: 'Template', key: 'name' },
  { title: 'Tasks', key: 'tasks' },
  { title: 'Phases', key: 'phases', ...WIDE },
  { title: 'Roles', key: 'roles', ...WIDE },
  { title: 'Effort', key: 'effort' },
  { title: 'Projects', key: 'projects' },
  { title: 'Version', key: 'version', ...WIDE },
]
</script>

<template>
  <main>
    <ClockworkNav>
      <template v-if="session.me?.may.structure">
        <v-btn @click="blank">Begin an empty one</v-btn>
        <v-btn variant="flat" to="/clockwork/templates/bring-in">Bring in a checklist</v-btn>
      </template>
    </ClockworkNav>
    <div class="sheet">
      <h1>Templates</h1>
      <div class="sub">
        <span>What projects are started from: phases, roles and lead times.</span>
      </div>
      <LoadState v-if="!data" :error="error" @retry="reload" />
      <div v-else-if="!data.length" class="empty">
        <h3>No templates yet</h3>
        <p>
          Most firms already have a checklist in a sheet. Bring it in as CSV: each line becomes a
          task with its role, effort and lead time.
        </p>
        <div v-if="session.me?.may.structure" class="btns">
          <v-btn variant="flat" to="/clockwork/templates/bring-in">Bring in a checklist</v-btn>
        </div>
      </div>
      <p v-if="data?.some((t) => t.archived)" class="btns">
        <v-btn variant="text" @click="aside = !aside">
          {{ aside ? 'Show what is in use' : 'Show what is archived' }}
        </v-btn>
      </p>
      <v-data-table
        v-if="data?.length"
        :headers="COLUMNS"
        :items="data.filter((t) => t.archived === aside)"
      >
        <template #[`item.name`]="{ item: t }">
          <v-btn variant="plain" class="name" :to="`/clockwork/templates/${t.id}`">
            {{ t.name }}
          </v-btn>
        </template>
        <template #[`item.effort`]="{ item: t }">{{ sayMinutes(t.effort) }}</template>
        <template #[`item.projects`]="{ item: t }">
          {{ t.projects ? plural(t.projects, 'project') : 'none yet' }}
        </template>
      </v-data-table>
    </div>
  </main>
</template>

<style scoped>
.name {
  font-weight: 550;
}
.name:hover {
  text-decoration: underline;
}
</style>
