<script setup lang="ts">
import { mdiClose } from '@mdi/js'
import { computed } from 'vue'
import type { When } from '#core/query/when.ts'
import { inUnits, readMoney } from '#core/money/money.ts'
import { readMinutes, readNumber } from '#core/text/read.ts'
import { customId, OPS, type Op } from '#contract/fields.ts'
import type { Clause, Fault, Filter } from '#contract/query.ts'
import Glyph from '#web/parts/Glyph.vue'
import { sayMinutes } from '#web/parts/say.ts'
import TypeIn from '#web/parts/TypeIn.vue'
import { choicesFor, fieldsIn, specOf } from './fields.ts'
import type { Known } from './known.ts'
import WhenEdit from './WhenEdit.vue'

/**
 * Tests of which all, any or none must hold; groups nest. What the server could not ask is marked
 * where it stands.
 */
const filter = defineModel<Filter>({ required: true })
const props = withDefaults(
  defineProps<{ known: Known; faults?: readonly Fault[]; place?: string }>(),
  { place: '', faults: () => [] },
)
defineEmits<{ remove: [] }>()
const fields = computed(() =>
  fieldsIn(props.known).filter((f) => f.field !== 'week' && f.field !== 'month'),
)
const here = (i: number) => (props.place ? `${props.place}.${i}` : String(i))
const set = (i: number, next: Clause | Filter | null) =>
  (filter.value = {
    ...filter.value,
    of: filter.value.of.flatMap((each, n) => (n === i ? (next ? [next] : []) : [each])),
  })
const add = (next: Clause | Filter) =>
  (filter.value = { ...filter.value, of: [...filter.value.of, next] })
const typeOf = (field: string) => specOf(props.known, field)?.type ?? 'text'
const opsOf = (field: string) => OPS[typeOf(field)]
const fault = (i: number) => props.faults.find((f) => f.place === here(i))?.detail
const listed = (c: Clause): readonly (string | number)[] =>
  Array.isArray(c.value) ? (c.value as (string | number)[]) : []

function blank(field: string, op: Op): Clause {
  if (op === 'empty' || op === 'filled') return { field, op }
  switch (typeOf(field)) {
    case 'choice':
    case 'people':
      return { field, op, value: [] }
    case 'date':
    case 'instant':
      return { field, op, value: { period: 'week', shift: 0 } }
    case 'flag':
      return { field, op, value: true }
    case 'text':
    case 'link':
      return { field, op, value: '' }
    default:
      return { field, op, value: 0 }
  }
}
function toOp(i: number, clause: Clause, op: Op): void {
  const next = blank(clause.field, op)
  // What was chosen stays, where the other way of asking takes it too.
  set(
    i,
    clause.value !== undefined && next.value !== undefined
      ? { ...next, value: clause.value }
      : next,
  )
}
const choices = (field: string) => [
  ...(typeOf(field) === 'people' ? [{ value: 'me', name: 'Whoever looks' }] : []),
  ...choicesFor(props.known, field),
]
const toggle = (i: number, c: Clause, value: string | number) =>
  set(i, {
    ...c,
    value: listed(c).includes(value) ? listed(c).filter((v) => v !== value) : [...listed(c), value],
  })
const currencyOf = (field: string) =>
  props.known.directory.fields.find((f) => f.id === customId(field))?.options.currency ?? 'GBP'
const amounts = new Set(['number', 'money', 'minutes'])
const sayAmount = (c: Clause) =>
  typeOf(c.field) === 'minutes'
    ? sayMinutes(Number(c.value) || 0)
    : typeOf(c.field) === 'money'
      ? String(inUnits(Number(c.value), currencyOf(c.field)))
      : String(c.value)
function amount(c: Clause, text: string): number | null {
  const type = typeOf(c.field)
  return type === 'minutes'
    ? readMinutes(text, true)
    : type === 'money'
      ? readMoney(text, currencyOf(c.field))
      : readNumber(text)
}
const notAmount = (c: Clause) => (text: string) =>
  amount(c, text) !== null
    ? null
    : typeOf(c.field) === 'minutes'
      ? `“${text}” is no length of time. Write 90, 1h 30m or 1:30.`
      : `“${text}” is no number. Write 12 or 12.5.`
const said = (c: Clause) =>
  listed(c)
    .map((v) => choices(c.field).find((x) => x.value === v)?.name ?? 'one that is gone')
    .join(' or ') || 'choose'
</script>

<template>
  <div class="fg" :class="{ inner: place }">
    <div class="fr">
      <select
        class="inp"
        aria-label="How many must hold"
        :value="filter.match"
        @change="
          filter = {
            ...filter,
            match: ($event.target as HTMLSelectElement).value as Filter['match'],
          }
        "
      >
        <option value="all">all of</option>
        <option value="any">any of</option>
        <option value="none">none of</option>
      </select>
      <span v-if="!filter.of.length" class="quiet small">nothing asked: every task</span>
      <button v-if="place" class="x" aria-label="Remove this group" @click="$emit('remove')">
        <Glyph :path="mdiClose" :size="15" />
      </button>
    </div>
    <template v-for="(each, i) in filter.of" :key="i">
      <FilterGroup
        v-if="'match' in each"
        :model-value="each"
        :known="known"
        :faults="faults"
        :place="here(i)"
        @update:model-value="set(i, $event)"
        @remove="set(i, null)"
      />
      <div v-else class="fr" :class="{ gone: fault(i) }">
        <select
          class="inp"
          aria-label="Field"
          :value="each.field"
          @change="
            (($event.target as HTMLSelectElement).value,
            set(
              i,
              blank(
                ($event.target as HTMLSelectElement).value,
                opsOf(($event.target as HTMLSelectElement).value)[0]!.op,
              ),
            ))
          "
        >
          <option v-if="!specOf(known, each.field)" :value="each.field">
            a field that is gone
          </option>
          <option v-for="f in fields" :key="f.field" :value="f.field">{{ f.name }}</option>
        </select>
        <select
          v-if="opsOf(each.field).length > 1"
          class="inp"
          aria-label="How"
          :value="each.op"
          @change="toOp(i, each, ($event.target as HTMLSelectElement).value as Op)"
        >
          <option v-for="o in opsOf(each.field)" :key="o.op" :value="o.op">{{ o.name }}</option>
        </select>
        <template v-if="each.op !== 'empty' && each.op !== 'filled'">
          <v-menu
            v-if="typeOf(each.field) === 'choice' || typeOf(each.field) === 'people'"
            :close-on-content-click="false"
          >
            <template #activator="{ props: menu }">
              <button v-bind="menu" type="button" class="val" :aria-label="`Value: ${said(each)}`">
                {{ said(each) }}
              </button>
            </template>
            <div class="menu">
              <button
                v-for="c in choices(each.field)"
                :key="c.value"
                type="button"
                :class="{ on: listed(each).includes(c.value) }"
                :aria-pressed="listed(each).includes(c.value)"
                @click="toggle(i, each, c.value)"
              >
                {{ listed(each).includes(c.value) ? '✓ ' : '' }}{{ c.name }}
              </button>
            </div>
          </v-menu>
          <WhenEdit
            v-else-if="typeOf(each.field) === 'date' || typeOf(each.field) === 'instant'"
            :model-value="each.value as When"
            @update:model-value="set(i, { ...each, value: $event })"
          />
          <select
            v-else-if="typeOf(each.field) === 'flag'"
            class="inp"
            aria-label="Value"
            :value="each.value === false ? 'no' : 'yes'"
            @change="
              set(i, { ...each, value: ($event.target as HTMLSelectElement).value === 'yes' })
            "
          >
            <option value="yes">yes</option>
            <option value="no">no</option>
          </select>
          <TypeIn
            v-else-if="amounts.has(typeOf(each.field))"
            :key="`${i} ${each.field} ${filter.of.length}`"
            class="n"
            inputmode="decimal"
            label="Value"
            :value="sayAmount(each)"
            :check="notAmount(each)"
            @typed="set(i, { ...each, value: amount(each, $event) ?? 0 })"
          />
          <input
            v-else
            class="inp t"
            aria-label="Value"
            :value="each.value as string"
            @change="set(i, { ...each, value: ($event.target as HTMLInputElement).value })"
          />
        </template>
        <button class="x" aria-label="Remove this test" @click="set(i, null)">
          <Glyph :path="mdiClose" :size="15" />
        </button>
        <span v-if="fault(i)" class="wrong" role="alert">{{ fault(i) }}</span>
      </div>
    </template>
    <p class="btns">
      <button class="btn flat" @click="add({ field: 'assignee', op: 'in', value: ['me'] })">
        Add a test
      </button>
      <button
        v-if="place.split('.').length < 3"
        class="btn flat"
        @click="add({ match: 'any', of: [] })"
      >
        Add a group
      </button>
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
.fr :deep(.inp) {
  width: auto;
}
.fr :deep(.n) {
  width: 90px;
}
.fr .t {
  width: 200px;
}
.val {
  color: var(--dusk);
  background: var(--dusk-wash);
  border: 1px solid color-mix(in srgb, var(--dusk) 35%, transparent);
  border-radius: 4px;
  padding: 4px 8px;
  font-weight: 550;
}
.gone {
  background: var(--alarm-wash);
  border-radius: 4px;
}
</style>
