import { expect, it } from 'vitest'
import type { OutlineGroup } from '#contract/query.ts'
import { asSheet, groupWith, idsIn, itemsOf, placeAt, reordered, type Item } from './grid-items.ts'

const group = (key: string, ids: number[], depths?: number[]): OutlineGroup =>
  ({ key, name: key, ids, minutes: 0, ...(depths && { depths }) }) as unknown as OutlineGroup
/** 1 has 2 and 3 under it, 3 has 4 under it. */
const groups = [group('a', [1, 2, 3, 4, 5], [0, 1, 1, 2, 0]), group('b', [6])]
const lay = (rows: number[] = [], folded: string[] = [], headed = true) =>
  itemsOf(groups, {
    headed,
    folded: { groups: new Set(folded), rows: new Set(rows) },
    addable: ({ key }) => key === 'b',
  })
const words = (items: Item[]) =>
  items.map((i) => (i.kind === 'row' ? i.id : i.kind === 'head' ? i.key : '+'))

it('lines are heads, tasks in their order, and where one is added', () => {
  expect(words(lay())).toEqual(['a', 1, 2, 3, 4, 5, 'b', 6, '+'])
  expect(words(lay([], [], false))).toEqual([1, 2, 3, 4, 5, 6, '+'])
  expect(idsIn(lay())).toEqual([1, 2, 3, 4, 5, 6])
})
it('what lies under a folded task is not among them, nor what a folded group holds', () => {
  expect(words(lay([3]))).toEqual(['a', 1, 2, 3, 5, 'b', 6, '+'])
  expect(words(lay([1, 3]))).toEqual(['a', 1, 5, 'b', 6, '+'])
  expect(words(lay([], ['a']))).toEqual(['a', 'b', 6, '+'])
})
it('a task put down takes the place of the one under it', () => {
  const items = lay([], [], false)
  expect(placeAt(items, 0, 5)).toBe(null)
  expect(placeAt(items, 2, 5)).toBe(2)
  // On the line after its own, its own is not what it stands after.
  expect(placeAt(items, 2, 2)).toBe(1)
  expect(placeAt(items, 6, 1)).toBe(6)
})
it('cells go out as spreadsheets take them in', () => {
  expect(
    asSheet([
      ['a', 'b\tc'],
      ['say "so"', 'd\ne'],
    ]),
  ).toBe('a\t"b\tc"\n"say ""so"""\t"d\ne"')
})
it('a column goes to the place of another, to either side', () => {
  const columns = ['a', 'b', 'c', 'd'].map((field) => ({ field }))
  const after = (moved: string, to: string) =>
    reordered(columns, moved, to)
      .map(({ field }) => field)
      .join('')
  expect([after('a', 'c'), after('d', 'b'), after('b', 'b')]).toEqual(['bcad', 'adbc', 'abcd'])
  expect(after('gone', 'b')).toBe('abcd')
})
it('a task that stands in several groups is taken out of the one it was picked up from', () => {
  const two = [group('7', [1, 2]), group('8', [2, 3])]
  expect(groupWith(two, 2, '8')?.key).toBe('8')
  expect([groupWith(two, 2)?.key, groupWith(two, 3, '7')?.key, groupWith(two, 9)]).toEqual([
    ...['7', '8', undefined],
  ])
})
