<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import type { Fault, Group, Test } from '#core/conditions/condition.ts'
import type { When } from '#core/query/when.ts'
import { WAS } from '#core/fields/field.ts'
import { inBox } from '#core/fields/say.ts'
import { FIELD_TYPES, type Choice, type Op } from '#core/fields/types.ts'
import { readMoney } from '#core/money/money.ts'
import { readMinutes, readNumber } from '#core/text/read.ts'
import { sayMinutes } from '#web/parts/say.ts'
import TypeIn from '#web/parts/TypeIn.vue'
import type { About } from '#contract/actions/action.ts'
import { asksOf } from '#contract/rule-fields.ts'
import { askedIn, choicesFor, fieldOf, type TaskField } from './fields.ts'
import ChoicePick from './ChoicePick.vue'
import type { Known } from './known.ts'
import WhenEdit from './WhenEdit.vue'
import RemoveButton from '#web/parts/RemoveButton.vue'

/**
 * A condition: tests of which all, any or none must hold; groups nest. What could not be asked is
 * marked where it stands. In a rule nobody looks, and what it was before can be asked.
 */
const condition = defineModel<Group>({ required: true })
const props = withDefaults(
  defineProps<{
    known: Known
    faults?: readonly Fault[]
    place?: string
    inRule?: boolean
    /** What a rule is about: of what is no task, only where it stands can be asked. */
    about?: About
    locked?: boolean
    /** What is said where nothing is asked. */
    nothing?: string
  }>(),
  {
    ...{ place: '', faults: () => [], inRule: false, locked: false, about: 'task' },
    nothing: 'nothing asked: every task',
  },
)
defineEmits<{ remove: [] }>()
const fields = computed(() =>
  askedIn(props.known, props.inRule).filter(({ name }) => asksOf(name, props.about)),
)
/** Under what a field is offered: what it belongs to. */
function placeOf({ name, label, custom }: TaskField): string {
  if (name.startsWith(WAS)) return 'Before the change'
  if (custom !== undefined) return 'Own fields'
  if (name.startsWith('entered:')) return 'Dates of states'
  return name.includes('.') ? label.split(':')[0]! : 'The task'
}
const byPlace = computed(() => {
  const places = new Map<string, TaskField[]>()
  for (const each of fields.value)
    places.set(placeOf(each), [...(places.get(placeOf(each)) ?? []), each])
  return [...places].flatMap(([of, own]) => [
    { type: 'subheader', title: of },
    ...own.map((f) => ({ value: f.name, title: f.label })),
  ])
})
const offered = (now: string) =>
  field(now) ? byPlace.value : [{ value: now, title: 'a field that is gone' }, ...byPlace.value]
const MATCHES = [
  { value: 'all', title: 'all of' },
  { value: 'any', title: 'any of' },
  { value: 'none', title: 'none of' },
]
const TRUTHS = [
  { value: true, title: 'yes' },
  { value: false, title: 'no' },
]
const here = (i: number) => (props.place ? `${props.place}.${i}` : String(i))
const set = (i: number, next: Test | Group | null) =>
  (condition.value = {
    ...condition.value,
    of: condition.value.of.flatMap((each, n) => (n === i ? (next ? [next] : []) : [each])),
  })
const root = ref<HTMLElement | null>(null)
/** Adds a test or a group; the next key goes to what it is about. */
async function add(next: Test | Group): Promise<void> {
  condition.value = { ...condition.value, of: [...condition.value.of, next] }
  await nextTick()
  const added = [...(root.value?.children ?? [])].filter((el) => el.matches('.fr, .fg')).at(-1)
  added?.querySelector<HTMLElement>('input:not([type=hidden])')?.focus()
}
const field = (path: string) => fieldOf(props.known, path)
const typeOf = (path: string) => field(path)?.type ?? 'text'
const operandOf = (path: string) => FIELD_TYPES[typeOf(path)].operand
const opsOf = (path: string) => FIELD_TYPES[typeOf(path)].ops
const fault = (i: number) => props.faults.find((f) => f.place === here(i))?.detail
const listed = (test: Test): readonly (string | number)[] =>
  Array.isArray(test.value)
    ? (test.value as (string | number)[])
    : typeof test.value === 'string' || typeof test.value === 'number'
      ? [test.value]
      : []

const BLANK = {
  list: [],
  text: '',
  amount: 0,
  truth: true,
  day: { period: 'week', shift: 0 },
} as const
const blank = (path: string, op: Op): Test =>
  op === 'empty' || op === 'filled'
    ? { field: path, op }
    : { field: path, op, value: BLANK[operandOf(path)] }
function toOp(i: number, test: Test, op: Op): void {
  const next = blank(test.field, op)
  // What was chosen stays, where the other way of asking takes it too.
  const stays = test.value !== undefined && next.value !== undefined
  set(i, stays ? { ...next, value: test.value } : next)
}
/** Somebody chosen takes the place of whoever looks, which a new test begins with. */
function setList(i: number, test: Test, value: readonly (string | number)[]): void {
  const [before] = listed(test)
  const replaces = before === 'me' && listed(test).length === 1 && value.length === 2
  set(i, { ...test, value: replaces ? value.slice(1) : value })
}
const people = new Set(['person', 'people'])
const choices = (path: string): Choice[] => [
  ...(people.has(typeOf(path)) && !props.inRule ? [{ value: 'me', name: 'Whoever looks' }] : []),
  ...choicesFor(props.known, path),
]
const sayAmount = (test: Test) => {
  const value = Number(test.value) || 0
  const of = field(test.field)
  return of?.type === 'minutes' ? sayMinutes(value) : of ? inBox(of, value) : String(value)
}
function amount(test: Test, text: string): number | null {
  const of = field(test.field)
  if (of?.type === 'minutes') return readMinutes(text, true)
  return of?.type === 'money' ? readMoney(text, of.currency ?? 'GBP') : readNumber(text)
}
const notAmount = (test: Test) => (text: string) =>
  amount(test, text) !== null
    ? null
    : typeOf(test.field) === 'minutes'
      ? `“${text}” is no length of time. Write 90, 1h 30m or 1:30.`
      : `“${text}” is no number. Write 12 or 12.5.`
const first = computed((): Test =>
  props.about !== 'task'
    ? { field: 'client.tier', op: 'in', value: [] }
    : props.inRule
      ? { field: 'priority', op: 'in', value: ['urgent'] }
      : { field: 'assignee', op: 'in', value: ['me'] },
)
</script>

<template>
  <div ref="root" class="fg" :class="{ inner: place }">
    <div class="fr">
      <v-select
        class="short"
        aria-label="How many must hold"
        :model-value="condition.match"
        :items="MATCHES"
        @update:model-value="condition = { ...condition, match: $event }"
      />
      <span v-if="!condition.of.length" class="quiet small">{{ nothing }}</span>
      <RemoveButton
        v-if="place && !locked"
        aria-label="Remove this group"
        @click="$emit('remove')"
      />
    </div>
    <template v-for="(each, i) in condition.of" :key="i">
      <ConditionEdit
        v-if="'match' in each"
        :model-value="each"
        :known="known"
        :faults="faults"
        :place="here(i)"
        :in-rule="inRule"
        :about="about"
        :locked="locked"
        @update:model-value="set(i, $event)"
        @remove="set(i, null)"
      />
      <div v-else class="fr" :class="{ gone: fault(i) }">
        <v-autocomplete
          class="fld"
          aria-label="Field"
          :model-value="each.field"
          :items="offered(each.field)"
          @update:model-value="$event && set(i, blank($event, opsOf($event)[0]!.op))"
        />
        <v-select
          v-if="opsOf(each.field).length > 1"
          class="short"
          aria-label="How"
          :model-value="each.op"
          :items="opsOf(each.field)"
          item-title="name"
          item-value="op"
          @update:model-value="toOp(i, each, $event)"
        />
        <template v-if="each.op !== 'empty' && each.op !== 'filled'">
          <ChoicePick
            v-if="operandOf(each.field) === 'list'"
            :model-value="listed(each)"
            :choices="choices(each.field)"
            label="Value"
            none="choose"
            @update:model-value="setList(i, each, $event)"
          />
          <WhenEdit
            v-else-if="operandOf(each.field) === 'day'"
            :model-value="each.value as When"
            @update:model-value="set(i, { ...each, value: $event })"
          />
          <v-select
            v-else-if="operandOf(each.field) === 'truth'"
            class="short"
            aria-label="Value"
            :model-value="each.value !== false"
            :items="TRUTHS"
            @update:model-value="set(i, { ...each, value: $event })"
          />
          <TypeIn
            v-else-if="operandOf(each.field) === 'amount'"
            :key="`${i} ${each.field} ${condition.of.length}`"
            class="n"
            inputmode="decimal"
            label="Value"
            :value="sayAmount(each)"
            :check="notAmount(each)"
            @typed="set(i, { ...each, value: amount(each, $event) ?? 0 })"
          />
          <v-text-field
            v-else
            class="t"
            aria-label="Value"
            :model-value="each.value as string"
            @change="set(i, { ...each, value: ($event.target as HTMLInputElement).value })"
          />
        </template>
        <RemoveButton v-if="!locked" aria-label="Remove this test" @click="set(i, null)" />
        <span v-if="fault(i)" class="wrong" role="alert">{{ fault(i) }}</span>
      </div>
    </template>
    <p v-if="!locked" class="btns">
      <v-btn variant="text" @click="add(first)">Add a test</v-btn>
      <v-btn
        variant="text"
        v-if="place.split('.').length < 3"
        @click="add({ match: 'any', of: [] })"
      >
        Add a group
      </v-btn>
    </p>
  </div>
</template>

<style scoped>
.fg {
  display: grid;
  gap: 4px;
}
.inner {
  border-left: 2px solid var(--rule-strong);
  padding-left: 10px;
}
.fr {
  display: flex;
  gap: 5px;
  align-items: center;
  flex-wrap: wrap;
}
.fr .v-input {
  flex: none;
}
.short {
  width: 120px;
}
.fld {
  width: 190px;
}
.fr .n {
  width: 90px;
}
.fr .t {
  width: 200px;
}
.gone {
  background: var(--alarm-wash);
  border-radius: 4px;
}
</style>
