<script setup lang="ts">
import { computed } from 'vue'
import type { ChangeRow } from '#contract/journal.ts'
import LoadState from '#web/parts/LoadState.vue'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'

/** What was done for a client lately. */
const { client } = defineProps<{ client: number }>()
const session = useSession()
const FEW = 6
const { data, error, reload } = useResource<{ changes: ChangeRow[] }>(
  () => `/changes?clientId=${client}`,
)
const shown = computed(() => (data.value?.changes ?? []).slice(0, FEW))
</script>

<template>
  <section aria-labelledby="ch-head">
    <h2 id="ch-head" class="section">History</h2>
    <LoadState v-if="!data" :error="error" @retry="reload" />
    <p v-else-if="!shown.length" class="quiet">Nothing was changed lately.</p>
    <ul v-else>
      <li v-for="change in shown" :key="change.change">
        <span>
          <span class="what">{{ change.lines.join('. ') || 'changed something' }}</span>
          <span class="small quiet">{{ change.who }}, {{ session.sayAt(change.at) }}</span>
        </span>
      </li>
    </ul>
    <v-btn class="all" :to="`/work/journal?client=${client}`">See the whole journal</v-btn>
  </section>
</template>

<style scoped>
li span span {
  display: block;
}
li .what {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  overflow: hidden;
}
.all {
  margin-top: 8px;
}
</style>
