<script setup lang="ts">
import type { Retention } from '#contract/setup.ts'
import { RECORDS } from '#contract/words.ts'
import { put, sentence } from '#web/api/client.ts'
import LoadState from '#web/parts/LoadState.vue'
import { useMessages } from '#web/state/messages.ts'
import { useResource } from '#web/state/resource.ts'

/** For how long the firm keeps what grows by itself; what is older goes once a day. */
defineProps<{ may: boolean }>()
const messages = useMessages()
const {
  data: kept,
  error,
  reload,
} = useResource<Retention>(
  () => '/retention',
  (c) => c.entities.includes('firm'),
  { keep: true },
)

const WHAT: Record<(typeof RECORDS)[number], { name: string; about: string }> = {
  journal: { name: 'Journal', about: 'what was changed; older changes cannot be taken back' },
  runs: { name: 'Run log', about: 'what rules and series did; runs about open tasks stay' },
  notices: { name: 'Notices', about: 'those that were read' },
  mail: { name: 'Mail', about: 'what was sent, or given up' },
}
const USUAL = [
  { value: null, title: 'for good' },
  { value: 90, title: 'for 90 days' },
  { value: 180, title: 'for 180 days' },
  { value: 365, title: 'for a year' },
  { value: 730, title: 'for two years' },
  { value: 2555, title: 'for seven years' },
]
/** The usual choices, and what is set where it is none of them. */
const choices = (days: number | null) =>
  USUAL.some((c) => c.value === days)
    ? USUAL
    : [...USUAL, { value: days, title: `for ${days} days` }]

async function keep(kind: (typeof RECORDS)[number], days: number | null): Promise<void> {
  if (!kept.value || days === kept.value[kind]) return
  const before = kept.value
  kept.value = { ...before, [kind]: days }
  try {
    const done = await put<Retention>('/retention', kept.value)
    kept.value = done
    const title = choices(days).find((c) => c.value === days)?.title
    messages.did(`${WHAT[kind].name}: kept ${title}.`, done)
  } catch (problem) {
    kept.value = before
    messages.fault(sentence(problem))
  }
}
</script>

<template>
  <LoadState v-if="!kept" :error="error" @retry="reload" />
  <div v-else class="kept">
    <div v-for="kind in RECORDS" :key="kind">
      <v-select
        :model-value="kept[kind]"
        :items="choices(kept[kind])"
        :label="WHAT[kind].name"
        :readonly="!may"
        hide-details
        @update:model-value="keep(kind, $event)"
      />
      <p class="small quiet">{{ WHAT[kind].about }}</p>
    </div>
  </div>
</template>

<style scoped>
.kept {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(220px, 1fr));
  align-items: start;
  gap: 12px;
  margin: 16px 0 20px;
}
</style>
