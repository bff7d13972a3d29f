import { expect, it } from 'vitest'
import { namedBy } from './named-by.ts'

const people = ['Corrie Marlow', 'Wendel Ashgrove', 'Mara Dunne', 'Imogen Achterberg', 'Tamar Lo']
const found = (typed: string) =>
  namedBy(
    people.map((name) => ({ name })),
    typed,
  ).map(({ name }) => name)

it('finds first names first, then other names, then what has it anywhere', () => {
  expect(found('mar')).toEqual(['Mara Dunne', 'Corrie Marlow', 'Tamar Lo'])
  expect(found('ACH')).toEqual(['Imogen Achterberg'])
  expect(found('mara d')).toEqual(['Mara Dunne'])
  expect(found('')).toHaveLength(people.length)
  expect(found('zz')).toEqual([])
})
