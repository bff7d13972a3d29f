<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import type { LateAlready, RuleSheet, RuleSwitch, RunDays, RunEntry } from '#contract/rules.ts'
import { get, post } from '#web/api/client.ts'
import { plural } from '#web/parts/say.ts'
import LoadState from '#web/parts/LoadState.vue'
import MarginPane from '#web/parts/MarginPane.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useResource } from '#web/state/resource.ts'
import { useTitle } from '#web/state/title.ts'
import ClockworkNav from './ClockworkNav.vue'
import ClockworkStop from './ClockworkStop.vue'
import DayBars from './DayBars.vue'
import RuleForm from './RuleForm.vue'
import RunRow from './RunRow.vue'
import SwitchOn from './SwitchOn.vue'

const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
const route = useRoute()
const { data, error, reload } = useResource<RuleSheet[]>(
  () => '/rules',
  (c) => c.entities.includes('rules') || c.entities.includes('ruleOffs'),
)
const id = computed(() =>
  route.params['id'] === 'new' ? 'new' : Number(route.params['id']) || null,
)
const current = computed(() =>
  id.value === 'new'
    ? null
    : (data.value?.find((r) => r.id === id.value) ??
      (id.value === null ? data.value?.[0] : undefined) ??
      null),
)
/** Its runs over the last 30 days. */
const { data: days } = useResource<RunDays>(() =>
  current.value ? `/rules/${current.value.id}/days` : null,
)
const { data: runs, reload: reloadRuns } = useResource<RunEntry[]>(() =>
  current.value ? `/runs?ruleId=${current.value.id}` : null,
)
const may = computed(() => session.me?.may.structure ?? false)
/** What is late already, while it is asked what becomes of it. */
const late = ref<LateAlready | null>(null)
async function turn(): Promise<void> {
  const rule = current.value!
  const on = !rule.on || rule.pausedBecause !== null
  if (!on) return switchTo({ on })
  await attempt(async () => {
    const found = await get<LateAlready>(`/rules/${rule.id}/late`)
    if (found.count) late.value = found
    else await switchTo({ on })
  })
}
async function switchTo({ on, also = false }: RuleSwitch): Promise<void> {
  const rule = current.value!
  late.value = null
  await attempt(async () => {
    await post(`/rules/${rule.id}/switch`, { on, also })
    await Promise.all([reload(), reloadRuns()])
    messages.say(on ? `“${rule.name}” is on.` : `“${rule.name}” is off; nothing of it runs.`)
  })
}
const standing = (r: RuleSheet) => (r.pausedBecause ? 'Paused' : r.on ? 'On' : 'Off')
/** In the order they act. */
const SCOPES = [
  { of: 'firm', name: 'Whole firm' },
  { of: 'client', name: 'For one client' },
  { of: 'template', name: 'In projects of a template' },
  { of: 'project', name: 'In one project' },
] as const
const groups = computed(() => [
  {
    name: 'Needs attention',
    rules: (data.value ?? []).filter((r) => r.pausedBecause || r.warnings.length),
  },
  ...SCOPES.map(({ of, name }) => ({
    name,
    rules: (data.value ?? []).filter(
      (r) => !r.pausedBecause && !r.warnings.length && (r.definition.scope?.of ?? 'firm') === of,
    ),
  })),
])
function ran({ runs30, lastRunAt }: Pick<RuleSheet, 'runs30' | 'lastRunAt'>): string {
  if (!runs30) return 'never run'
  const last = session.sayAt(lastRunAt!)
  return `${plural(runs30, 'run')} in 30 days, last ${last}`
}
useTitle(() => current.value?.name)
</script>

<template>
  <main>
    <ClockworkNav>
      <v-btn variant="flat" v-if="may" to="/clockwork/rules/new">Make a rule</v-btn>
    </ClockworkNav>
    <div class="page with-list" :class="{ picked: route.params['id'] || data?.length === 0 }">
      <nav class="list" aria-label="Rules">
        <LoadState v-if="!data" :error="error" @retry="reload" />
        <template v-for="g in groups" :key="g.name">
          <div v-if="g.rules.length" class="g">{{ g.name }}</div>
          <v-list-item
            v-for="r in g.rules"
            :key="r.id"
            class="li"
            :class="{ on: r.id === current?.id }"
            :to="`/clockwork/rules/${r.id}`"
          >
            <b>{{ r.name }}</b>
            <span class="s" :class="{ off: !r.on, bad: r.pausedBecause }">{{ standing(r) }}</span>
            <small>{{ ran(r) }}</small>
          </v-list-item>
        </template>
        <ClockworkStop />
      </nav>
      <div class="sheet">
        <v-btn variant="text" class="narrowonly" to="/clockwork/rules">‹ All rules</v-btn>
        <h1 class="sr">{{ current?.name ?? 'Rules' }}</h1>
        <div v-if="data && !data.length && id !== 'new'" class="empty">
          <h3>No rules yet</h3>
          <p>
            A rule on late work reminds its owner, then tells others, the longer it slips; another
            acts on what changes, or on a date that comes near.
          </p>
          <div v-if="may" class="btns">
            <v-btn variant="flat" to="/clockwork/rules/new">Make the first rule</v-btn>
          </div>
        </div>
        <RuleForm
          v-else-if="current || id === 'new'"
          :key="current?.id ?? 'new'"
          :rule="current"
          :again="reload"
          @turn="turn"
        />
      </div>
      <MarginPane label="What it did">
        <h3>What it did</h3>
        <p v-if="!runs?.length" class="quiet note">
          It has not run yet. Each run, and each task it skipped, is told here with its reasons.
        </p>
        <DayBars v-if="days?.days.length" :days="days.days" :from="days.from" />
        <RunRow
          v-for="run in (runs ?? []).slice(0, 25)"
          :key="run.id"
          :run="run"
          compact
          @again="reloadRuns"
        />
        <v-btn
          variant="text"
          v-if="current && runs?.length"
          :to="`/clockwork/log?rule=${current.id}`"
        >
          All of its runs
        </v-btn>
      </MarginPane>
    </div>
    <v-dialog :model-value="late !== null" max-width="480" @update:model-value="late = null">
      <SwitchOn
        v-if="late && current"
        :name="current.name"
        :found="late"
        @choose="switchTo({ on: true, also: $event })"
        @close="late = null"
      />
    </v-dialog>
  </main>
</template>

<style scoped>
h3 {
  margin-bottom: 8px;
}
</style>
