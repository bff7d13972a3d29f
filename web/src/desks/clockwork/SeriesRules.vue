<script setup lang="ts">
import type { SeriesSheet } from '#contract/series.ts'
import { useSession } from '#web/state/session.ts'

/** What brings the next of a series that goes by events: its rules. */
defineProps<{ series: number | null; rules: SeriesSheet['rules'] }>()
const session = useSession()
</script>

<template>
  <h3>Rules that bring it</h3>
  <p v-for="r in rules" :key="r.id" class="rule">
    <v-btn variant="plain" class="auto" :to="`/clockwork/rules/${r.id}`">{{ r.name }}</v-btn>
    <span v-if="!r.on" class="quiet small">off</span>
  </p>
  <p v-if="!rules.length" class="quiet">
    {{
      series === null
        ? 'Once the series is made, a rule can make the next of it.'
        : 'None yet: nothing is made until a rule says so.'
    }}
  </p>
  <p class="quiet small">
    A series with no client makes each for the client of what the rule is about.
  </p>
  <div v-if="series !== null && session.me?.may.structure" class="btns">
    <v-btn :to="`/clockwork/rules/new?series=${series}`">Make a rule for it</v-btn>
  </div>
</template>

<style scoped>
h3 {
  margin: 4px 0 8px;
}
.rule {
  border-top: 1px solid var(--rule);
  padding: 6px 0;
  margin: 0;
  display: flex;
  justify-content: space-between;
}
</style>
