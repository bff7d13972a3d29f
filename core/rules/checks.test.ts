import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { compile } from '../conditions/compile.ts'
import type { Group, Test } from '../conditions/condition.ts'
import { field } from '../fields/field.ts'
import type { TaskFacts } from '../fields/facts.ts'
import { clashing, neverBoth, ringOf, type CheckedRule } from './checks.ts'

const rule = (
  id: number,
  wakes: string[],
  changes: CheckedRule['changes'],
  to: CheckedRule['to'] = [],
): CheckedRule => ({ id, wakes, changes, to })

describe('rules that set each other off', () => {
  it('are named in a ring, the shortest; what sets nothing off again is in none', () => {
    const one = rule(1, ['a'], [{ place: 'b' }])
    const two = rule(2, ['b'], [{ place: 'c' }, { place: 'd' }])
    const three = rule(3, ['c'], [{ place: 'a' }])
    const aside = rule(4, ['d'], [{ place: 'e' }])
    const all = [one, two, three, aside]
    expect(ringOf(one, all)).toEqual([1, 2, 3])
    expect(ringOf(three, all)).toEqual([3, 1, 2])
    expect(ringOf(aside, all)).toBeNull()
  })
  it('itself is one, unless it sets what it must be already', () => {
    expect(
      ringOf(rule(1, ['p'], [{ place: 'p', to: 'x' }]), [
        rule(1, ['p'], [{ place: 'p', to: 'x' }]),
      ]),
    ).toEqual([1])
    const same = rule(1, ['p'], [{ place: 'p', to: 'x' }], ['x'])
    expect(ringOf(same, [same])).toBeNull()
  })
  it('a value that another does not wait for sets it not off', () => {
    const one = rule(1, ['p'], [{ place: 'q', to: 'low' }])
    const two = rule(2, ['q'], [{ place: 'p' }], ['high'])
    expect(ringOf(one, [one, two])).toBeNull()
  })
  it('two that set one field to two values on one change clash', () => {
    const one = rule(1, ['made'], [{ place: 'p', to: 'high' }])
    const two = rule(2, ['made'], [{ place: 'p', to: 'low' }])
    const same = rule(3, ['made'], [{ place: 'p', to: 'high' }])
    const elsewhere = rule(4, ['other'], [{ place: 'p', to: 'low' }])
    expect(clashing(one, [one, two, same, elsewhere])).toEqual([{ id: 2, place: 'p' }])
  })
})

describe('conditions that can never hold', () => {
  const all = (...of: Group['of']): Group => ({ match: 'all', of })
  const never = (conditions: Group) => neverBoth(conditions, () => false)
  it.each<[string, Group, boolean]>([
    [
      'two values',
      all({ field: 'p', op: 'in', value: ['a'] }, { field: 'p', op: 'in', value: ['b'] }),
      true,
    ],
    [
      'a value shared',
      all({ field: 'p', op: 'in', value: ['a', 'b'] }, { field: 'p', op: 'in', value: ['b'] }),
      false,
    ],
    ['set, and not', all({ field: 'p', op: 'filled' }, all({ field: 'p', op: 'empty' })), true],
    [
      'in a group of any',
      all({ field: 'p', op: 'filled' }, { match: 'any', of: [{ field: 'p', op: 'empty' }] }),
      false,
    ],
    ['two fields', all({ field: 'p', op: 'filled' }, { field: 'q', op: 'empty' }), false],
  ])('%s', (_, conditions, is) => expect(never(conditions) !== null).toBe(is))
  it('are said so only where no value meets both: every value of a range is tried', () => {
    const values = [null, 0, 1, 2, 3, 4, 5]
    const test = fc.oneof(
      fc.record({
        field: fc.constant('n'),
        op: fc.constantFrom<Test['op']>('at-least', 'at-most', 'above', 'below', 'is', 'is-not'),
        value: fc.integer({ min: 1, max: 4 }),
      }),
      fc.record({ field: fc.constant('n'), op: fc.constantFrom<Test['op']>('filled', 'empty') }),
    )
    const now = { today: '2026-11-23', zone: 'Europe/London' } as never
    fc.assert(
      fc.property(test, test, (a, b) => {
        let value: number | null = null
        const n = field('task', { name: 'n', label: 'N', type: 'number', read: () => value })
        const { holds } = compile(all(a, b), () => n)
        const some = values.some((each) => {
          value = each
          return holds({} as TaskFacts, now)
        })
        if (never(all(a, b))) expect(some).toBe(false)
      }),
      { numRuns: 2_000 },
    )
  })
})
