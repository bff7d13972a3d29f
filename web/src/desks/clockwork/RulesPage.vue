<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { actionsFor, type Action } from '#contract/actions/index.ts'
import { remind } from '#contract/actions/remind.ts'
import { tell } from '#contract/actions/tell.ts'
import type {
  LateAlready,
  RuleBody,
  RuleSheet,
  RuleSwitch,
  Rung,
  RunEntry,
  Trigger,
} from '#contract/rules.ts'
import { triggerKind, triggerKinds } from '#contract/triggers/index.ts'
import { get, post, put, sentence } from '#web/api/client.ts'
import { plural, sayInstant } from '#web/parts/say.ts'
import ConditionEdit from '#web/fields/ConditionEdit.vue'
import { useKnown } from '#web/fields/useKnown.ts'
import TokenPick from '#web/parts/TokenPick.vue'
import LoadState from '#web/parts/LoadState.vue'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useUnsaved } from '#web/state/unsaved.ts'
import { useResource } from '#web/state/resource.ts'
import ClockworkNav from './ClockworkNav.vue'
import ActionList from './ActionList.vue'
import StepEdit from './StepEdit.vue'
import { sayRule } from './rule-words.ts'
import RunRow from './RunRow.vue'
import RungEdit from './RungEdit.vue'
import SwitchOn from './SwitchOn.vue'

const session = useSession()
const messages = useMessages()
const route = useRoute()
const router = useRouter()
const { data, error, reload } = useResource<RuleSheet[]>(
  () => '/rules',
  (c) => c.entities.includes('rules'),
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
const { data: runs, reload: reloadRuns } = useResource<RunEntry[]>(() =>
  current.value ? `/runs?ruleId=${current.value.id}` : null,
)
const body = ref<RuleBody | null>(null)
const base = ref('')
const seen = ref(0)
const wrong = ref('')
const busy = ref(false)
const may = computed(() => session.me?.may.structure ?? false)
const dirty = computed(() => body.value !== null && JSON.stringify(body.value) !== base.value)
useUnsaved(dirty, 'This rule')
function take(rule: RuleSheet): void {
  body.value = JSON.parse(
    JSON.stringify({
      name: rule.name,
      ownerId: rule.owner?.id ?? null,
      definition: rule.definition,
    }),
  ) as RuleBody
  base.value = JSON.stringify(body.value)
  seen.value = rule.version
  wrong.value = ''
}
const LATE = '{task} for {client} is {days late} late'
const NEW_NAME = 'A new rule'
/** What is said of late work is said of nothing else, unless somebody wrote it so. */
const ofAll = (action: Action): Action =>
  'text' in action && action.text === LATE
    ? { ...action, text: { remind, tell }[action.kind].blank.text }
    : action
const reminder = (text = remind.blank.text) => ({ kind: remind.kind, ...remind.blank, text })
const newRung = (days: number): Rung => ({
  key: crypto.randomUUID().slice(0, 8),
  delay: { days, unit: 'working', time: '09:00' },
  actions: [reminder(LATE)],
})
const known = useKnown(() => ({ of: 'firm' }))
watch(
  [id, () => current.value?.id],
  () => {
    if (id.value === 'new') {
      body.value = {
        name: NEW_NAME,
        ownerId: session.me!.id,
        definition: {
          trigger: { kind: 'late' },
          conditions: { match: 'all', of: [] },
          rungs: [newRung(1)],
        },
      }
      base.value = JSON.stringify(body.value)
    } else if (current.value) take(current.value)
  },
  { immediate: true },
)
// A newer version from elsewhere is shown unless something is being typed; saving that then says
// so.
watch(
  () => current.value?.version,
  () => {
    if (current.value && !dirty.value) take(current.value)
  },
)
/** What is escalated has rungs, all else actions: what was written stays as far as it fits. */
function chooseTrigger(trigger: Trigger): void {
  const { conditions, rungs, actions } = body.value!.definition
  const climbs = triggerKind(trigger.kind)?.climbs === true
  body.value!.definition = climbs
    ? { trigger, conditions, rungs: rungs ?? [{ ...newRung(1), ...(actions && { actions }) }] }
    : { trigger, conditions, actions: actions ?? rungs?.[0]?.actions.map(ofAll) ?? [reminder()] }
}
const edit = (part: Partial<RuleBody['definition']>) =>
  (body.value!.definition = { ...body.value!.definition, ...part })
/** What can be done with what the rule is about. */
const kinds = computed(() => {
  const trigger = body.value && triggerKind(body.value.definition.trigger.kind)
  return trigger ? actionsFor(trigger) : []
})
const rungs = computed(() => body.value?.definition.rungs ?? [])
const days = (r: Rung) => ('hours' in r.delay ? r.delay.hours / 24 : r.delay.days)
const addRung = () =>
  edit({ rungs: [...rungs.value, newRung(Math.ceil(Math.max(0, ...rungs.value.map(days))) + 2)] })
const setRung = (index: number, rung: Rung | null) =>
  edit({
    rungs: rungs.value
      .flatMap((r, i) => (i === index ? (rung ? [rung] : []) : [r]))
      .sort((a, b) => days(a) - days(b)),
  })
async function save(): Promise<void> {
  busy.value = true
  wrong.value = ''
  try {
    const saved =
      id.value === 'new'
        ? await post<RuleSheet>('/rules', body.value, { once: crypto.randomUUID() })
        : await put<RuleSheet>(`/rules/${current.value!.id}`, body.value, { seen: seen.value })
    take(saved)
    await reload()
    messages.say(
      `Saved as version ${saved.version}${saved.on ? '' : '; it is off until you switch it on'}.`,
    )
    await router.push(`/clockwork/rules/${saved.id}`)
  } catch (problem) {
    wrong.value = sentence(problem)
  } finally {
    busy.value = false
  }
}
/** What is late already, while it is asked what becomes of it. */
const late = ref<LateAlready | null>(null)
async function turn(): Promise<void> {
  const rule = current.value!
  const on = !rule.on || rule.pausedBecause !== null
  if (!on) return switchTo({ on })
  try {
    const found = await get<LateAlready>(`/rules/${rule.id}/late`)
    if (found.count) late.value = found
    else await switchTo({ on })
  } catch (problem) {
    messages.fault(sentence(problem))
  }
}
async function switchTo({ on, also = false }: RuleSwitch): Promise<void> {
  const rule = current.value!
  late.value = null
  try {
    await post(`/rules/${rule.id}/switch`, { on, also })
    await Promise.all([reload(), reloadRuns()])
    messages.say(on ? `“${rule.name}” is on.` : `“${rule.name}” is off; nothing of it runs.`)
  } catch (problem) {
    messages.fault(sentence(problem))
  }
}
const standing = (r: RuleSheet) => (r.pausedBecause ? 'Paused' : r.on ? 'On' : 'Off')
const groups = computed(() => [
  {
    name: 'Needs attention',
    rules: (data.value ?? []).filter((r) => r.pausedBecause || r.warnings.length),
  },
  {
    name: 'Whole firm',
    rules: (data.value ?? []).filter((r) => !r.pausedBecause && !r.warnings.length),
  },
])
function ran({ runs30, lastRunAt }: Pick<RuleSheet, 'runs30' | 'lastRunAt'>): string {
  if (!runs30) return 'never run'
  const last = sayInstant(lastRunAt!, session.today, session.me!.zone)
  return `${plural(runs30, 'run')} in 30 days, last ${last}`
}
</script>

<template>
  <main>
    <ClockworkNav>
      <router-link v-if="may" class="btn pri" to="/clockwork/rules/new">New rule</router-link>
    </ClockworkNav>
    <div class="page with-list">
      <nav class="list" aria-label="Rules">
        <LoadState v-if="!data" :error="error" @retry="reload" />
        <template v-for="g in groups" :key="g.name">
          <div v-if="g.rules.length" class="g">{{ g.name }}</div>
          <router-link
            v-for="r in g.rules"
            :key="r.id"
            class="li"
            :class="{ on: r.id === current?.id }"
            :to="`/clockwork/rules/${r.id}`"
          >
            <b>{{ r.name }}</b>
            <span class="s" :class="{ off: !r.on, bad: r.pausedBecause }">{{ standing(r) }}</span>
            <small>{{ ran(r) }}</small>
          </router-link>
        </template>
      </nav>
      <div class="sheet">
        <div v-if="data && !data.length && id !== 'new'" class="empty">
          <h3>No rules yet</h3>
          <p>
            A rule on late work reminds its owner, then tells others, the longer it slips; another
            acts on what changes.
          </p>
          <div v-if="may" class="btns">
            <router-link class="btn pri" to="/clockwork/rules/new">Make the first rule</router-link>
          </div>
        </div>
        <form v-else-if="body" @submit.prevent="save">
          <div class="top">
            <input
              v-model="body.name"
              class="inp name"
              aria-label="Name of the rule"
              maxlength="120"
              required
              :readonly="!may"
            />
            <v-switch
              v-if="current && may"
              :model-value="current.on && !current.pausedBecause"
              :aria-label="current.on ? 'On' : 'Off'"
              @update:model-value="turn"
            />
          </div>
          <div class="sub">
            <span>Whole firm</span>
            <span>
              owner
              <TokenPick
                :model-value="body.ownerId ?? 0"
                :options="
                  session.active
                    .filter((p) => p.access !== 'contractor' && p.access !== 'client')
                    .map((p) => ({ value: p.id, name: p.name }))
                "
                label="Owner"
                tone="person"
                :disabled="!may"
                @update:model-value="body!.ownerId = $event"
              />
            </span>
            <span v-if="current">version {{ current.version }}</span>
          </div>
          <p class="says">{{ sayRule(known, body.definition) }}</p>
          <p v-if="current?.pausedBecause" class="wrong">
            {{ current.pausedBecause }}. Switch it on to try again.
          </p>
          <p v-for="w in current?.warnings" :key="w" class="ochre">{{ w }}</p>
          <fieldset :disabled="!may">
            <div class="cl">
              <span class="k">When</span>
              <StepEdit
                :model-value="body.definition.trigger"
                :kinds="triggerKinds()"
                label="When"
                :known="known"
                @update:model-value="chooseTrigger($event)"
              />
            </div>
            <div class="cl">
              <span class="k">Provided</span>
              <ConditionEdit
                :model-value="body.definition.conditions"
                :known="known"
                :faults="dirty ? [] : (current?.faults ?? [])"
                in-rule
                :locked="!may"
                nothing="no conditions: every task it is about"
                @update:model-value="edit({ conditions: $event })"
              />
            </div>
            <div v-if="!body.definition.rungs" class="cl">
              <span class="k">Do</span>
              <div>
                <ActionList
                  :model-value="body.definition.actions ?? []"
                  :known="known"
                  :kinds="kinds"
                  :may="may"
                  @update:model-value="edit({ actions: $event })"
                />
              </div>
            </div>
            <div v-if="body.definition.rungs" class="cl">
              <span class="k">Escalate</span>
              <div class="ladder">
                <RungEdit
                  v-for="(rung, i) in rungs"
                  :key="rung.key"
                  :model-value="rung"
                  :last="i === rungs.length - 1"
                  :known="known"
                  :kinds="kinds"
                  :may="may"
                  :only="rungs.length === 1"
                  @update:model-value="setRung(i, $event)"
                  @remove="setRung(i, null)"
                />
                <button v-if="may" type="button" class="btn flat" @click="addRung">
                  Add a rung
                </button>
              </div>
            </div>
            <div v-if="body.definition.rungs" class="cl">
              <span class="k">Stop</span>
              <p>when its state becomes done or dropped, or its due date moves to the future</p>
            </div>
          </fieldset>
          <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
          <div v-if="may" class="btns end">
            <button class="btn pri" :disabled="busy || (id !== 'new' && !dirty)">
              {{
                id === 'new'
                  ? 'Save, switched off'
                  : dirty
                    ? `Save as version ${current!.version + 1}`
                    : 'Saved'
              }}
            </button>
            <button v-if="dirty && current" type="button" class="btn" @click="take(current)">
              Drop the changes
            </button>
          </div>
        </form>
      </div>
      <aside class="margin">
        <h3>What it did</h3>
        <p v-if="!runs?.length" class="quiet note">
          It has not run yet. Each run, and each task it skipped, is told here with its reasons.
        </p>
        <RunRow v-for="run in (runs ?? []).slice(0, 25)" :key="run.id" :run="run" compact />
        <router-link
          v-if="current && runs?.length"
          class="btn flat"
          :to="`/clockwork/log?rule=${current.id}`"
        >
          All of its runs
        </router-link>
      </aside>
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
.top {
  display: flex;
  gap: 12px;
  align-items: center;
}
.name {
  font: 500 27px/1.15 var(--display);
  border-color: transparent;
  background: none;
  padding: 0 4px;
  margin-left: -5px;
}
.name:hover {
  border-color: var(--rule-strong);
}
.says {
  padding: 6px 0 10px;
  max-width: 70ch;
  color: var(--ink-2);
}
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
  min-width: 0;
}
.cl {
  display: grid;
  grid-template-columns: 86px minmax(0, 1fr);
  border-top: 1px solid var(--rule);
  padding: 11px 0;
}
.cl:last-child {
  border-bottom: 1px solid var(--rule);
}
.k {
  font: 500 15px var(--display);
  color: var(--ink-2);
  padding-top: 4px;
}
.cl p {
  padding-top: 5px;
}
.ladder {
  position: relative;
  padding-left: 118px;
}
.ladder::before {
  content: '';
  position: absolute;
  left: 98px;
  top: 6px;
  bottom: 10px;
  width: 7px;
  border-inline: 1.5px solid var(--ink-3);
}
.end {
  margin-top: 14px;
}
h3 {
  margin-bottom: 8px;
}
@media (max-width: 700px) {
  .cl {
    grid-template-columns: minmax(0, 1fr);
  }
  .ladder {
    padding-left: 20px;
  }
  .ladder::before {
    left: 0;
  }
}
</style>
