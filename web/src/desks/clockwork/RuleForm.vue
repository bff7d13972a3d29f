<script setup lang="ts">
import { computed, nextTick, provide, ref, toRaw, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { testsOf, type Group } from '#core/conditions/condition.ts'
import { isBranch, mapActions } from '#core/rules/program.ts'
import type { About, ActionKind } from '#contract/actions/action.ts'
import { actionKind, actionsFor, blankOf, canDo, type Action } from '#contract/actions/index.ts'
import { comment } from '#contract/actions/comment.ts'
import { remind } from '#contract/actions/remind.ts'
import { tell } from '#contract/actions/tell.ts'
import { asksOf } from '#contract/rule-fields.ts'
import { RULE_EXAMPLES } from '#contract/rule-examples.ts'
import type { Deed, RuleBody, RuleSheet, Rung, Trigger } from '#contract/rules.ts'
import { triggerKind, triggerKinds } from '#contract/triggers/index.ts'
import { post, put } from '#web/api/client.ts'
import ConditionEdit from '#web/fields/ConditionEdit.vue'
import { useKnown } from '#web/fields/useKnown.ts'
import ClashAsk from '#web/forms/ClashAsk.vue'
import { useForm, type ClashAt } from '#web/forms/useForm.ts'
import { sayClash, type ClashWords } from '#web/forms/words.ts'
import TokenPick from '#web/parts/TokenPick.vue'
import { shelfFor } from '#web/state/draft.ts'
import { useMessages } from '#web/state/messages.ts'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'
import { useUnsaved } from '#web/state/unsaved.ts'
import DeedList from './DeedList.vue'
import ScopeEdit from './ScopeEdit.vue'
import StepEdit from './StepEdit.vue'
import { sayRule } from './rule-words.ts'
import RulePast from './RulePast.vue'
import RuleTry from './RuleTry.vue'
import RungEdit from './RungEdit.vue'
import { SAMPLE, useSample } from './sample.ts'

/** A rule as it is written; null begins a new one. */
const props = defineProps<{ rule: RuleSheet | null; again: () => Promise<unknown> }>()
const emit = defineEmits<{ turn: [] }>()
const session = useSession()
const messages = useMessages()
const router = useRouter()
const route = useRoute()
const may = computed(() => session.me?.may.structure ?? false)
const known = useKnown()
const LATE = '{task} for {client} is {days late} late'
const NEW_NAME = 'A new rule'
const WORDING = { remind: remind.blank.text, tell: tell.blank.text, comment: comment.blank.text }
/** What is said of late work is said of nothing else, unless somebody wrote it so. */
const ofAll = (action: Action): Action =>
  'text' in action && action.text === LATE && action.kind in WORDING
    ? { ...action, text: WORDING[action.kind as keyof typeof WORDING] }
    : action
/** What was written stays as far as it can be done with what the rule is about now. */
function fitting(deeds: readonly Deed[], of: About): readonly Deed[] {
  const fits = ({ kind }: Action) => {
    const known = actionKind(kind)
    return known !== undefined && canDo(known, of)
  }
  const left = deeds.flatMap((deed): Deed[] => {
    if (!isBranch<Action>(deed)) return fits(deed) ? [deed] : []
    const actions = deed.actions.filter(fits)
    return actions.length ? [{ ...deed, actions, otherwise: deed.otherwise.filter(fits) }] : []
  })
  return left.length ? left : [blankOf(tell as ActionKind, of)]
}
/** So with what it asks. */
const asking = (conditions: Group, of: About): Group => ({
  ...conditions,
  of: conditions.of.filter((each) => [...testsOf(each)].every(({ field }) => asksOf(field, of))),
})
const reminder = (text = remind.blank.text) => ({ kind: remind.kind, ...remind.blank, text })
const newRung = (days: number): Rung => ({
  key: crypto.randomUUID().slice(0, 8),
  delay: { days, unit: 'working', time: '09:00' },
  actions: [reminder(LATE)],
})
/** The series that a new one is to make the next of, where it is made for one. */
const brings = Number(route.query['series']) || null
const conditions: Group = { match: 'all', of: [] }
const blank: RuleBody = {
  name: NEW_NAME,
  ownerId: session.me!.id,
  definition: brings
    ? {
        ...{ trigger: { kind: 'project-finished' }, conditions },
        actions: [{ kind: 'bring-next', series: brings }],
      }
    : { trigger: { kind: 'late' }, conditions, rungs: [newRung(1)] },
}
const heldOf = ({ name, owner, definition, version }: RuleSheet) => ({
  value: { name, ownerId: owner?.id ?? null, definition },
  version,
})
let saved: RuleSheet | undefined
const form = useForm<RuleBody>({
  key: () => `rule.${props.rule?.id ?? (brings ? `new.${brings}` : 'new')}`,
  held: () => (props.rule ? heldOf(props.rule) : { value: blank, version: 0 }),
  async send(value, seen) {
    saved = props.rule
      ? await put<RuleSheet>(`/rules/${props.rule.id}`, value, { seen })
      : await post<RuleSheet>('/rules', value)
    const done = heldOf(saved)
    await props.again()
    return done
  },
  async again() {
    await props.again()
    // Until what is handed in is the new one.
    await nextTick()
  },
  shelf: shelfFor,
})
const { draft: body, dirty, busy, fault, faultAt } = form
useUnsaved(dirty, 'This rule', form.putBack)
const personOf = (id: unknown) =>
  session.directory.people.find((p) => p.id === id)?.name ?? 'nobody'
function clashWords(clash: ClashAt): ClashWords {
  const { place, mine, theirs } = clash
  if (place === 'ownerId') return { label: 'Owner', mine: personOf(mine), theirs: personOf(theirs) }
  if (place === 'name') return sayClash(body.value, clash, { name: 'Name' })
  const said = (rule: Pick<RuleBody, 'definition'>) => sayRule(known.value, rule.definition)
  return { label: 'What it does', mine: said(body.value!), theirs: said(props.rule!) }
}
const clashes = computed(() => [
  ...new Map(form.clashes.value.map(clashWords).map((said) => [said.label, said])).values(),
])
/** What is escalated has rungs, all else actions: what was written stays as far as it fits. */
function chooseTrigger(trigger: Trigger): void {
  const { scope, rungs, actions } = body.value!.definition
  const { climbs = false, about: of = 'task' } = triggerKind(trigger.kind) ?? {}
  const conditions = asking(body.value!.definition.conditions, of)
  const same = { trigger, conditions, ...(scope && { scope }) }
  const before = actions ?? mapActions(rungs?.[0]?.actions ?? [reminder()], ofAll)
  body.value!.definition = climbs
    ? { ...same, rungs: rungs ?? [{ ...newRung(1), ...(actions && { actions }) }] }
    : { ...same, actions: fitting(before, of) }
}
const edit = (part: Partial<RuleBody['definition']>) =>
  (body.value!.definition = { ...body.value!.definition, ...part })
const about = computed<About>(
  () => (body.value && triggerKind(body.value.definition.trigger.kind)?.about) ?? 'task',
)
/** What it is tried on; texts are shown with it while they are written. */
const item = ref<number | null>(null)
provide(
  SAMPLE,
  useSample({
    about: () => about.value,
    chosen: () => item.value,
    known: () => known.value,
    may: () => may.value,
  }),
)
/** What can be done with what the rule is about. */
const kinds = computed(() => actionsFor({ about: about.value }))
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
/** What a new rule may begin with: examples, and the rules there are. */
const { data: others } = useResource<RuleSheet[]>(
  () => (props.rule === null ? '/rules' : null),
  () => false,
)
const copyOf = (id: number) => others.value?.find((one) => one.id === id)
const beginnings = computed(() => [
  ...RULE_EXAMPLES.map(({ name }, i) => ({ value: `example ${i}`, title: name })),
  ...(others.value ?? []).map(({ id, name }) => ({
    value: `copy ${id}`,
    title: `Copy of ${name}`,
  })),
])
function beginWith(what: string | null): void {
  const [of, id] = (what ?? '').split(' ')
  const from = of === 'example' ? RULE_EXAMPLES[Number(id)] : copyOf(Number(id))
  if (!from || !body.value) return
  const name = of === 'example' ? from.name : `${from.name}, copy`.slice(0, 120)
  // A copy of its own: what is written in it is written nowhere else.
  body.value = { ...body.value, name, definition: structuredClone(toRaw(from.definition)) }
}
watch(
  () => (props.rule === null && body.value && others.value ? Number(route.query['copy']) : null),
  (id) => id && beginWith(`copy ${id}`),
  { immediate: true },
)
async function save(): Promise<void> {
  const isNew = props.rule === null
  if (!(await form.save()) || !saved) return
  messages.say(
    `Saved as version ${saved.version}${saved.on ? '' : '; it is off until you switch it on'}.`,
  )
  if (isNew) await router.push(`/clockwork/rules/${saved.id}`)
}
</script>

<template>
  <div v-if="body && !rule && may" class="named begin">
    <label for="rule-begin">Begin with</label>
    <v-autocomplete
      id="rule-begin"
      :model-value="null"
      :items="beginnings"
      placeholder="an example, or a copy of a rule"
      @update:model-value="beginWith"
    />
  </div>
  <v-form v-if="body" :readonly="!may" @submit.prevent="save">
    <div class="top">
      <v-text-field
        v-model="body.name"
        class="name seamless"
        aria-label="Name of the rule"
        maxlength="120"
        :error-messages="faultAt('name')"
        required
        :readonly="!may"
      />
      <v-switch
        v-if="rule && may"
        :model-value="rule.on && !rule.pausedBecause"
        :aria-label="rule.on ? 'On' : 'Off'"
        @update:model-value="emit('turn')"
      />
    </div>
    <div class="sub">
      <ScopeEdit
        :model-value="body.definition.scope"
        :known="known"
        :may="may"
        @update:model-value="edit({ scope: $event })"
      />
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
      <span v-if="rule">version {{ rule.version }}</span>
    </div>
    <p class="says">{{ sayRule(known, body.definition) }}</p>
    <p v-if="rule?.pausedBecause" class="wrong">
      {{ rule.pausedBecause }}. Switch it on to try again.
    </p>
    <p v-if="rule?.offIn.length" class="small quiet">
      Off in {{ rule.offIn.map(({ name }) => name).join(', ') }}
    </p>
    <p v-for="w in rule?.warnings" :key="w" class="ochre">{{ w }}</p>
    <fieldset :disabled="!may">
      <div class="cl">
        <span class="k">When</span>
        <StepEdit
          :model-value="body.definition.trigger"
          :kinds="triggerKinds()"
          label="When"
          :known="known"
          :about="about"
          :locked="!may"
          @update:model-value="chooseTrigger($event)"
        />
      </div>
      <div class="cl">
        <span class="k">Provided</span>
        <ConditionEdit
          :model-value="body.definition.conditions"
          :known="known"
          :faults="dirty ? [] : (rule?.faults ?? [])"
          in-rule
          :about="about"
          :locked="!may"
          :nothing="`no conditions: every ${about} it is about`"
          @update:model-value="edit({ conditions: $event })"
        />
      </div>
      <div v-if="!body.definition.rungs" class="cl">
        <span class="k">Do</span>
        <div>
          <DeedList
            :model-value="body.definition.actions ?? []"
            :known="known"
            :kinds="kinds"
            :about="about"
            :may="may"
            branches
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
          <v-btn variant="text" v-if="may" @click="addRung">Add a rung</v-btn>
        </div>
      </div>
      <div v-if="body.definition.rungs" class="cl">
        <span class="k">Stop</span>
        <p>when its state becomes done or dropped, or its due date moves to the future</p>
      </div>
    </fieldset>
    <p v-if="fault" class="wrong" role="alert">{{ fault }}</p>
    <div v-if="may" class="btns end">
      <v-btn type="submit" variant="flat" :disabled="busy || (rule !== null && !dirty)">
        {{
          rule === null
            ? 'Save, switched off'
            : dirty
              ? `Save as version ${rule!.version + 1}`
              : 'Saved'
        }}
      </v-btn>
      <v-btn v-if="dirty && rule" @click="form.putBack">Drop the changes</v-btn>
      <v-btn v-else-if="rule" variant="text" :to="`/clockwork/rules/new?copy=${rule.id}`">
        Copy
      </v-btn>
    </div>
  </v-form>
  <RuleTry v-if="body && may" v-model="item" :body="body" :about="about" :known="known" />
  <RulePast v-if="body && may" :body="body" :rule="rule?.id ?? null" />
  <ClashAsk :clashes="clashes" what="this rule" @settle="(form.settle($event), save())" />
</template>

<style scoped>
.top {
  display: flex;
  gap: 12px;
  align-items: center;
}
.name {
  font: 500 27px/1.15 var(--display);
  margin-left: -5px;
}
.begin {
  margin-bottom: 10px;
  max-width: 460px;
}
.says {
  padding: 6px 0 10px;
  max-width: 70ch;
  color: var(--ink-2);
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
