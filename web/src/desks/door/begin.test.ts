import { expect, it } from 'vitest'
import { blank, bodyOf, hoursOf, likelyCountry, likelyZone, readDay, readWeek } from './begin.ts'

it.each([
  ['7.5', 450],
  ['7', 420],
  ['7h 30m', 450],
  ['7:30', 450],
  ['', 0],
  ['-', 0],
  ['0', 0],
  ['24', 1440],
  ['25', null],
  ['-1', null],
  ['long', null],
])('a day of %j is %j minutes', (text, minutes) => expect(readDay(text)).toBe(minutes))
it('a week begins with usual days where a country works them', () => {
  const hours = hoursOf(['SU', 'MO'])
  expect([hours.SU, hours.FR]).toEqual(['7h 30m', ''])
  expect(readWeek({ ...hours, FR: '4', SA: '?' })).toEqual({ SU: 450, MO: 450, FR: 240 })
})
it('is sent with no region where there is none, and with the key that was in the address', () => {
  expect(bodyOf(blank(), null)).not.toHaveProperty('key')
  expect(bodyOf({ ...blank(), region: 'SCT' }, 'k')).toMatchObject({ region: 'SCT', key: 'k' })
  expect(bodyOf(blank(), null).region).toBeNull()
})
it('guesses where one is from what the browser says', () => {
  const known = [{ code: 'GB', name: 'United Kingdom' }]
  expect(likelyCountry(['en', 'en-XX', 'en-GB'], known)).toBe('GB')
  expect(likelyCountry(['en'], known)).toBe('')
  const zones = ['Europe/Berlin', 'Europe/Busingen']
  expect(likelyZone({ zones }, 'Europe/Busingen')).toBe('Europe/Busingen')
  expect(likelyZone({ zones }, 'Asia/Tokyo')).toBe('Europe/Berlin')
  expect(likelyZone({ zones: [] }, 'Asia/Tokyo')).toBe('Asia/Tokyo')
})
