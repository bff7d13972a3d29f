import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { calendar } from '../calendar/calendar.ts'
import { isoDate, localTime, toInstant, toLocal } from '../calendar/dates.ts'
import { afterQuiet, nextTurn, type OwnTime } from './remind.ts'
import { offsetDay } from './moment.ts'

const own = (more: Partial<OwnTime> = {}): OwnTime => ({
  ...{ zone: 'Europe/London', calendar: calendar(), quiet: null },
  ...more,
})
const at = (local: string, zone = 'Europe/London') =>
  toInstant(isoDate(local.slice(0, 10)), localTime(local.slice(11)), zone)
const quiet = (from: string, to: string) => ({ from: localTime(from), to: localTime(to) })

describe('days before and after a date', () => {
  // Counted by hand: the n-th working day strictly before or after; 28 November 2026 is a Saturday.
  it.each([
    ['2026-12-04', 2, 'working', 'before', '2026-12-02'],
    ['2026-11-30', 1, 'working', 'before', '2026-11-27'],
    ['2026-11-29', 1, 'working', 'before', '2026-11-27'],
    ['2026-11-28', 1, 'working', 'after', '2026-11-30'],
    ['2026-11-27', 3, 'working', 'after', '2026-12-02'],
    ['2026-11-27', 3, 'calendar', 'after', '2026-11-30'],
    ['2026-03-02', 2, 'calendar', 'before', '2026-02-28'],
    ['2026-11-28', 0, 'working', 'before', '2026-11-28'],
  ] as const)('%s, %i %s days %s: %s', (date, days, unit, side, day) =>
    expect(offsetDay({ days, unit, side }, isoDate(date), calendar())).toBe(day),
  )
})

describe('quiet hours', () => {
  it.each([
    ['19:00', '08:00', '2026-11-23T21:00', '2026-11-24T08:00'],
    ['19:00', '08:00', '2026-11-24T06:59', '2026-11-24T08:00'],
    ['19:00', '08:00', '2026-11-24T08:00', '2026-11-24T08:00'],
    ['19:00', '08:00', '2026-11-24T18:59', '2026-11-24T18:59'],
    ['12:00', '13:00', '2026-11-24T12:30', '2026-11-24T13:00'],
    ['09:00', '09:00', '2026-11-24T09:00', '2026-11-24T09:00'],
  ])('from %s to %s put %s off to %s', (from, to, given, wanted) =>
    expect(afterQuiet(at(given), own({ quiet: quiet(from, to) }))).toBe(at(wanted)),
  )
  it('never put anything into themselves, and never off by a day or more', () => {
    const time = fc.integer({ min: 0, max: 1_439 }).map((m) => {
      const two = (n: number) => String(n).padStart(2, '0')
      return localTime(`${two(Math.floor(m / 60))}:${two(m % 60)}`)
    })
    const day = Date.UTC(2026, 10, 23)
    fc.assert(
      fc.property(time, time, fc.integer({ min: 0, max: 3 * 1_440 }), (from, to, minute) => {
        const moment = day + minute * 60_000
        const put = afterQuiet(moment, own({ quiet: { from, to } }))
        expect(put).toBeGreaterThanOrEqual(moment)
        expect(put - moment).toBeLessThan(86_400_000)
        expect(afterQuiet(put, own({ quiet: { from, to } }))).toBe(put)
      }),
    )
  })
})

describe('turns', () => {
  const first = isoDate('2026-11-27')
  const time = localTime('09:00')
  it('once, it comes on its first day and never again', () => {
    const once = { first, time, daily: false }
    expect(nextTurn(once, own(), at('2026-11-23T12:00'))).toEqual({
      day: first,
      at: at('2026-11-27T09:00'),
    })
    expect(nextTurn(once, own(), at('2026-11-27T09:00'))).toBeNull()
  })
  it('daily, it comes on each working day of theirs from then on', () => {
    const daily = { first, time, daily: true }
    const wendel = own({ calendar: calendar({ week: ['TU', 'FR'] }), zone: 'America/New_York' })
    let now: number = at('2026-11-23T12:00')
    const days: string[] = []
    for (let i = 0; i < 4; i++) {
      const turn = nextTurn(daily, wendel, now)!
      days.push(`${turn.day} ${toLocal(turn.at, 'Europe/London').time.slice(0, 5)}`)
      now = turn.at
    }
    // Nine in New York is two in the afternoon in London.
    expect(days).toEqual([
      ...['2026-11-27 14:00', '2026-12-01 14:00', '2026-12-04 14:00', '2026-12-08 14:00'],
    ])
  })
})
