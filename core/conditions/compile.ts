import type { Field } from '../fields/field.ts'
import type { TaskFacts } from '../fields/facts.ts'
import { FIELD_TYPES, type FieldType, type Ref, type Single, type Value } from '../fields/types.ts'
import {
  boundsOf,
  listFor,
  planned,
  type Asked,
  type Compare,
  type Lookup,
  type Now,
  type Plan,
} from './ask.ts'
import type { Condition, Fault, Group, Test } from './condition.ts'

/** Whether an item is as a condition says, decided in memory. */

export type Predicate = (item: TaskFacts, now: Now) => boolean
/**
 * Whether what a field holds is as a test says, or is not, if it says the opposite. What holds nothing
 * is as no test says. Each is one function, since all that is asked goes through them.
 */
type Decide = (value: Value, now: Now) => boolean

/** The letters A to Z with no regard to their case, as SQL compares them. */
export const caseless = (text: string): string =>
  text.replace(/[A-Z]+/g, (letters) => letters.toLowerCase())

/** Whether a number or a word is one of some; most lists are short. */
function among(list: readonly (string | number)[]): (key: unknown, now: Now) => boolean {
  if (list.includes('me')) return (key, now) => listFor(list, now.me).some((each) => each === key)
  const [a, b, c] = list
  if (list.length === 1) return (key) => key === a
  if (list.length === 2) return (key) => key === a || key === b
  if (list.length === 3) return (key) => key === a || key === b || key === c
  const set: ReadonlySet<unknown> = new Set(list)
  return (key) => set.has(key)
}
function inList(list: readonly (string | number)[], numbered: boolean, not: boolean): Decide {
  const has = among(list)
  return numbered
    ? (value, now) => (value !== null && has((value as Ref).id, now)) !== not
    : (value, now) => has(value, now) !== not
}

function words({ text, whole }: Asked & { of: 'words' }, not: boolean): Decide {
  const wanted = caseless(text)
  return whole
    ? (value) => (value !== null && caseless(String(value)) === wanted) !== not
    : (value) => (value !== null && caseless(String(value)).includes(wanted)) !== not
}

const AMOUNTS: Readonly<Record<Compare, (n: number, not: boolean) => Decide>> = {
  is: (n, not) => (value) => (value === n) !== not,
  'at-least': (n, not) => (value) => (value !== null && (value as number) >= n) !== not,
  'at-most': (n, not) => (value) => (value !== null && (value as number) <= n) !== not,
  above: (n, not) => (value) => (value !== null && (value as number) > n) !== not,
  below: (n, not) => (value) => (value !== null && (value as number) < n) !== not,
}

/** The bounds of a date relative to now, worked out once a day. */
function day({ by, when }: Asked & { of: 'day' }, moments: boolean): Decide {
  let known: Now | null = null
  let from: string | number = ''
  let past: string | number = ''
  const bound = (now: Now) => {
    if (known?.today !== now.today || known.calendar !== now.calendar)
      ({ from, past } = boundsOf(when, moments, now))
    known = now
  }
  return (value, now) => {
    if (value === null) return false
    if (known !== now) bound(now)
    if (by === 'before') return (value as string) < (from as string)
    if (by === 'after') return (value as string) >= (past as string)
    return (value as string) >= (from as string) && (value as string) < (past as string)
  }
}

/** Decides of one value, or of nothing. */
function ofOne(type: FieldType, means: Asked, not: boolean): Decide {
  switch (means.of) {
    case 'list':
      return inList(means.list, FIELD_TYPES[type].numbered === true, not)
    case 'words':
      return words(means, not)
    case 'filled':
      return (value) => (value !== null && value !== '') !== not
    case 'amount':
      return AMOUNTS[means.by](means.number, not)
    case 'truth':
      return (value) => (value === true) === means.is
    case 'day':
      return day(means, type === 'moment')
  }
}

/** Decides of what a field holds: of several values, whether any of them is so. */
function deciding({ type, many }: Field<'task'>, means: Asked): Decide {
  const not = 'not' in means && means.not
  if (!many) return ofOne(type, means, not)
  const one = ofOne(type, means, false)
  return (values, now) => {
    if (values !== null)
      for (const each of values as readonly Single[]) if (one(each, now)) return !not
    return not
  }
}

function predicate(field: Field<'task'>, means: Asked): Predicate {
  const { read } = field
  const decide = deciding(field, means)
  return (item, now) => decide(read(item, now), now)
}

/** All or any of some predicates; few, as they mostly are, without a loop. */
function together(match: Group['match'], of: readonly Predicate[]): Predicate {
  if (match === 'none') {
    const any = together('any', of)
    return of.length === 0 ? any : (item, now) => !any(item, now)
  }
  const [a, b, c, ...more] = of
  if (!a) return () => true
  if (!b) return a
  const all = match === 'all'
  if (!c)
    return all
      ? (item, now) => a(item, now) && b(item, now)
      : (item, now) => a(item, now) || b(item, now)
  const rest = more.length ? together(match, [c, ...more]) : c
  return all
    ? (item, now) => a(item, now) && b(item, now) && rest(item, now)
    : (item, now) => a(item, now) || b(item, now) || rest(item, now)
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

/** A test that is told, and where it stands among all. */
interface Told {
  readonly field: Field<'task'>
  readonly test: Test
  readonly at: number
  readonly decide: Decide
}

/** What all tests saw of one item, put down as they are made; told when somebody asks. */
class Seen implements Verdict {
  // Declared only: assigning is all there is to it, since one is made for every item.
  declare readonly tests: readonly Told[]
  declare readonly plan: Plan<Told> | null
  /** What each test saw and whether it held, one after the other, in the order of the tests. */
  declare readonly log: (Value | boolean)[]
  declare holds: boolean
  constructor(tests: readonly Told[], plan: Plan<Told> | null, log: Seen['log']) {
    this.tests = tests
    this.plan = plan
    this.log = log
    this.holds = true
  }
  get reasons(): Reason[] {
    return this.tests.map(({ field, test, at }) => ({
      ...{ field, test, seen: this.log[2 * at]!, held: this.log[2 * at + 1] === true },
    }))
  }
  get failing(): Reason | null {
    return this.holds || !this.plan ? null : blamed(this.plan, this.reasons).first
  }
}
/** A part of a condition, every test of which is made, in order. */
type Tell = (item: TaskFacts, now: Now, log: Seen['log']) => boolean
function tellTest({ field: { read }, decide, at }: Told): Tell {
  return (item, now, log) => {
    const value = read(item, now)
    const held = decide(value, now)
    log[2 * at] = value
    log[2 * at + 1] = held
    return held
  }
}
/** All, any or none of some parts, every one of them told; few, as they mostly are, without a loop. */
function tellGroup(match: Group['match'], of: readonly Tell[]): Tell {
  if (match === 'none') {
    const any = tellGroup('any', of)
    return of.length === 0 ? any : (item, now, log) => !any(item, now, log)
  }
  const [a, b, c, ...more] = of
  if (!a) return () => true
  if (!b) return a
  const all = match === 'all'
  if (!c)
    return (item, now, log) => {
      const first = a(item, now, log)
      const second = b(item, now, log)
      return all ? first && second : first || second
    }
  const rest = more.length ? tellGroup(match, [c, ...more]) : c
  return (item, now, log) => {
    const first = a(item, now, log)
    const second = b(item, now, log)
    const others = rest(item, now, log)
    return all ? first && second && others : first || second || others
  }
}

/** The same as `compile`, but every test is made and told, with the value it saw. */
export function explain(
  condition: Condition,
  lookup: Lookup,
): { verdict: Explain; faults: readonly Fault[] } {
  const tests: Told[] = []
  const { plan, faults } = planned<Told>(condition, lookup, (field, means, test) => {
    const told = { field, test, at: tests.length, decide: deciding(field, means) }
    tests.push(told)
    return told
  })
  const build = (at: Plan<Told>): Tell =>
    'test' in at ? tellTest(at.test) : tellGroup(at.match, at.of.map(build))
  const tell = plan ? build(plan) : () => true
  // Copied for each item: arrays that grow, or change what they hold, cost more than the tests.
  const blank: Seen['log'] = tests.flatMap(() => [null, null])
  return {
    verdict(item, now) {
      const seen = new Seen(tests, plan, blank.slice())
      seen.holds = tell(item, now, seen.log)
      return seen
    },
    faults,
  }
}

/** Whether a part of a condition holds, and the test that decided it. */
interface Blamed {
  readonly held: boolean
  readonly first: Reason | null
}
/**
 * The first test that decided a part of a condition: of all that does not hold, one that did not; of
 * none, one that did; of any, the first of them.
 */
function blamed(part: Plan<Told>, reasons: readonly Reason[]): Blamed {
  if ('test' in part) {
    const reason = reasons[part.test.at]!
    return { held: reason.held, first: reason }
  }
  const inner = part.of.map((each) => blamed(each, reasons))
  const firstOf = (held: boolean) => inner.find((each) => each.held === held)?.first ?? null
  if (part.match === 'none') {
    const held = !inner.some((each) => each.held)
    return { held, first: held ? (inner[0]?.first ?? null) : firstOf(true) }
  }
  const held =
    part.match === 'all'
      ? inner.every((each) => each.held)
      : inner.length === 0 || inner.some((each) => each.held)
  return { held, first: firstOf(held) }
}
