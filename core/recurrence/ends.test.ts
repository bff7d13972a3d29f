import { expect, it } from 'vitest'
import { calendar } from '#core/calendar/calendar.ts'
import { occurrences, type Schedule } from '#core/recurrence/schedule.ts'
import { endOf, withEnd } from './ends.ts'

/** RFC 5545, section 3.3.10: COUNT and UNTIL, of which a rule has one at most. */
it('reads the end a rule has, and gives it another in its place', () => {
  expect(endOf('FREQ=WEEKLY')).toEqual({ on: 'never' })
  expect(endOf('FREQ=DAILY;COUNT=10')).toEqual({ on: 'count', times: 10 })
  expect(endOf('FREQ=DAILY;UNTIL=19971224T000000Z')).toEqual({ on: 'date', date: '1997-12-24' })
  expect(withEnd('FREQ=DAILY;COUNT=10', { on: 'date', date: '2026-12-31' }, true)).toBe(
    'FREQ=DAILY;UNTIL=20261231T235959',
  )
  expect(withEnd('FREQ=DAILY;UNTIL=20261231', { on: 'never' }, false)).toBe('FREQ=DAILY')
})
it('a rule that ends after a date has that day, and one of so many times has so many', () => {
  const dates = (rule: string, start: string) =>
    [...occurrences({ start, zone: 'Europe/London', rule } as Schedule, calendar())].map(
      ({ date }) => date.slice(0, 10),
    )
  const until = withEnd('FREQ=DAILY', { on: 'date', date: '2026-11-26' }, true)
  expect(dates(until, '2026-11-24T15:00')).toEqual(['2026-11-24', '2026-11-25', '2026-11-26'])
  const allDay = withEnd('FREQ=DAILY', { on: 'date', date: '2026-11-25' }, false)
  expect(dates(allDay, '2026-11-24')).toEqual(['2026-11-24', '2026-11-25'])
  const times = withEnd('FREQ=WEEKLY', { on: 'count', times: 3 }, true)
  expect(dates(times, '2026-11-24T15:00')).toHaveLength(3)
})
