import { expect, it } from 'vitest'
import { sameName, shortName } from './short-name.ts'

it.each([
  ['Mossgate Veterinary Clinic', 'Mossgate'],
  ['The Mill Lane Practice Ltd', 'Mill Lane'],
  ['Beck Side, dentists', 'Beck Side'],
  ['Copperbeck, The', 'Copperbeck'],
  ['The', 'The'],
  ['A'.repeat(80), 'A'.repeat(24)],
  ['  ', ''],
])('%j is called %j', (name, short) => expect(shortName(name)).toBe(short))

it.each([
  ['Mossgate Vets Ltd.', 'The MOSSGATE Vets'],
  ['Café Lune & Co.', 'Cafe Lune'],
  ['Tarn and Teasel Vets', 'Tarn & Teasel Vets'],
])('%s and %s are most likely the same', (one, other) => {
  expect(sameName(one)).toBe(sameName(other))
  expect(sameName(one)).not.toBe('')
})
it('names that tell nothing are like no other', () => expect(sameName('The & Co.')).toBe(''))
