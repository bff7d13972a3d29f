<script setup lang="ts" generic="T extends { readonly kind: string }">
import { computed } from 'vue'
import type { Group } from '#core/conditions/condition.ts'
import type { Plain } from '#core/fields/parse.ts'
import { FIELD_TYPES } from '#core/fields/types.ts'
import type { About, ActionKind, Arg, FieldsOf, Step, Who } from '#contract/actions/action.ts'
import { blankOf } from '#contract/actions/index.ts'
import { isOffered } from '#contract/rule-fields.ts'
import ChoicePick from '#web/fields/ChoicePick.vue'
import ConditionEdit from '#web/fields/ConditionEdit.vue'
import { askedIn, choicesFor, fieldOf } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'
import NumberField from '#web/parts/NumberField.vue'
import TimeField from '#web/parts/TimeField.vue'
import TokenPick from '#web/parts/TokenPick.vue'
import TypeIn from '#web/parts/TypeIn.vue'
import MergeText from './MergeText.vue'
import ValueEdit from './ValueEdit.vue'
import { whoChoices, whoCode, whoOf } from './who-choices.ts'

/** A step as a sentence to fill in: its kind, then what its arguments ask for. */
const step = defineModel<T>({ required: true })
const props = defineProps<{
  kinds: readonly Step[]
  label: string
  known: Known
  about: About
  locked?: boolean
  /** What is said where nothing was written yet, instead of the kind's own. */
  wording?: string | undefined
}>()
const values = computed(() => step.value as Readonly<Record<string, unknown>>)
const kind = computed(() => props.kinds.find((each) => each.kind === step.value.kind))
const args = computed(() =>
  Object.entries((kind.value?.args ?? {}) as Record<string, Arg>).map(([name, arg]) => ({
    ...{ name, arg },
    token: tokenOf(name, arg),
  })),
)
const set = (edit: Readonly<Record<string, unknown>>) => (step.value = { ...step.value, ...edit })
const brought = computed(() =>
  props.known.directory.series
    .filter(({ byEvents }) => byEvents)
    .map(({ id, name }) => ({ value: id, name })),
)
/** An action begins with what fits what the rule is about; a trigger says itself what that is. */
function blankFor(next: Step): object {
  const blank = 'needs' in next ? blankOf(next as ActionKind, props.about) : next.blank
  const [template] = props.known.directory.templates
  const [series] = brought.value
  if ('template' in blank && template) return { ...blank, template: template.id }
  return 'series' in blank && series ? { ...blank, series: series.value } : blank
}
function turn(to: string): void {
  const next = props.kinds.find((each) => each.kind === to)
  if (!next) return
  const text = props.wording !== undefined && 'text' in next.blank && { text: props.wording }
  step.value = { ...blankFor(next), kind: to, ...text } as unknown as T
}
const kinds = computed(() => props.kinds.map((each) => ({ value: each.kind, name: each.name })))

/** Fields that an argument can name. */
const fieldsOf = (of: FieldsOf) =>
  askedIn(props.known)
    .filter((field) => isOffered(field, of))
    .map((field) => ({ value: field.name, name: field.label }))
const valuesOf = (arg: Arg & { type: 'values' }) => {
  const path = String(values.value[arg.of])
  const chosen = FIELD_TYPES[fieldOf(props.known, path)?.type ?? 'text'].operand === 'list'
  return chosen ? choicesFor(props.known, path) : []
}
const listed = (name: string) => (values.value[name] ?? []) as readonly (string | number)[]
/** An argument that is one of some choices, as a word that opens into them. */
interface Token {
  readonly value: string | number
  readonly options: readonly { readonly value: string | number; readonly name: string }[]
  readonly tone: 'person' | 'value'
  readonly take: (value: string | number) => void
}
function tokenOf(name: string, arg: Arg): Token | null {
  const value = values.value[name]
  const take = (next: unknown) => set({ [name]: next })
  switch (arg.type) {
    case 'who': {
      const who = value as Who
      const options = whoChoices(props.known, props.about, who)
      const choose = (next: string | number) => take(whoOf(String(next), who))
      return { value: whoCode(who), options, tone: 'person', take: choose }
    }
    case 'one': {
      const options = choicesFor(props.known, arg.path)
      return { value: value as number, options, tone: 'value', take }
    }
    case 'series':
      return { value: value as number, options: brought.value, tone: 'value', take }
    case 'either': {
      const options = [
        { value: 0, name: arg.no },
        { value: 1, name: arg.yes },
      ]
      return { value: value ? 1 : 0, options, tone: 'value', take: (next) => take(next === 1) }
    }
    case 'choice':
      return { value: value as string, options: arg.choices, tone: 'value', take }
    case 'field': {
      const choose = (next: string | number) => chooseField(name, String(next))
      return { value: value as string, options: fieldsOf(arg.of), tone: 'value', take: choose }
    }
    default:
      return null
  }
}
/** Values that were for another field are no longer meant. */
const chooseField = (name: string, path: string) =>
  set({
    [name]: path,
    ...Object.fromEntries(
      args.value.flatMap(({ name: other, arg }): [string, unknown][] => {
        if (arg.type === 'values' && arg.of === name) return [[other, []]]
        return arg.type === 'value' && arg.of === name ? [[other, firstOf(path)]] : []
      }),
    ),
  })
/** What a field that cannot be empty is set to first. */
const firstOf = (path: string): Plain =>
  fieldOf(props.known, path)?.needed ? (choicesFor(props.known, path)[0]?.value ?? null) : null
/** “from”, “to”: the first word of what is asked. */
const wordOf = (label: string) => label.split(' ')[0]!.toLowerCase()
</script>

<template>
  <span class="step">
    <TokenPick
      :model-value="step.kind"
      :options="kinds"
      :label="label"
      :disabled="locked"
      @update:model-value="turn($event)"
    />
    <template v-for="{ name, arg, token } in args" :key="name">
      <TokenPick
        v-if="token"
        :model-value="token.value"
        :options="token.options"
        :label="arg.label"
        :tone="token.tone"
        :disabled="locked"
        @update:model-value="token.take($event)"
      />
      <span v-if="arg.type === 'who' && 'role' in (values[name] as Who)" class="role">
        <TypeIn
          label="Role or title"
          :value="(values[name] as { role: string }).role"
          :most="80"
          placeholder="such as Bookkeeper"
          :readonly="locked"
          @typed="set({ [name]: { ...(values[name] as Who), role: $event } })"
        />
      </span>
      <template v-else-if="arg.type === 'values' && valuesOf(arg).length">
        {{ wordOf(arg.label) }}
        <ChoicePick
          :model-value="listed(name)"
          :choices="valuesOf(arg)"
          :label="arg.label"
          none="whatever"
          @update:model-value="set({ [name]: $event })"
        />
      </template>
      <template v-else-if="arg.type === 'value'">
        to
        <ValueEdit
          :key="String(values[arg.of])"
          :model-value="values[name] as Plain"
          :path="String(values[arg.of])"
          :label="arg.label"
          :known="known"
          :locked="locked"
          @update:model-value="set({ [name]: $event })"
        />
      </template>
      <template v-else-if="arg.type === 'time'">
        at
        <span class="time">
          <TimeField
            :model-value="values[name] as string"
            :label="arg.label"
            needed
            @update:model-value="$event && set({ [name]: $event })"
          />
        </span>
      </template>
      <div v-else-if="arg.type === 'conditions'" class="until">
        <ConditionEdit
          :model-value="values[name] as Group"
          :known="known"
          :about="about"
          in-rule
          :locked="locked"
          nothing="nothing asked: until it is closed"
          @update:model-value="set({ [name]: $event })"
        />
      </div>
      <ChoicePick
        v-else-if="arg.type === 'chosen'"
        :model-value="listed(name)"
        :choices="choicesFor(known, arg.path)"
        :label="arg.label"
        none="choose some"
        @update:model-value="set({ [name]: $event })"
      />
      <NumberField
        v-else-if="arg.type === 'number'"
        :model-value="values[name] as number"
        :label="arg.label"
        :min="arg.least"
        :max="arg.most"
        @update:model-value="set({ [name]: $event })"
      />
      <MergeText
        v-else-if="arg.type === 'text'"
        :model-value="String(values[name] ?? '')"
        :label="arg.label"
        :most="arg.most"
        :about="about"
        :none="arg.empty"
        :locked="locked"
        @update:model-value="set({ [name]: $event })"
      />
    </template>
  </span>
</template>

<style scoped>
.role {
  display: inline-block;
  width: 190px;
  vertical-align: middle;
}
.time {
  display: inline-block;
  vertical-align: middle;
}
.until {
  padding: 4px 0 4px 10px;
}
</style>
