<script setup lang="ts">
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import type { RunEntry } from '#contract/rules.ts'
import { get } from '#web/api/client.ts'
import TokenPick from '#web/parts/TokenPick.vue'
import LoadState from '#web/parts/LoadState.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useResource } from '#web/state/resource.ts'
import ClockworkNav from './ClockworkNav.vue'
import DayRows from '#web/parts/DayRows.vue'
import { withNone } from '#web/parts/choices.ts'
import { useNarrowing } from '#web/parts/useNarrowing.ts'
import { useRoving } from '#web/parts/useRoving.ts'
import { useSession } from '#web/state/session.ts'
import RunRow from './RunRow.vue'

const session = useSession()
const { text, number, narrow } = useNarrowing()
const { attempt } = useAttempt()
const rules = useResource<{ id: number; name: string }[]>(
  () => '/rules',
  () => false,
)
const narrowed = computed(() =>
  ['rule', 'series', 'task', 'project', 'person', 'outcome', 'text'].some(
    (name) => text(name) !== '',
  ),
)
const outcome = computed({
  get: () => text('outcome') || 'all',
  set: (to) => void narrow('outcome', to === 'all' ? '' : to),
})
const path = computed(() => {
  const q = new URLSearchParams()
  if (text('rule')) q.set('ruleId', text('rule'))
  if (text('task')) q.set('taskId', text('task'))
  if (text('project')) q.set('projectId', text('project'))
  if (text('series')) q.set('seriesId', text('series'))
  if (text('person')) q.set('personId', text('person'))
  if (text('outcome')) q.set('outcome', text('outcome'))
  if (text('text')) q.set('text', text('text'))
  return `/runs?${q.toString()}`
})
/** Words narrow as they are typed, once somebody stops. */
let typing: ReturnType<typeof setTimeout> | undefined
function later(words: string): void {
  clearTimeout(typing)
  typing = setTimeout(() => void narrow('text', words.trim()), 250)
}
onBeforeUnmount(() => clearTimeout(typing))
const { data, error, reload } = useResource<RunEntry[]>(() => path.value)
const lines = ref<HTMLElement | null>(null)
useRoving(lines, '.run')
const older = ref<RunEntry[]>([])
watch(path, () => (older.value = []))
const rows = computed(() => [...(data.value ?? []), ...older.value])
const more = ref(true)
async function next(): Promise<void> {
  const last = rows.value.at(-1)
  if (!last) return
  await attempt(async () => {
    const found = await get<RunEntry[]>(`${path.value}&before=${last.id}`)
    older.value.push(...found)
    more.value = found.length === 100
  })
}
</script>

<template>
  <main>
    <ClockworkNav />
    <div class="sheet narrow">
      <h1>Run log</h1>
      <div class="sub">
        <span>What rules and series did, and did not do, and why.</span>
      </div>
      <div class="narrowing">
        <TokenPick
          v-model="outcome"
          :options="[
            { value: 'all', name: 'everything' },
            { value: 'done', name: 'what was done' },
            { value: 'skipped', name: 'what was skipped' },
            { value: 'failed', name: 'what failed' },
          ]"
          label="Outcome"
          tone="value"
        />
        <v-autocomplete
          aria-label="Rule"
          :model-value="number('rule')"
          :items="withNone(rules.data.value ?? [], 'every rule and series', '')"
          @update:model-value="narrow('rule', $event)"
        />
        <v-autocomplete
          aria-label="Project"
          :model-value="number('project')"
          :items="withNone(session.directory.projects, 'every project', '')"
          @update:model-value="narrow('project', $event)"
        />
        <v-autocomplete
          aria-label="Person"
          :model-value="number('person')"
          :items="withNone(session.directory.people, 'everybody', '')"
          @update:model-value="narrow('person', $event)"
        />
        <v-text-field
          aria-label="Words in it"
          placeholder="words in it"
          maxlength="100"
          :model-value="text('text')"
          @update:model-value="later"
        />
        <v-btn v-if="narrowed" variant="text" to="/clockwork/log">Show everything</v-btn>
      </div>
      <LoadState v-if="!data" :error="error" @retry="reload" />
      <div v-else-if="!rows.length" class="empty">
        <h3>{{ narrowed ? 'Nothing of that kind' : 'Nothing here' }}</h3>
        <p v-if="!narrowed">
          Once a series makes something or a rule looks at late work, each run is written down here
          with its reasons.
        </p>
      </div>
      <div ref="lines" data-work>
        <DayRows v-slot="{ row, time }" :rows="rows" :key-of="(run) => run.id" of="run">
          <RunRow :run="row" :time="time" @again="reload" />
        </DayRows>
      </div>
      <v-btn v-if="rows.length >= 100 && more" @click="next">Show older ones</v-btn>
    </div>
  </main>
</template>

<style scoped>
.narrow {
  max-width: 1060px;
}
</style>
