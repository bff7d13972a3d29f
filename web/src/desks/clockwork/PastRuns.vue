<script setup lang="ts">
import { ref } from 'vue'
import type { PastRun } from '#contract/rules.ts'
import { useSession } from '#web/state/session.ts'

/** Runs that would have been, or were: when, on what, and why. */
defineProps<{ runs: readonly PastRun[] }>()
const session = useSession()
const open = ref<ReadonlySet<number>>(new Set())
function toggle(nth: number): void {
  const next = new Set(open.value)
  if (!next.delete(nth)) next.add(nth)
  open.value = next
}
const ITEMS = { task: '/task/', project: '/work/', client: '/clients/' }
const OUTCOMES = { done: '', skipped: 'left', failed: 'failed' }
</script>

<template>
  <ul class="told">
    <li v-for="(run, nth) in runs" :key="nth">
      <span class="quiet at">{{ session.sayAt(run.at) }}</span>
      <span>
        <v-btn variant="plain" :to="`${ITEMS[run.item.kind]}${run.item.id}`">
          {{ run.item.title || 'gone since' }}
        </v-btn>
        <span v-if="run.item.place" class="quiet">{{ ` · ${run.item.place}` }}</span>
        <span v-if="run.name" class="quiet">{{ ` · ${run.name}` }}</span>
        <span v-else-if="OUTCOMES[run.outcome]" class="ochre">
          {{ ` ${OUTCOMES[run.outcome]}` }}
        </span>
        <span v-if="run.times > 1" class="quiet">, {{ run.times }} times</span>
      </span>
      <v-btn
        v-if="run.reasons.length"
        variant="plain"
        class="auto"
        :aria-expanded="open.has(nth)"
        :aria-label="`Why: ${run.item.title}, ${session.sayAt(run.at)}`"
        @click="toggle(nth)"
      >
        why
      </v-btn>
      <ul v-if="open.has(nth)" class="small">
        <li v-for="(reason, i) in run.reasons" :key="i">{{ reason }}</li>
      </ul>
    </li>
  </ul>
</template>

<style scoped>
.told {
  list-style: none;
  margin: 0;
  padding: 0;
}
.told > li {
  display: grid;
  grid-template-columns: 128px minmax(0, 1fr) auto;
  gap: 0 10px;
  align-items: baseline;
  min-height: 30px;
  border-bottom: 1px solid var(--rule);
}
.told ul {
  grid-column: 2 / -1;
  margin: 0 0 4px;
  padding-left: 18px;
  color: var(--ink-2);
}
@media (max-width: 700px) {
  .told > li {
    grid-template-columns: minmax(0, 1fr) auto;
  }
  .at {
    grid-column: 1 / -1;
  }
  .told ul {
    grid-column: 1 / -1;
  }
}
</style>
