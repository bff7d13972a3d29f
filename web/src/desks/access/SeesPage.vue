<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import type { DataTableHeader } from 'vuetify'
import type { SeenProjects } from '#contract/access.ts'
import { ACCESS_NAMES } from '#web/desks/people/access-names.ts'
import PeopleNav from '#web/desks/people/PeopleNav.vue'
import ListHead from '#web/parts/ListHead.vue'
import LoadState from '#web/parts/LoadState.vue'
import { plural } from '#web/parts/say.ts'
import { useResource } from '#web/state/resource.ts'
import { useTitle } from '#web/state/title.ts'
import { AUDIENCE_LIST, MAY, WHY } from './words.ts'

/** What somebody sees of the projects that run, what they may do there, and why. */
const route = useRoute()
const id = computed(() => Number(route.params['id']))
const words = ref('')
const { data, error, reload } = useResource<SeenProjects>(() => `/people/${id.value}/sees`)
useTitle(() => data.value && `What ${data.value.person.name} sees`)
type Shown = SeenProjects['projects'][number]
const shown = computed(() =>
  (data.value?.projects ?? []).filter(({ name }) =>
    name.toLowerCase().includes(words.value.trim().toLowerCase()),
  ),
)
const FOR = Object.fromEntries(AUDIENCE_LIST.map(({ value, name }) => [value, name.toLowerCase()]))
const COLUMNS: DataTableHeader<Shown>[] = [
  { title: 'Project', key: 'name' },
  { title: 'Is for', key: 'audience', value: (p) => FOR[p.audience] ?? '' },
  { title: 'They may', key: 'may', value: (p) => (p.may ? MAY[p.may] : 'see part of it') },
  {
    title: 'Because',
    key: 'why',
    value: (p) =>
      [...new Set(p.why.map((each) => WHY[each.why]))].join('; ') ||
      'is on a task of it, or has a phase shared',
  },
]
</script>

<template>
  <PeopleNav />
  <main>
    <div class="sheet">
      <LoadState v-if="!data" :error="error" @retry="reload" />
      <template v-else>
        <ListHead
          v-model="words"
          :title="`What ${data.person.name} sees`"
          narrows="Narrow the projects"
        />
        <p>
          {{ ACCESS_NAMES[data.person.access] }}:
          {{ plural(data.projects.length, 'running project') }},
          {{ data.unseen ? `${data.unseen} more they do not see` : 'all there are' }};
          {{ data.loose ? 'work in no project too' : 'of work in no project, what is with them' }}.
        </p>
        <p v-if="!data.projects.length" class="quiet">No running project at all.</p>
        <v-data-table v-else :headers="COLUMNS" :items="shown">
          <template #[`item.name`]="{ item: p }">
            <v-btn variant="plain" class="name" :to="`/who-sees/project/${p.id}`">
              {{ p.name }}
            </v-btn>
          </template>
        </v-data-table>
      </template>
    </div>
  </main>
</template>

<style scoped>
.name:hover {
  text-decoration: underline;
}
</style>
