import { describe, expect, it } from 'vitest'
import type { IsoDate, LocalTime } from '../brands.ts'
import { calendar } from '../calendar/calendar.ts'
import { formatPattern, merge, servedPeriod } from '../text/merge.ts'
import { plural, sayDate, sayLongDate, sayMinutes } from '../text/speak.ts'
import { evaluateLadder, missedAt, rungAt } from './ladder.ts'

const cal = calendar({ holidays: ['2026-12-25', '2026-12-28'] })
const zone = 'Europe/London'
const due = (date: string, time: string | null = null) => ({
  date: date as IsoDate,
  time: time as LocalTime | null,
})
const iso = (at: number) => new Date(at).toISOString().slice(0, 16)

describe('ladders', () => {
  // Source: the definition (n-th working day after the due, 09:00 unless a time is given), counted
  // by hand.
  it.each([
    ['2026-11-20', { days: 1, unit: 'working' }, '2026-11-23T09:00'],
    ['2026-11-20', { days: 3, unit: 'working', time: '10:30' }, '2026-11-25T10:30'],
    ['2026-11-20', { days: 1, unit: 'calendar' }, '2026-11-21T09:00'],
    ['2026-11-21', { days: 1, unit: 'working' }, '2026-11-23T09:00'],
    ['2026-12-24', { days: 1, unit: 'working' }, '2026-12-29T09:00'],
    ['2026-11-20', { hours: 4 }, '2026-11-21T04:00'],
    ['2026-07-03', { days: 1, unit: 'working' }, '2026-07-06T08:00'],
  ] as const)('due %s, rung %j fires %s UTC', (date, delay, at) =>
    expect(iso(rungAt(delay as never, due(date), cal, zone))).toBe(at),
  )

  it('a date-only due is missed when its day ends, one with a time at that time', () => {
    expect(iso(missedAt(due('2026-11-20'), zone))).toBe('2026-11-21T00:00')
    expect(iso(missedAt(due('2026-11-20', '15:00'), zone))).toBe('2026-11-20T15:00')
  })
  it('stands between the rungs reached and the next', () => {
    const rungs = [
      { days: 1, unit: 'working' as const },
      { days: 3, unit: 'working' as const },
      { days: 5, unit: 'working' as const },
    ]
    const standing = evaluateLadder(
      rungs,
      due('2026-11-18'),
      cal,
      zone,
      Date.parse('2026-11-23T09:00:00Z'),
    )
    expect(standing.reached.map((r) => r.rung)).toEqual([0, 1])
    expect(standing.next).toMatchObject({ rung: 2 })
    expect(iso(standing.next!.at)).toBe('2026-11-25T09:00')
    expect(
      evaluateLadder(rungs, due('2026-11-18'), cal, zone, Date.parse('2026-12-30T00:00:00Z')).next,
    ).toBeNull()
  })
})

describe('words', () => {
  it('merge fields are filled, unknown ones left standing', () =>
    expect(
      merge('{client}, books for {period: MMMM yyyy}; {nobody}', {
        client: 'Mossgate',
        period: { date: '2026-10-01' as IsoDate },
      }),
    ).toBe('Mossgate, books for October 2026; {nobody}'))
  it.each([
    ['yyyy-MM-dd', '2026-08-05'],
    ['MMM yy', 'Aug 26'],
    ['Q yyyy', 'Q3 2026'],
    ['ww', '32'],
    ['d MMMM', '5 August'],
  ])('%s', (pattern, text) => expect(formatPattern('2026-08-05' as IsoDate, pattern)).toBe(text))
  it.each([
    ['month', 'before', '2026-02-01'],
    ['month', 'after', '2026-04-01'],
    ['quarter', 'before', '2025-10-01'],
    ['quarter', 'after', '2026-04-01'],
    ['year', 'before', '2025-01-01'],
    ['year', 'same', '2026-01-01'],
    ['week', 'after', '2026-04-06'],
  ] as const)('31 March 2026 serves the %s %s', (of, which, first) =>
    expect(servedPeriod('2026-03-31' as IsoDate, { of, which })).toBe(first),
  )
  it('dates and times are said', () => {
    expect([
      sayDate('2026-11-18', '2026-01-01'),
      sayDate('2027-01-04', '2026-11-18'),
      sayLongDate('2026-11-23'),
      sayMinutes(90),
      sayMinutes(45),
      sayMinutes(120),
      plural(1, 'task'),
      plural(2, 'task'),
    ]).toEqual([
      'Wed 18 Nov',
      'Mon 4 Jan 2027',
      'Monday, 23 November',
      '1h 30m',
      '45m',
      '2h',
      '1 task',
      '2 tasks',
    ])
  })
})
