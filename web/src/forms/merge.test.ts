import { describe, expect, it } from 'vitest'
import { merge, partAt, withPart } from './merge.ts'

// Source: the rules of a three-way merge (common practice of version control): a part changed on
// one side alone stands as changed, on both sides alike too, otherwise it is a clash.
describe('what two people made of one thing', () => {
  const base = { name: 'Books', lead: 1, when: { days: 3, unit: 'working' } }
  it('each keeps what only they changed', () => {
    const mine = { ...base, name: 'Books, monthly' }
    const theirs = { ...base, lead: 2 }
    expect(merge(base, mine, theirs)).toEqual({
      ...{ value: { ...base, name: 'Books, monthly', lead: 2 }, clashes: [] },
    })
  })
  it('deep inside as well', () => {
    const mine = { ...base, when: { days: 5, unit: 'working' } }
    const theirs = { ...base, when: { days: 3, unit: 'days' } }
    expect(merge(base, mine, theirs)).toEqual({
      ...{ value: { ...base, when: { days: 5, unit: 'days' } }, clashes: [] },
    })
  })
  it('the same change twice is no clash', () => {
    const both = { ...base, lead: 4 }
    expect(merge(base, both, { ...both })).toEqual({ value: both, clashes: [] })
  })
  it('both changed otherwise: mine stands for now, and the place is named', () => {
    const mine = { ...base, when: { days: 5, unit: 'working' } }
    const theirs = { ...base, when: { days: 8, unit: 'working' } }
    expect(merge(base, mine, theirs)).toEqual({ value: mine, clashes: ['when.days'] })
  })
  it('a part that one made, the other did not', () => {
    expect(merge<object>(base, { ...base, note: 'x' }, base).value).toEqual({ ...base, note: 'x' })
    const { lead: _, ...without } = base
    expect(merge<object>(base, without, base).value).toEqual(without)
    expect(merge<object>(base, base, without).value).toEqual(without)
  })
  it('taken away by one, changed by the other: it stays, and is asked about', () => {
    const { lead: _, ...without } = base
    const changed = { ...base, lead: 9 }
    expect(merge<object>(base, without, changed)).toEqual({ value: changed, clashes: ['lead'] })
    expect(merge<object>(base, changed, without)).toEqual({ value: changed, clashes: ['lead'] })
  })
})

describe('lists of things with names', () => {
  const rung = (key: string, days: number) => ({ key, days })
  const base = { rungs: [rung('a', 1), rung('b', 3)] }
  it('are merged thing by thing', () => {
    const mine = { rungs: [rung('a', 2), rung('b', 3)] }
    const theirs = { rungs: [rung('a', 1), rung('b', 3), rung('c', 5)] }
    expect(merge(base, mine, theirs)).toEqual({
      ...{ value: { rungs: [rung('a', 2), rung('b', 3), rung('c', 5)] }, clashes: [] },
    })
  })
  it('one changed by both is a clash at its name', () => {
    const mine = { rungs: [rung('a', 2), rung('b', 3)] }
    const theirs = { rungs: [rung('a', 4), rung('b', 3)] }
    expect(merge(base, mine, theirs)).toEqual({ value: mine, clashes: ['rungs.a.days'] })
  })
  it('one taken out by either is gone unless the other changed it', () => {
    expect(merge(base, { rungs: [rung('b', 3)] }, base).value.rungs).toEqual([rung('b', 3)])
    expect(merge(base, base, { rungs: [rung('b', 3)] }).value.rungs).toEqual([rung('b', 3)])
    expect(merge(base, { rungs: [rung('b', 3)] }, { rungs: [rung('a', 7), rung('b', 3)] })).toEqual(
      {
        ...{ value: { rungs: [rung('a', 7), rung('b', 3)] }, clashes: ['rungs.a'] },
      },
    )
  })
  it('the order of whoever moved something stands', () => {
    const turned = { rungs: [rung('b', 3), rung('a', 1)] }
    expect(merge(base, turned, base).value).toEqual(turned)
    expect(merge(base, base, turned).value).toEqual(turned)
    const longer = { rungs: [rung('a', 1), rung('c', 2), rung('b', 3)] }
    expect(merge(base, turned, longer).value.rungs.map(({ key }) => key)).toEqual(['b', 'a', 'c'])
  })
  it('lists without names are one thing', () => {
    const words = { tags: ['a', 'b'] }
    expect(merge(words, { tags: ['a'] }, { tags: ['a', 'b', 'c'] })).toEqual({
      ...{ value: { tags: ['a'] }, clashes: ['tags'] },
    })
  })
})

describe('parts', () => {
  const value = { name: 'x', rungs: [{ key: 'a', delay: { days: 1 } }] }
  it('are found by the path a clash names', () => {
    expect(partAt(value, 'rungs.a.delay.days')).toBe(1)
    expect(partAt(value, 'rungs.z.delay')).toBeUndefined()
  })
  it('are put to what they are elsewhere', () => {
    const other = { name: 'y', rungs: [{ key: 'a', delay: { days: 9 } }] }
    expect(withPart(value, 'rungs.a.delay.days', other)).toEqual({ ...value, rungs: other.rungs })
    expect(withPart(value, 'rungs.a', { name: 'y', rungs: [] })).toEqual({ name: 'x', rungs: [] })
    expect(withPart({ name: 'x', rungs: [] as object[] }, 'rungs.a', other)).toEqual({
      ...{ name: 'x', rungs: other.rungs },
    })
  })
})
