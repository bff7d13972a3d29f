import { expect, it } from 'vitest'
import { initials, sayInstant, sayState } from './say.ts'

it('says an instant: the time today, the day otherwise, in the firm’s zone', () => {
  const at = Date.parse('2026-07-01T08:05:00Z')
  expect(sayInstant(at, '2026-07-01', 'Europe/London')).toBe('09:05')
  expect(sayInstant(at, '2026-07-02', 'Europe/London')).toBe('Wed 1 Jul, 09:05')
  expect(sayInstant(Date.parse('2026-06-30T23:30:00Z'), '2026-07-01', 'Europe/London')).toBe(
    '00:30',
  )
  expect(sayInstant(at, '2027-01-01', 'Europe/London')).toBe('Wed 1 Jul 2026, 09:05')
})
it('takes two initials', () =>
  expect(['Imogen Achterberg', 'Pell & Dray', 'Corrie'].map(initials)).toEqual(['IA', 'PD', 'C']))
it('names states', () =>
  expect([sayState('in-review'), sayState('dropped')]).toEqual(['In review', 'Dropped']))
