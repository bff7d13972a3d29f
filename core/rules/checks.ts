import { isGroup, type Condition, type Group, type Test } from '../conditions/condition.ts'

/** What can be said of rules before they are switched on: loops, clashes, what can never hold. */

/** A change that a rule makes, or waits for: where events are looked up, and the value set. */
export interface RuleChange {
  readonly place: string
  readonly to?: string | number | boolean | null
}
/** A rule as it is checked against others. */
export interface CheckedRule {
  readonly id: number
  /** What it changes. */
  readonly changes: readonly RuleChange[]
  /** Where what wakes it is looked up. */
  readonly wakes: readonly string[]
  /** The values that wake it; none for whichever. */
  readonly to: readonly (string | number)[]
}

/** Whether a change that one rule makes may wake a rule. */
const wakes = ({ place, to }: RuleChange, by: CheckedRule): boolean =>
  by.wakes.includes(place) &&
  (to === undefined || by.to.length === 0 || by.to.some((value) => value === to))
/** Whether a rule may wake another; itself only where it changes anything by that. */
function sets(one: CheckedRule, other: CheckedRule): boolean {
  const changing =
    one.id === other.id
      ? one.changes.filter(({ to }) => !(one.to.length === 1 && one.to[0] === to))
      : one.changes
  return changing.some((change) => wakes(change, other))
}

/**
 * The rules that set each other off in a ring with one, that one first: the shortest ring; null
 * where there is none.
 */
export function ringOf(rule: CheckedRule, all: readonly CheckedRule[]): number[] | null {
  const before = new Map<number, number | null>([[rule.id, null]])
  const byId = new Map(all.map((each) => [each.id, each]))
  const way = (id: number): number[] => {
    const ids = [id]
    for (let at = before.get(id); at != null; at = before.get(at)) ids.unshift(at)
    return ids
  }
  for (const queue = [rule.id]; queue.length > 0;) {
    const id = queue.shift()!
    const one = byId.get(id)
    if (!one) continue
    if (sets(one, rule)) return way(id)
    for (const other of all)
      if (!before.has(other.id) && sets(one, other)) {
        before.set(other.id, id)
        queue.push(other.id)
      }
  }
  return null
}

/** Rules that are woken by the same as one, and set the same field to another value; by number. */
export function clashing(
  rule: CheckedRule,
  all: readonly CheckedRule[],
): { id: number; place: string }[] {
  const values = (of: CheckedRule) => of.changes.filter(({ to }) => to !== undefined)
  return all.flatMap((other) => {
    const together = other.id !== rule.id && other.wakes.some((place) => rule.wakes.includes(place))
    const meets =
      rule.to.length === 0 || other.to.length === 0 || rule.to.some((v) => other.to.includes(v))
    if (!together || !meets) return []
    const found = values(other).find((theirs) =>
      values(rule).some((mine) => mine.place === theirs.place && mine.to !== theirs.to),
    )
    return found ? [{ id: other.id, place: found.place }] : []
  })
}

const listed = ({ value }: Test): readonly unknown[] => (Array.isArray(value) ? value : [value])
const number = ({ value }: Test): number => Number(value)
type Opposes = (a: Test, b: Test) => boolean
/** Whether two tests of one field can never both hold of one value; asked both ways round. */
const OPPOSED: Readonly<Record<string, Opposes>> = {
  'in in': (a, b) => !listed(a).some((value) => listed(b).includes(value)),
  'in not-in': (a, b) => listed(a).every((value) => listed(b).includes(value)),
  'in empty': () => true,
  'filled empty': () => true,
  'is is': (a, b) => a.value !== b.value,
  'is is-not': (a, b) => a.value === b.value,
  'is empty': (a) => typeof a.value !== 'boolean',
  'is at-least': (a, b) => number(a) < number(b),
  'is above': (a, b) => number(a) <= number(b),
  'is at-most': (a, b) => number(a) > number(b),
  'is below': (a, b) => number(a) >= number(b),
  'at-least at-most': (a, b) => number(a) > number(b),
  'at-least below': (a, b) => number(a) >= number(b),
  'above at-most': (a, b) => number(a) >= number(b),
  'above below': (a, b) => number(a) >= number(b),
  'has has-not': (a, b) => a.value === b.value,
}
const opposed: Opposes = (a, b) =>
  OPPOSED[`${a.op} ${b.op}`]?.(a, b) === true || OPPOSED[`${b.op} ${a.op}`]?.(b, a) === true

/** Tests all of which must hold, through groups of all in groups of all. */
const allOf = (condition: Condition): Test[] =>
  !isGroup(condition) ? [condition] : condition.match === 'all' ? condition.of.flatMap(allOf) : []

/**
 * Two tests that can never both hold, though both must; null where there are none such. `several`
 * says of which fields, which hold several values, one test does not tell of another.
 */
export function neverBoth(
  conditions: Group,
  several: (field: string) => boolean,
): readonly [Test, Test] | null {
  const tests = allOf(conditions)
  for (const [i, a] of tests.entries())
    for (const b of tests.slice(i + 1))
      if (a.field === b.field && !several(a.field) && opposed(a, b)) return [a, b]
  return null
}
