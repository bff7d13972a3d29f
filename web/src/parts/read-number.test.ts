import { expect, it } from 'vitest'
import { readNumber } from './read-number.ts'

const DAYS = { min: 1, max: 365, whole: true, empty: false }
it.each([
  ['3', { number: 3 }],
  [' 365 ', { number: 365 }],
  ['-2', { wrong: '1 is the least.' }],
  ['−2', { wrong: '1 is the least.' }],
  ['0', { wrong: '1 is the least.' }],
  ['366', { wrong: '365 is the most.' }],
  ['1.5', { wrong: 'Say a whole number.' }],
  ['two', { wrong: '“two” is not a number.' }],
  ['1e3', { wrong: '“1e3” is not a number.' }],
  ['', { wrong: 'Say a number.' }],
])('%j is taken as it is meant, or refused', (typed, read) =>
  expect(readNumber(typed, DAYS)).toEqual(read),
)
it('where parts and nothing are answers, they are taken', () => {
  const hours = { min: 0, max: 24, whole: false, empty: true }
  expect(readNumber('1,5', hours)).toEqual({ number: 1.5 })
  expect(readNumber(' ', hours)).toEqual({ number: null })
})
