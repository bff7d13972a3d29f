<script setup lang="ts">
import type { ClientPage } from '#contract/clients.ts'
import { useSession } from '#web/state/session.ts'

/** What was filed last of what is done for a client. */
defineProps<{ client: ClientPage }>()
const session = useSession()
</script>

<template>
  <section v-if="client.files.length" aria-labelledby="cp-files">
    <h2 id="cp-files" class="section">
      Files
      <span>filed last</span>
    </h2>
    <ul>
      <li v-for="file in client.files" :key="file.id">
        <v-btn
          variant="plain"
          class="name"
          :href="file.url ?? `/api/v1/files/${file.id}`"
          target="_blank"
        >
          {{ file.name }}
        </v-btn>
        <span class="small quiet">{{ session.sayAt(file.at) }}</span>
      </li>
    </ul>
  </section>
</template>
