/** One test of a fact; `value` is a list for `in` and `not-in`, one value otherwise. */
export interface Test {
  readonly field: string
  readonly op: 'is' | 'is-not' | 'in' | 'not-in' | 'at-least' | 'at-most'
  readonly value: string | number | boolean | null | readonly (string | number)[]
}

/** Tests and groups of which all, any or none must hold. An empty group holds. */
export interface Group {
  readonly match: 'all' | 'any' | 'none'
  readonly of: readonly (Test | Group)[]
}

export type Facts = Readonly<Record<string, string | number | boolean | null>>

/** One test with the value it saw. */
export interface Reason {
  readonly field: string
  readonly op: Test['op']
  readonly value: Test['value']
  readonly seen: string | number | boolean | null
  readonly held: boolean
}

export interface Verdict {
  readonly holds: boolean
  readonly reasons: readonly Reason[]
  /** Where it does not hold: the first test that decided so. */
  readonly failing: Reason | null
}

function passes(test: Test, seen: Reason['seen']): boolean {
  switch (test.op) {
    case 'is':
      return seen === test.value
    case 'is-not':
      return seen !== test.value
    case 'in':
      return Array.isArray(test.value) && test.value.includes(seen)
    case 'not-in':
      return Array.isArray(test.value) && !test.value.includes(seen)
    case 'at-least':
      return typeof seen === 'number' && seen >= Number(test.value)
    case 'at-most':
      return typeof seen === 'number' && seen <= Number(test.value)
  }
}

/**
 * Evaluates conditions over facts, every test with the value seen; a fact that is missing counts as
 * null.
 */
export function evaluate(group: Group, facts: Facts): Verdict {
  const reasons: Reason[] = []
  let failing: Reason | null = null
  const results = group.of.map((each): boolean => {
    let held: boolean
    let first: Reason | null
    if ('match' in each) {
      const inner = evaluate(each, facts)
      reasons.push(...inner.reasons)
      held = inner.holds
      first = inner.failing ?? inner.reasons.find((r) => r.held) ?? null
    } else {
      const seen = facts[each.field] ?? null
      held = passes(each, seen)
      first = { field: each.field, op: each.op, value: each.value, seen, held }
      reasons.push(first)
    }
    if (held === (group.match === 'none')) failing ??= first
    return held
  })
  const holds =
    group.match === 'all'
      ? results.every(Boolean)
      : group.match === 'none'
        ? !results.some(Boolean)
        : results.length === 0 || results.some(Boolean)
  return { holds, reasons, failing: holds ? null : failing }
}
