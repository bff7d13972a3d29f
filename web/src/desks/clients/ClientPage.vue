<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import type { Condition, Group } from '#core/conditions/condition.ts'
import type { ClientPage } from '#contract/clients.ts'
import LoadState from '#web/parts/LoadState.vue'
import { everythingWith } from '#web/state/everything.ts'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'
import { useTitle } from '#web/state/title.ts'
import ClientContacts from './ClientContacts.vue'
import ClientEdit from './ClientEdit.vue'
import ClientFacts from './ClientFacts.vue'
import ClientFiles from './ClientFiles.vue'
import ClientHistory from './ClientHistory.vue'
import ClientMerge from './ClientMerge.vue'
import ClientRuns from './ClientRuns.vue'
import ClientSeries from './ClientSeries.vue'
import ClientShare from './ClientShare.vue'
import ClientTasks from './ClientTasks.vue'

/** A client: what runs for it, what is next, what waits on it, who is who, what was filed. */
const route = useRoute()
const session = useSession()
const id = computed(() => Number(route.params['id']))
const OF = [
  ...['clients', 'clientRoles', 'clientStates', 'clientTags', 'clientValues', 'fields', 'tags'],
  ...['people', 'projects', 'series', 'attachments', 'tasks'],
]
const { data, error, reload } = useResource<ClientPage>(
  () => `/clients/${id.value}`,
  (c) => c.entities.some((entity) => OF.includes(entity)),
  { keep: true },
)
useTitle(() => data.value && data.value.name)
const may = computed(() => session.me?.may.structure === true)
const doing = ref<'edit' | 'share' | 'merge' | null>(null)
/** The other client that is most likely the same, where one is. */
const alike = computed(() => data.value?.alike[0] ?? null)
const into = ref<number | null>(null)
function merge(other: number | null): void {
  into.value = other
  doing.value = 'merge'
}
const anyOf = (field: string, value: (string | number)[]): Condition => ({ field, op: 'in', value })
const waits = computed((): Group => ({
  match: 'any',
  of: [
    anyOf('kind', ['waiting']),
    ...(data.value?.contacts.length
      ? [
          anyOf(
            'assignee',
            data.value.contacts.map((one) => one.id),
          ),
        ]
      : []),
  ],
}))
const ANY = { match: 'all' as const, of: [] }
async function changed(): Promise<void> {
  doing.value = null
  await reload()
}
</script>

<template>
  <main>
    <div class="sheet pieces">
      <LoadState v-if="!data" :error="error" @retry="reload" />
      <template v-else>
        <header class="named">
          <h1>{{ data.name }}</h1>
          <span v-if="data.state" class="tint" :class="`c-${data.state.colour}`">
            {{ data.state.name }}
          </span>
          <v-btn :to="everythingWith('client', data.id)">See all its work</v-btn>
          <v-btn v-if="data.mayEdit" @click="doing = 'edit'">Change</v-btn>
          <v-btn v-if="may" @click="doing = 'share'">Share</v-btn>
          <v-btn v-if="may" @click="merge(null)">Merge</v-btn>
          <v-btn :to="{ path: '/me', query: { feed: 'client', item: data.id } }">
            Its calendar elsewhere
          </v-btn>
        </header>
        <p class="quiet">
          {{ data.kind === 'person' ? 'A person' : 'An organisation' }}, {{ data.tier }}
          <template v-if="data.lead">· {{ data.lead.name }} looks after it</template>
          <span v-for="tag in data.tags" :key="tag.id" class="tint tag" :class="`c-${tag.colour}`">
            {{ tag.name }}
          </span>
        </p>
        <p v-if="alike && may" class="ochre">
          “{{ alike.name }}” may be the same.
          <v-btn variant="text" @click="merge(alike.id)">Merge the two</v-btn>
        </p>
        <div class="halves">
          <div>
            <ClientRuns :client="data" />
            <ClientTasks :client="data.id" title="Waits on them" :filter="waits" none="Nothing." />
            <ClientTasks :client="data.id" title="Next due" :filter="ANY" none="Nothing is due." />
            <ClientSeries :client="data" />
          </div>
          <div>
            <ClientFacts :client="data" />
            <ClientContacts :client="data" :may="may" @changed="reload" />
            <ClientFiles :client="data" />
            <ClientHistory :client="data.id" />
          </div>
        </div>
        <ClientEdit v-if="doing === 'edit'" :client="data" @close="changed" />
        <ClientShare v-if="doing === 'share'" :client="data" @close="doing = null" />
        <ClientMerge
          v-if="doing === 'merge'"
          :client="data"
          :other="into"
          @close="doing = null"
          @done="changed"
        />
      </template>
    </div>
  </main>
</template>

<style scoped>
.tag {
  margin-left: 6px;
}
.sheet :deep(.name:hover) {
  text-decoration: underline;
}
</style>
