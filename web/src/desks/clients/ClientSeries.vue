<script setup lang="ts">
import type { ClientPage } from '#contract/clients.ts'
import { sayDate } from '#web/parts/say.ts'
import { useSession } from '#web/state/session.ts'

/** The series that make work for a client, and when next. */
defineProps<{ client: ClientPage }>()
const session = useSession()
const day = (date: string) => sayDate(date, session.today)
</script>

<template>
  <section v-if="client.series.length" aria-labelledby="cp-series">
    <h2 id="cp-series" class="section">Series</h2>
    <ul>
      <li v-for="s in client.series" :key="s.id">
        <v-btn variant="plain" class="name" :to="`/clockwork/series/${s.id}`">
          {{ s.name }}
        </v-btn>
        <span class="small quiet">
          {{ !s.on ? 'paused' : s.next ? `next ${day(s.next)}` : 'ended' }}
        </span>
      </li>
    </ul>
  </section>
</template>
