import type { Reason, Verdict } from '#core/conditions/compile.ts'
import type { Test } from '#core/conditions/condition.ts'
import type { Field } from '#core/fields/field.ts'
import { sayValue, type Saying } from '#core/fields/say.ts'
import { FIELD_TYPES, isRef, type Value } from '#core/fields/types.ts'
import type { Engine } from '../../engine/services.ts'

/** Why a rule ran, or did not, in words. */

const sayingOf = ({ firm }: Engine): Saying => ({
  today: firm.today(),
  zone: firm.zone(),
  clock: firm.dates().clock,
})

/** What a test compares with, as people read it: names as far as the values seen tell them. */
function sayOperand({ field, test }: Reason, at: Saying): string {
  const { value } = test
  if (value === undefined || typeof value === 'boolean') return value === false ? 'no' : ''
  if (typeof value === 'object' && 'period' in value)
    return `${['last', 'this', 'next'][value.shift + 1] ?? `${value.shift} on`} ${value.period}`
  if (typeof value === 'object' && 'days' in value)
    return `${value.days} ${value.working ? 'working days' : 'days'} from then`
  return [value]
    .flat()
    .map((each) => sayValue(field, each, at))
    .join(', ')
}
const seenAs = (reason: Reason, at: Saying): string => {
  const { field, seen } = reason
  return sayValue(field, seen, at) || 'none'
}

/** A test in words: “priority is High”. */
function asked(reason: Reason, at: Saying): string {
  const { field, test } = reason
  const op = FIELD_TYPES[field.type].ops.find((each) => each.op === test.op)?.name ?? test.op
  const wanted = [op, sayOperand(named(reason), at)].filter(Boolean).join(' ')
  return `${field.label.toLowerCase()} ${wanted}`
}
const sayReason = (reason: Reason, at: Saying): string =>
  `${asked(reason, at)}: it was ${seenAs(reason, at)}`
/** A test in words, as long as nothing was seen of it. */
export const sayTest = (engine: Engine, field: Field<'task'> | undefined, test: Test): string =>
  field ? asked({ field, test, seen: null, held: false }, sayingOf(engine)) : test.field

/** Every test of a verdict, in words, and whether it held. */
export const sayTests = (engine: Engine, { reasons }: Verdict): { said: string; held: boolean }[] =>
  reasons.map((reason) => ({ said: sayReason(reason, sayingOf(engine)), held: reason.held }))

const isList = (value: unknown): value is readonly (string | number)[] => Array.isArray(value)

/** A reason whose numbers of things are read as their names, where the values seen have them. */
function named(reason: Reason): Reason {
  const { value } = reason.test
  if (!isList(value)) return reason
  const names = new Map(refsIn(reason.seen).map(({ id, name }) => [id, name]))
  const said = value.map((each) =>
    typeof each === 'number' ? (names.get(each) ?? `#${each}`) : each,
  )
  return { ...reason, test: { ...reason.test, value: said } }
}
const refsIn = (seen: Value) => (Array.isArray(seen) ? seen : [seen]).filter(isRef)

/** Every test with the value it saw; first the one that decided, where they did not hold. */
export function sayVerdict(engine: Engine, { reasons, failing }: Verdict): string[] {
  const at = sayingOf(engine)
  return [
    ...(failing ? [`First to fail: ${sayReason(failing, at)}`] : []),
    ...reasons.map((r) => `${r.held ? 'Held' : 'Did not hold'}: ${sayReason(r, at)}`),
  ]
}
