<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { DataTableHeader } from 'vuetify'
import type { ClientRow } from '#contract/clients.ts'
import { withNone } from '#web/parts/choices.ts'
import { WIDE } from '#web/parts/columns.ts'
import LineMenu from '#web/parts/LineMenu.vue'
import ListHead from '#web/parts/ListHead.vue'
import LoadState from '#web/parts/LoadState.vue'
import OneOf from '#web/parts/OneOf.vue'
import { useSession } from '#web/state/session.ts'
import ClientsBoard from './ClientsBoard.vue'
import ClientsBring from './ClientsBring.vue'
import ClientsMake from './ClientsMake.vue'
import ClientStates from './ClientStates.vue'
import { useClientList } from './useClientList.ts'

/** Whom the firm works for, as a list or by where they stand; each opens what is done for it. */
const session = useSession()
const route = useRoute()
const router = useRouter()
const { data, error, reload } = useClientList()
const words = ref('')
const state = ref<number | null>(null)
const tag = ref<number | null>(null)
/** As many rows as are drawn. */
const MOST = 300
const making = ref(false)
const naming = ref(false)
const may = computed(() => session.me?.may.structure === true)
const WAYS = [
  { value: 'list', name: 'List' },
  { value: 'board', name: 'Board' },
] as const
type Way = (typeof WAYS)[number]['value']
/** How they are shown stands in the address, so that it can be kept and handed on. */
const way = computed<Way>({
  get: () => (route.query['as'] === 'board' ? 'board' : 'list'),
  set: (as) => void router.replace({ query: as === 'board' ? { as } : {} }),
})
/** Running projects, by client. */
const running = computed(() => {
  const of = new Map<number, number>()
  for (const { clientId } of session.directory.projects)
    if (clientId !== null) of.set(clientId, (of.get(clientId) ?? 0) + 1)
  return of
})
interface Shown extends ClientRow {
  readonly stateName: string
  readonly colour: string
  readonly leadName: string
  readonly projects: number
}
const shown = computed((): Shown[] => {
  const states = new Map(data.value?.states.map((one) => [one.id, one]))
  const typed = words.value.trim().toLowerCase()
  return (data.value?.clients ?? [])
    .filter(
      (client) =>
        `${client.name} ${client.short}`.toLowerCase().includes(typed) &&
        (way.value === 'board' || state.value === null || client.stateId === state.value) &&
        (tag.value === null || client.tags.includes(tag.value)),
    )
    .map((client) => {
      const stands = client.stateId === null ? undefined : states.get(client.stateId)
      return {
        ...client,
        ...{ stateName: stands?.name ?? '', colour: stands?.colour ?? 'slate' },
        leadName: client.lead?.name ?? '',
        projects: running.value.get(client.id) ?? 0,
      }
    })
})
const tags = computed(() => new Map(session.directory.tags.map((one) => [one.id, one])))
const tagsOf = ({ tags: ids }: ClientRow) => ids.flatMap((id) => tags.value.get(id) ?? [])
const COLUMNS: readonly DataTableHeader<Shown>[] = [
  { title: 'Client', key: 'name' },
  { title: 'For short', key: 'short', ...WIDE },
  { title: 'State', key: 'stateName' },
  { title: 'Tier', key: 'tier', ...WIDE },
  { title: 'Tags', key: 'tags', sortable: false, ...WIDE },
  { title: 'Who looks after it', key: 'leadName', ...WIDE },
  { title: 'Running projects', key: 'projects' },
]
function place(id: number, stateId: number | null): void {
  const known = data.value
  if (!known) return
  const clients = known.clients.map((client) =>
    client.id === id ? { ...client, stateId } : client,
  )
  data.value = { ...known, clients }
}
async function named(): Promise<void> {
  naming.value = false
  await reload()
}
</script>

<template>
  <main :class="{ wide: way === 'board' }">
    <div class="sheet">
      <ListHead v-model="words" title="Clients" narrows="Narrow the clients">
        <LineMenu
          v-if="session.me?.may.member && data?.clients.length"
          label="Take out"
          :lines="[
            { name: 'As CSV', file: '/api/v1/clients/export?format=csv' },
            { name: 'As vCards', file: '/api/v1/clients/export?format=vcf' },
          ]"
        >
          <template #default="{ props: menu }"><v-btn v-bind="menu">Take out</v-btn></template>
        </LineMenu>
        <v-btn v-if="may" @click="naming = true">States</v-btn>
        <v-btn v-if="may" :aria-expanded="making" @click="making = !making">Add clients</v-btn>
      </ListHead>
      <div v-if="making" class="make">
        <ClientsMake />
        <ClientsBring />
      </div>
      <LoadState v-if="!data" :error="error" @retry="reload" />
      <div v-else-if="!data.clients.length" class="empty">
        <h3>No clients yet</h3>
        <p>Whom you work for stands here, with all that is done for them.</p>
      </div>
      <template v-else>
        <div class="ways">
          <OneOf v-model="way" label="Shown as" :options="WAYS" />
          <v-select
            v-if="way === 'list'"
            v-model="state"
            aria-label="State"
            :items="withNone(data.states, 'in any state')"
          />
          <v-autocomplete
            v-model="tag"
            aria-label="Tag"
            :items="withNone(session.directory.tags, 'with any tag')"
          />
        </div>
        <p v-if="!shown.length" class="quiet">No such client.</p>
        <ClientsBoard
          v-else-if="way === 'board'"
          :states="data.states"
          :clients="shown"
          :running="running"
          @place="place"
        />
        <template v-else>
          <v-data-table :headers="COLUMNS" :items="shown.slice(0, MOST)">
            <template #[`item.name`]="{ item: c }">
              <v-btn variant="plain" class="name" :to="`/clients/${c.id}`">
                {{ c.name }}
              </v-btn>
            </template>
            <template #[`item.stateName`]="{ item: c }">
              <span class="tint" :class="`c-${c.colour}`">{{ c.stateName }}</span>
            </template>
            <template #[`item.tags`]="{ item: c }">
              <span v-for="t in tagsOf(c)" :key="t.id" class="tint tag" :class="`c-${t.colour}`">
                {{ t.name }}
              </span>
            </template>
          </v-data-table>
          <p v-if="shown.length > MOST" class="quiet">
            The first {{ MOST }} of {{ shown.length.toLocaleString('en-GB') }}; narrow them to see
            others.
          </p>
        </template>
      </template>
    </div>
    <ClientStates
      v-if="naming && data"
      :states="data.states"
      @done="named"
      @close="naming = false"
    />
  </main>
</template>

<style scoped>
.make {
  margin-bottom: 20px;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  margin-bottom: 10px;
}
.ways .v-input {
  flex: 0 1 180px;
}
.name:hover {
  text-decoration: underline;
}
.tag {
  margin-right: 4px;
}
</style>
