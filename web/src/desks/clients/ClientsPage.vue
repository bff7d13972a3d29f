<script setup lang="ts">
import { computed, ref } from 'vue'
import type { DataTableHeader } from 'vuetify'
import type { ClientSheet } from '#contract/clients.ts'
import { WIDE } from '#web/parts/columns.ts'
import LineMenu from '#web/parts/LineMenu.vue'
import ListHead from '#web/parts/ListHead.vue'
import { useSession } from '#web/state/session.ts'
import ClientShare from './ClientShare.vue'
import ClientsBring from './ClientsBring.vue'
import ClientsMake from './ClientsMake.vue'

/** Whom the firm works for; each opens everything that is done for it. */
const session = useSession()
const words = ref('')
/** As many rows as are drawn. */
const MOST = 300
const making = ref(false)
const sharing = ref<ClientSheet | null>(null)
const may = computed(() => session.me?.may.structure === true)
interface Shown extends ClientSheet {
  /** Running projects. */
  readonly projects: number
}
const shown = computed((): Shown[] =>
  session.directory.clients
    .filter(({ name, short }) =>
      `${name} ${short}`.toLowerCase().includes(words.value.trim().toLowerCase()),
    )
    .map((client) => ({
      ...client,
      projects: session.directory.projects.filter((p) => p.clientId === client.id).length,
    })),
)
const COLUMNS = computed((): DataTableHeader<Shown>[] => [
  { title: 'Client', key: 'name' },
  { title: 'For short', key: 'short', ...WIDE },
  { title: 'Tier', key: 'tier' },
  { title: 'Running projects', key: 'projects' },
  ...(may.value ? [{ title: '', key: 'more', sortable: false }] : []),
])
</script>

<template>
  <main>
    <div class="sheet">
      <ListHead v-model="words" title="Clients" narrows="Narrow the clients">
        <LineMenu
          v-if="session.me?.may.member && session.directory.clients.length"
          label="Take out"
          :lines="[
            { name: 'As CSV', file: '/api/v1/clients/export?format=csv' },
            { name: 'As vCards', file: '/api/v1/clients/export?format=vcf' },
          ]"
        >
          <template #default="{ props: menu }"><v-btn v-bind="menu">Take out</v-btn></template>
        </LineMenu>
        <v-btn v-if="may" :aria-expanded="making" @click="making = !making">Add clients</v-btn>
      </ListHead>
      <div v-if="making" class="make">
        <ClientsMake />
        <ClientsBring />
      </div>
      <div v-if="!session.directory.clients.length" class="empty">
        <h3>No clients yet</h3>
        <p>Whom you work for stands here, with all that is done for them.</p>
      </div>
      <p v-else-if="!shown.length" class="quiet">No client of that name.</p>
      <v-data-table v-else :headers="COLUMNS" :items="shown.slice(0, MOST)">
        <template #[`item.name`]="{ item: c }">
          <v-btn variant="plain" class="name" :to="`/clients/${c.id}`">
            {{ c.name }}
          </v-btn>
        </template>
        <template #[`item.more`]="{ item: c }">
          <v-btn variant="text" :aria-label="`Share ${c.name}`" @click="sharing = c">Share</v-btn>
        </template>
      </v-data-table>
      <p v-if="shown.length > MOST" class="quiet">
        The first {{ MOST }} of {{ shown.length.toLocaleString('en-GB') }}; narrow them to see
        others.
      </p>
    </div>
    <ClientShare v-if="sharing" :client="sharing" @close="sharing = null" />
  </main>
</template>

<style scoped>
.make {
  margin-bottom: 20px;
}
.name:hover {
  text-decoration: underline;
}
</style>
