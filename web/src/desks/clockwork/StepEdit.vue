<script setup lang="ts" generic="T extends { readonly kind: string }">
import { computed } from 'vue'
import { isTold } from '#core/fields/field.ts'
import { FIELD_TYPES } from '#core/fields/types.ts'
import { UNNAMED, type Arg, type Step, type Who } from '#contract/actions/action.ts'
import ChoicePick from '#web/fields/ChoicePick.vue'
import { choicesFor, fieldOf, fieldsIn } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'
import NumberField from '#web/parts/NumberField.vue'
import TokenPick from '#web/parts/TokenPick.vue'
import { useSession } from '#web/state/session.ts'

/** A step as a sentence to fill in: its kind, then what its arguments ask for. */
const step = defineModel<T>({ required: true })
const props = defineProps<{
  kinds: readonly Step[]
  label: string
  known: Known
  locked?: boolean
  /** What is said where nothing was written yet, instead of the kind's own. */
  wording?: string
}>()
const session = useSession()
const values = computed(() => step.value as Readonly<Record<string, unknown>>)
const kind = computed(() => props.kinds.find((each) => each.kind === step.value.kind))
const args = computed(() =>
  Object.entries((kind.value?.args ?? {}) as Record<string, Arg>).map(([name, arg]) => ({
    ...{ name, arg },
    token: tokenOf(name, arg),
  })),
)
const set = (edit: Readonly<Record<string, unknown>>) => (step.value = { ...step.value, ...edit })
function turn(to: string): void {
  const next = props.kinds.find((each) => each.kind === to)
  if (!next) return
  const text = props.wording !== undefined && 'text' in next.blank && { text: props.wording }
  step.value = { kind: to, ...next.blank, ...text } as unknown as T
}
const kinds = computed(() => props.kinds.map((each) => ({ value: each.kind, name: each.name })))

const code = (who: Who): string => ('id' in who ? `${who.is}:${who.id}` : who.is)
function decode(text: string): Who {
  const [is, id] = text.split(':')
  return (id ? { is, id: Number(id) } : { is }) as Who
}
/** Whom a step can be about; somebody who left stays while they are chosen. */
const people = (chosen: string) => [
  ...Object.entries(UNNAMED).map(([value, name]) => ({ value, name })),
  ...session.directory.people
    .filter((p) => p.active || chosen === `person:${p.id}`)
    .map((p) => ({ value: `person:${p.id}`, name: p.active ? p.name : `${p.name} (left)` })),
  ...session.directory.teams.map((t) => ({
    value: `team:${t.id}`,
    name: `least loaded in ${t.name}`,
  })),
]
/** Fields whose changes are told. */
const fields = computed(() =>
  fieldsIn(props.known)
    .filter(isTold)
    .map((field) => ({ value: field.name, name: field.label })),
)
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
      const chosen = code(value as Who)
      const options = people(chosen)
      return { value: chosen, options, tone: 'person', take: (next) => take(decode(String(next))) }
    }
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
      return { value: value as string, options: fields.value, tone: 'value', take: choose }
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
      args.value.flatMap(({ name: other, arg }) =>
        arg.type === 'values' && arg.of === name ? [[other, []]] : [],
      ),
    ),
  })
</script>

<template>
  <span>
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
        @update:model-value="token.take($event)"
      />
      <template v-else-if="arg.type === 'values' && valuesOf(arg).length">
        to
        <ChoicePick
          :model-value="listed(name)"
          :choices="valuesOf(arg)"
          :label="arg.label"
          none="whatever"
          @update:model-value="set({ [name]: $event })"
        />
      </template>
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
      <v-text-field
        v-else-if="arg.type === 'text'"
        class="text"
        :aria-label="arg.label"
        :maxlength="arg.most"
        :model-value="values[name]"
        @change="set({ [name]: ($event.target as HTMLInputElement).value })"
      />
    </template>
  </span>
</template>

<style scoped>
.text {
  width: 100%;
  max-width: 420px;
  margin: 2px 0;
}
</style>
