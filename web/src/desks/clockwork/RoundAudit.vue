<script setup lang="ts">
import { computed } from 'vue'
import type { SeriesAudit } from '#contract/series.ts'
import { plural } from '#web/parts/say.ts'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'

/** What the look over all series found last night: each date is one thing, and nothing is missing. */
const session = useSession()
const { data } = useResource<SeriesAudit[]>(
  () => '/series/audits',
  () => false,
)
const last = computed(() => data.value?.[0] ?? null)
const NAMES = ['made', 'held', 'missed', 'skipped', 'expected'] as const
const total = computed(() => NAMES.reduce((sum, name) => sum + (last.value?.dates[name] ?? 0), 0))
const parts = computed(() =>
  NAMES.flatMap((name) => (last.value?.dates[name] ? [`${last.value.dates[name]} ${name}`] : [])),
)
</script>

<template>
  <section v-if="last" class="audit" aria-labelledby="ra-head">
    <h2 id="ra-head" class="section">Looked over</h2>
    <p class="small">
      {{ session.sayAt(last.at) }}: {{ plural(total, 'date') }} of {{ last.series }} series, each
      exactly one of {{ parts.join(', ') }}.
      <b v-if="!last.wrong.length">None twice, none missing.</b>
    </p>
    <ul v-if="last.wrong.length" class="wrong">
      <li v-for="w in last.wrong" :key="`${w.series} ${w.says}`">
        <v-btn variant="plain" :to="`/clockwork/series/${w.series}`">{{ w.name }}</v-btn>
        {{ w.says }}
      </li>
    </ul>
    <p v-if="data!.length > 1" class="small quiet">
      {{ plural(data!.filter((night) => !night.wrong.length).length, 'night') }} of the last
      {{ data!.length }} without a fault.
    </p>
  </section>
</template>

<style scoped>
.audit {
  margin-top: 22px;
}
</style>
