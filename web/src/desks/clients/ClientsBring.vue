<script setup lang="ts">
import { computed, ref } from 'vue'
import type { ClientsRead } from '#contract/clients.ts'
import { call, post } from '#web/api/client.ts'
import FileDrop from '#web/parts/FileDrop.vue'
import { plural } from '#web/parts/say.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** Clients from a file: looked at first, those that are there already told apart, then brought in. */
const session = useSession()
const messages = useMessages()
const { wrong, busy, attempt } = useAttempt('here')
const found = ref<ClientsRead | null>(null)
/** Those that look like one that is there, and are to be new ones all the same. */
const apart = ref<number[]>([])
const contacts = computed(() =>
  (found.value?.clients ?? []).reduce((sum, client) => sum + client.contacts.length, 0),
)
/** As many as are shown beforehand. */
const MOST = 100
const read = ([file]: File[]) =>
  attempt(async () => {
    if (!file) return
    apart.value = []
    found.value = await call<ClientsRead>('POST', '/clients/read', { bytes: file, asks: true })
  })
const bring = () =>
  attempt(async () => {
    const clients = found.value!.clients.map(({ sameName: _, ...client }, i) => ({
      ...client,
      same: apart.value.includes(i) ? null : client.same,
    }))
    const done = await post<{ made: number; filled: number; contacts: number }>('/clients/bring', {
      clients,
    })
    const { made, filled } = done
    messages.did(
      `${plural(made, 'client')} made, ${filled} filled in, ${plural(done.contacts, 'contact')} put with them.`,
      done,
    )
    found.value = null
    await session.refresh(true)
  })
</script>

<template>
  <div>
    <FileDrop
      title="Or a file of clients and contacts: CSV, a workbook or vCards"
      label="File of clients"
      accept=".csv,.xlsx,.vcf,text/csv,text/vcard"
      :busy="busy"
      @files="read"
    />
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <template v-if="found">
      <ul v-if="found.notes.length" class="small ochre">
        <li v-for="note in found.notes" :key="note">{{ note }}</li>
      </ul>
      <v-table>
        <thead>
          <tr>
            <th>Client</th>
            <th>Contacts</th>
            <th>There already</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(client, i) in found.clients.slice(0, MOST)" :key="client.name">
            <td>{{ client.name }}</td>
            <td>{{ client.contacts.map((one) => one.name).join(', ') }}</td>
            <td>
              <template v-if="client.sameName">
                <v-checkbox
                  v-if="client.sameName !== client.name"
                  v-model="apart"
                  :value="i"
                  :label="`Not “${client.sameName}”, another`"
                />
                <span v-else class="quiet">what it lacks is filled in</span>
              </template>
            </td>
          </tr>
        </tbody>
      </v-table>
      <p v-if="found.clients.length > MOST" class="quiet">
        and {{ found.clients.length - MOST }} more
      </p>
      <p class="btns">
        <v-btn variant="flat" :disabled="busy" @click="bring">
          Bring in {{ plural(found.clients.length, 'client') }}, {{ plural(contacts, 'contact') }}
        </v-btn>
        <v-btn @click="found = null">Leave it</v-btn>
      </p>
    </template>
  </div>
</template>

<style scoped>
.btns {
  display: flex;
  gap: 8px;
  margin-top: 10px;
}
</style>
