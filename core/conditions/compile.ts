import type { Field } from '../fields/field.ts'
import type { TaskFacts } from '../fields/facts.ts'
import { isRef, type Value } from '../fields/types.ts'
import { boundsOf, listFor, planned, type Asked, type Lookup, type Now, type Plan } from './ask.ts'
import type { Condition, Fault, Group, Test } from './condition.ts'

/** Whether an item is as a condition says, decided in memory. */

export type Predicate = (item: TaskFacts, now: Now) => boolean
/** Whether one value, or several, are as a test says. */
type Decide = (value: Value, now: Now) => boolean

/** What numbers, names and letters compare by, with no regard to the case of A to Z, as in SQL. */
export const caseless = (text: string): string =>
  text.replace(/[A-Z]+/g, (letters) => letters.toLowerCase())

/** Decides of several values: whether any of them is so. */
const anyOf =
  (one: (value: unknown, now: Now) => boolean): Decide =>
  (value, now) => {
    if (!Array.isArray(value)) return value !== null && one(value, now)
    for (const each of value) if (one(each, now)) return true
    return false
  }
const keyOf = (value: unknown): unknown => (isRef(value) ? value.id : value)

function inList(list: readonly (string | number)[]): Decide {
  if (list.includes('me'))
    return anyOf((value, now) => listFor(list, now.me).some((each) => each === keyOf(value)))
  if (list.length === 1) {
    const [only] = list
    return anyOf((value) => keyOf(value) === only)
  }
  const set: ReadonlySet<unknown> = new Set(list)
  return anyOf((value) => set.has(keyOf(value)))
}

function words(text: string, whole: boolean): Decide {
  const wanted = caseless(text)
  return whole
    ? anyOf((value) => caseless(String(value)) === wanted)
    : anyOf((value) => caseless(String(value)).includes(wanted))
}

const COMPARE: Readonly<
  Record<(Asked & { of: 'amount' })['by'], (number: number) => (value: unknown) => boolean>
> = {
  is: (number) => (value) => value === number,
  'at-least': (number) => (value) => (value as number) >= number,
  'at-most': (number) => (value) => (value as number) <= number,
  above: (number) => (value) => (value as number) > number,
  below: (number) => (value) => (value as number) < number,
}

/** The bounds of a date relative to now, worked out once a day. */
function day({ by, when }: Asked & { of: 'day' }, moments: boolean): Decide {
  let known: Now | null = null
  let from: string | number = ''
  let past: string | number = ''
  const bound = (now: Now) => {
    if (known !== null && known.today === now.today && known.calendar === now.calendar) return
    ;({ from, past } = boundsOf(when, moments, now))
    known = now
  }
  if (by === 'before')
    return anyOf((value, now) => (bound(now), (value as string) < (from as string)))
  if (by === 'after')
    return anyOf((value, now) => (bound(now), (value as string) >= (past as string)))
  return anyOf(
    (value, now) => (
      bound(now),
      (value as string) >= (from as string) && (value as string) < (past as string)
    ),
  )
}

const hasValue: Decide = (value) =>
  Array.isArray(value) ? value.some((each) => each !== '') : value !== null && value !== ''

/** Decides what a test says of a value, its opposite left aside. */
function decider(field: Field, means: Asked): Decide {
  switch (means.of) {
    case 'list':
      return inList(means.list)
    case 'words':
      return words(means.text, means.whole)
    case 'filled':
      return hasValue
    case 'amount':
      return anyOf(COMPARE[means.by](means.number))
    case 'truth':
      return (value) => (value === true) === means.is
    case 'day':
      return day(means, field.type === 'moment')
  }
}
const isOpposite = (means: Asked): boolean => 'not' in means && means.not

function predicate(field: Field<'task'>, means: Asked): Predicate {
  const { read } = field
  const decide = decider(field as Field, means)
  return isOpposite(means)
    ? (item, now) => !decide(read(item, now), now)
    : (item, now) => decide(read(item, now), now)
}

/** All, any or none of some predicates; short ones, which most are, without a loop. */
function together(match: Group['match'], of: readonly Predicate[]): Predicate {
  if (match === 'none') {
    const any = together('any', of)
    return of.length === 0 ? () => true : (item, now) => !any(item, now)
  }
  const [a, b, ...rest] = of
  if (!a) return () => true
  if (!b) return a
  const others = rest.length ? together(match, [b, ...rest]) : b
  return match === 'all'
    ? (item, now) => a(item, now) && others(item, now)
    : (item, now) => a(item, now) || others(item, now)
}

/**
 * A condition as a predicate, made once for a condition that is asked of many items. What cannot be
 * asked is left out and named in `faults` with its place.
 */
export function compile(
  condition: Condition,
  lookup: Lookup,
): { holds: Predicate; faults: readonly Fault[] } {
  const { plan, faults } = planned(condition, lookup, (field, means) => predicate(field, means))
  const build = (at: Plan<Predicate>): Predicate =>
    'test' in at ? at.test : together(at.match, at.of.map(build))
  return { holds: plan ? build(plan) : () => true, faults }
}

/** One test with the value it saw. */
export interface Reason {
  readonly field: Field<'task'>
  readonly test: Test
  readonly seen: Value
  readonly held: boolean
}
export interface Verdict {
  readonly holds: boolean
  readonly reasons: readonly Reason[]
  /** Where it does not hold: the first test that decided so. */
  readonly failing: Reason | null
}
export type Explain = (item: TaskFacts, now: Now) => Verdict

/** One test of a condition as it is explained: it puts down what it saw. */
type Tell = (item: TaskFacts, now: Now, reasons: Reason[]) => boolean

function tellTest(field: Field<'task'>, means: Asked, test: Test): Tell {
  const { read } = field
  const decide = decider(field as Field, means)
  const opposite = isOpposite(means)
  return (item, now, reasons) => {
    const seen = read(item, now)
    const held = decide(seen, now) !== opposite
    reasons.push({ field, test, seen, held })
    return held
  }
}
function tellGroup(match: Group['match'], of: readonly Tell[]): Tell {
  return (item, now, reasons) => {
    let held = 0
    for (const tell of of) if (tell(item, now, reasons)) held++
    if (match === 'none') return held === 0
    return match === 'all' ? held === of.length : of.length === 0 || held > 0
  }
}

/** The same as `compile`, but every test is made and told, with the value it saw. */
export function explain(
  condition: Condition,
  lookup: Lookup,
): { verdict: Explain; faults: readonly Fault[] } {
  const { plan, faults } = planned(condition, lookup, (field, means, test) =>
    tellTest(field, means, test),
  )
  const build = (at: Plan<Tell>): Tell =>
    'test' in at ? at.test : tellGroup(at.match, at.of.map(build))
  const tell = plan ? build(plan) : () => true
  return {
    verdict(item, now) {
      const reasons: Reason[] = []
      const holds = tell(item, now, reasons)
      return { holds, reasons, failing: holds ? null : failingIn(plan, reasons) }
    },
    faults,
  }
}

/**
 * The first test that decided that a condition does not hold: of all, one that did not; of none, one
 * that did; of any, the first of them.
 */
function failingIn(plan: Plan<Tell> | null, reasons: readonly Reason[]): Reason | null {
  let at = 0
  /** Whether a part holds, and the test to blame for it. */
  const walk = (part: Plan<Tell>): { held: boolean; first: Reason | null } => {
    if ('test' in part) {
      const reason = reasons[at++]!
      return { held: reason.held, first: reason }
    }
    const inner = part.of.map(walk)
    const blamed = (held: boolean) => inner.find((each) => each.held === held)?.first ?? null
    if (part.match === 'none') {
      const held = !inner.some((each) => each.held)
      return { held, first: held ? (inner[0]?.first ?? null) : blamed(true) }
    }
    const held =
      part.match === 'all'
        ? inner.every((each) => each.held)
        : inner.length === 0 || inner.some((each) => each.held)
    return { held, first: held ? blamed(true) : blamed(false) }
  }
  return plan ? walk(plan).first : null
}
