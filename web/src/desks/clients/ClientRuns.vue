<script setup lang="ts">
import type { ClientPage } from '#contract/clients.ts'
import HealthMark from '#web/desks/work/HealthMark.vue'
import ProgressGauge from '#web/desks/work/ProgressGauge.vue'
import { plural, sayDate } from '#web/parts/say.ts'
import { useSession } from '#web/state/session.ts'

/** The projects that run for a client, and how they stand. */
defineProps<{ client: ClientPage }>()
const session = useSession()
const day = (date: string) => sayDate(date, session.today)
</script>

<template>
  <section aria-labelledby="cp-runs">
    <h2 id="cp-runs" class="section">
      What runs
      <span>{{ plural(client.projects.length, 'project') }}</span>
    </h2>
    <p v-if="!client.projects.length" class="quiet">No project runs for it.</p>
    <ul>
      <li v-for="p in client.projects" :key="p.id" class="run">
        <v-btn variant="plain" class="name" :to="`/work/${p.id}`">{{ p.name }}</v-btn>
        <HealthMark :health="p.health" />
        <span class="stand">
          <ProgressGauge :progress="p.progress" />
          <span v-if="p.late" class="small alarm">{{ plural(p.late, 'late task') }}</span>
          <span v-else-if="p.nextDue" class="small quiet">next {{ day(p.nextDue) }}</span>
        </span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.run {
  flex-wrap: wrap;
}
.stand {
  min-width: 200px;
}
</style>
