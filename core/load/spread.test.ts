import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { IsoDate } from '../brands.ts'
import { calendar, isWorkingDay, type Calendar, type Weekday } from '../calendar/calendar.ts'
import { addDays, fromEpochDay, toEpochDay } from '../calendar/dates.ts'
import { spread, type Effort } from './spread.ts'

const d = (text: string) => text as IsoDate
const today = d('2026-11-23')

/** What each effort puts on each day, by going through the days. */
function byHand(efforts: readonly Effort[], cal: Calendar, free: IsoDate): Map<string, number> {
  const wanted = new Map<string, number>()
  for (const { minutes, start, due } of efforts) {
    const on: IsoDate[] = []
    for (let day = start && start > today ? start : today; day <= due; day = addDays(day, 1))
      if (isWorkingDay(cal, day)) on.push(day)
    if (on.length === 0) on.push(due > free ? due : free)
    for (const day of on) wanted.set(day, (wanted.get(day) ?? 0) + minutes / on.length)
  }
  return wanted
}

describe('load', () => {
  it('spreads over working days, late work on the first one', () => {
    const efforts = [
      { minutes: 120, start: null, due: d('2026-11-24') },
      { minutes: 30, start: null, due: d('2026-11-18') },
      { minutes: 90, start: d('2026-11-27'), due: d('2026-12-01') },
    ]
    const all = { first: today, last: d('2026-12-31') }
    expect(Object.fromEntries(spread(efforts, calendar(), today, all))).toEqual({
      '2026-11-23': 90,
      '2026-11-24': 60,
      '2026-11-27': 30,
      '2026-11-30': 30,
      '2026-12-01': 30,
    })
  })
  // Source: the definition, gone through day by day.
  it('of any window is what going through every day gives', () => {
    const now = toEpochDay(today)
    const near = (days: number) =>
      fc.integer({ min: -20, max: days }).map((n) => fromEpochDay(now + n))
    const input = fc.record({
      week: fc.subarray<Weekday>(['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'], { minLength: 1 }),
      holidays: fc.array(near(60), { maxLength: 10 }),
      efforts: fc.array(
        fc.record({
          minutes: fc.integer({ min: 1, max: 600 }),
          start: fc.option(near(80)),
          due: near(90),
        }),
        { maxLength: 6 },
      ),
      from: fc.integer({ min: 0, max: 60 }),
      days: fc.integer({ min: 1, max: 62 }),
    })
    fc.assert(
      fc.property(input, ({ week, holidays, efforts, from, days }) => {
        const cal = calendar({ week, holidays })
        let free = today
        while (!isWorkingDay(cal, free)) free = addDays(free, 1)
        const window = { first: fromEpochDay(now + from), last: fromEpochDay(now + from + days) }
        const wanted = byHand(efforts, cal, free)
        const found = spread(efforts, cal, today, window)
        for (let day = window.first; day <= window.last; day = addDays(day, 1))
          expect(found.get(day) ?? 0).toBeCloseTo(wanted.get(day) ?? 0, 6)
      }),
    )
  })
  it('of work that is centuries away costs what the window costs', () => {
    const efforts = Array.from({ length: 20_000 }, () => ({
      ...{ minutes: 60, start: null, due: d('2200-12-31') },
    }))
    const window = { first: d('2200-12-01'), last: d('2200-12-31') }
    // Spread over its first four hundred working days, none of it lies there.
    expect(spread(efforts, calendar({ week: ['MO'] }), today, window).size).toBe(0)
  })
})
