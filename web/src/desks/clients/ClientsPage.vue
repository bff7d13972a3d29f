<script setup lang="ts">
import { computed, ref } from 'vue'
import type { DataTableHeader } from 'vuetify'
import type { ClientSheet } from '#contract/clients.ts'
import { WIDE } from '#web/parts/columns.ts'
import { useSession } from '#web/state/session.ts'
import { everythingWith } from '#web/state/everything.ts'
import ClientEdit from './ClientEdit.vue'
import ClientsMake from './ClientsMake.vue'

/** Whom the firm works for; each opens everything that is done for it. */
const session = useSession()
const words = ref('')
const making = ref(false)
const editing = ref<ClientSheet | null>(null)
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
      <div class="head">
        <h1>Clients</h1>
        <v-text-field
          v-model="words"
          class="find"
          placeholder="Narrow"
          aria-label="Narrow the clients"
          maxlength="80"
        />
        <v-btn v-if="may" :aria-expanded="making" @click="making = !making">Add clients</v-btn>
      </div>
      <ClientsMake v-if="making" class="make" />
      <div v-if="!session.directory.clients.length" class="empty">
        <h3>No clients yet</h3>
        <p>Whom you work for stands here, with all that is done for them.</p>
      </div>
      <p v-else-if="!shown.length" class="quiet">No client of that name.</p>
      <v-data-table v-else :headers="COLUMNS" :items="shown">
        <template #[`item.name`]="{ item: c }">
          <v-btn variant="plain" class="name" :to="everythingWith('client', c.id)">
            {{ c.name }}
          </v-btn>
        </template>
        <template #[`item.more`]="{ item: c }">
          <v-btn variant="text" :aria-label="`Change ${c.name}`" @click="editing = c">Change</v-btn>
        </template>
      </v-data-table>
    </div>
    <ClientEdit v-if="editing" :client="editing" @close="editing = null" />
  </main>
</template>

<style scoped>
.head {
  display: flex;
  gap: 12px;
  align-items: center;
  margin-bottom: 12px;
}
h1 {
  flex: 1;
}
.find {
  flex: 0 1 220px;
}
.make {
  margin-bottom: 20px;
}
.name:hover {
  text-decoration: underline;
}
</style>
