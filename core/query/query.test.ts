import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { IsoDate } from '../brands.ts'
import { calendar } from '../calendar/calendar.ts'
import { dueGroup, mondayOf, sayWeek } from './due-groups.ts'
import { span } from './when.ts'

const CAL = calendar({
  holidays: [
    { date: '2026-12-25', name: 'Christmas Day' },
    { date: '2026-12-28', name: 'Boxing Day (substitute)' },
  ],
})
const TODAY = '2026-11-23' as IsoDate

describe('dates relative to now', () => {
  // Weeks begin on Monday (ISO 8601); working days as in 4.12 of the 2006 ISDA Definitions, by the
  // firm's calendar.
  it.each([
    ['a date', '2026-11-30', '2026-11-30', '2026-11-30'],
    ['today', { period: 'day', shift: 0 }, '2026-11-23', '2026-11-23'],
    ['this week', { period: 'week', shift: 0 }, '2026-11-23', '2026-11-29'],
    ['last week', { period: 'week', shift: -1 }, '2026-11-16', '2026-11-22'],
    ['this month', { period: 'month', shift: 0 }, '2026-11-01', '2026-11-30'],
    ['three months on', { period: 'month', shift: 3 }, '2027-02-01', '2027-02-28'],
    ['this quarter', { period: 'quarter', shift: 0 }, '2026-10-01', '2026-12-31'],
    ['next quarter', { period: 'quarter', shift: 1 }, '2027-01-01', '2027-03-31'],
    ['last year', { period: 'year', shift: -1 }, '2025-01-01', '2025-12-31'],
    ['ten days on', { days: 10 }, '2026-12-03', '2026-12-03'],
    ['five working days on', { days: 5, working: true }, '2026-11-30', '2026-11-30'],
    [
      'twenty-four working days on, over Christmas',
      { days: 24, working: true },
      '2026-12-29',
      '2026-12-29',
    ],
    ['a working day back', { days: -1, working: true }, '2026-11-20', '2026-11-20'],
  ] as const)('%s', (_, when, first, last) =>
    expect(span(when, TODAY, CAL)).toEqual({ first, last }),
  )
  // What compares counts working days strictly after or before the day, itself working or not.
  it.each([
    [1, '2026-11-23'],
    [2, '2026-11-24'],
    [-1, '2026-11-20'],
  ])('on a Saturday, %i working days on', (days, date) =>
    expect(span({ days, working: true }, '2026-11-21' as IsoDate, CAL).first).toBe(date),
  )
  it('refuses what is no date', () =>
    expect(() => span('2026-02-30', TODAY, CAL)).toThrow(/2026-02-30/))
  it('every day lies in its own week, month, quarter and year', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 40_000 }),
        fc.constantFrom('week', 'month', 'quarter', 'year' as const),
        (n, period) => {
          const day = new Date(n * 86_400_000).toISOString().slice(0, 10) as IsoDate
          const { first, last } = span({ period: period as 'week', shift: 0 }, day, CAL)
          expect(first <= day && day <= last).toBe(true)
          // What comes after a period begins the day after it ends.
          expect(span({ period: period as 'week', shift: 1 }, day, CAL).first).toBe(
            new Date(Date.parse(last) + 86_400_000).toISOString().slice(0, 10),
          )
        },
      ),
    ))
})

describe('where a due date stands', () => {
  it.each([
    [null, false, 'no-date'],
    ['2026-11-20', true, 'slipped'],
    ['2026-11-23', false, 'today'],
    ['2026-11-23', true, 'slipped'],
    ['2026-11-24', false, 'tomorrow'],
    ['2026-11-29', false, 'week'],
    ['2026-11-30', false, 'next-week'],
    ['2026-12-06', false, 'next-week'],
    ['2026-12-07', false, 'later'],
  ] as const)('%s, missed: %s', (due, late, group) =>
    expect(dueGroup(due, late, TODAY)).toBe(group),
  )
  // ISO 8601: 2026 has 53 weeks, and 2027-01-03 is still in the last of them.
  it('weeks are named by their ISO number', () => {
    expect(sayWeek(mondayOf('2026-11-25'))).toBe('Week 48, 23 to 29 November')
    expect(sayWeek(mondayOf('2027-01-03'))).toBe('Week 53, 28 December to 3 January')
  })
})
