import { readFileSync } from 'node:fs'
import Holidays from 'date-holidays'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { IsoDate } from '../brands.ts'
import { Refusal } from '../refusal.ts'
import {
  addWorkingDays,
  calendar,
  daysLate,
  holidaysBetween,
  isWorkingDay,
  rollDate,
  ROLLS,
  workingDayAfter,
  workingDaysBetween,
  workingMinutes,
  type Roll,
  type Weekday,
} from './calendar.ts'
import { addDays, fromEpochDay, isoDate, isoWeek, toEpochDay, toInstant, toLocal } from './dates.ts'

const d = (text: string) => text as IsoDate
const plain = calendar()

interface Fixture {
  cases: {
    date: string
    add: number
    roll: Roll
    week: Weekday[]
    holidays: string[]
    gives: string
  }[]
}

describe('working days against numpy', () => {
  const { cases } = JSON.parse(
    readFileSync(new URL('../fixtures/workdays.json', import.meta.url), 'utf8'),
  ) as Fixture
  // Source: numpy busday_offset, core/fixtures/workdays.py.
  it(`agrees on ${cases.length} random offsets and calendars`, () => {
    const wrong = cases.filter(
      (c) =>
        addWorkingDays(
          calendar({ week: c.week, holidays: c.holidays }),
          d(c.date),
          c.add,
          c.roll,
        ) !== c.gives,
    )
    expect(cases.length).toBeGreaterThan(1000)
    expect(wrong).toEqual([])
  })
})

describe('rolling', () => {
  // Source: 2006 ISDA Definitions, section 4.12, worked on Saturday 31 October 2026.
  it.each([
    ['following', '2026-11-02'],
    ['preceding', '2026-10-30'],
    ['modified-following', '2026-10-30'],
    ['modified-preceding', '2026-10-30'],
    ['none', '2026-10-31'],
  ] as const)('%s takes Saturday 31 October 2026 to %s', (roll, to) =>
    expect(rollDate(plain, d('2026-10-31'), roll)).toBe(to),
  )

  it('modified preceding stays in the month: Sunday 1 November goes forward', () =>
    expect(rollDate(plain, d('2026-11-01'), 'modified-preceding')).toBe('2026-11-02'))
})

describe('adding working days without a roll', () => {
  it.each([
    ['2026-10-31', 1, '2026-11-03'],
    ['2026-10-31', -1, '2026-10-29'],
    ['2026-10-31', 0, '2026-10-31'],
    ['2026-10-30', 1, '2026-11-02'],
  ])('%s plus %i is %s', (from, n, to) => expect(addWorkingDays(plain, d(from), n)).toBe(to))

  it('refuses a calendar that has no working day', () => {
    const none = calendar({ holidays: ['2026-01-01/2032-01-01'], week: ['MO'] })
    expect(addWorkingDays(none, d('2026-03-01'), 1)).toBe('2032-01-12')
    const never = { ...none, works: Array<boolean>(8).fill(false) }
    expect(() => addWorkingDays(never, d('2026-03-01'), 1)).toThrow(Refusal)
  })
})

describe('days late', () => {
  // Source: the definition, due Friday and done Monday is one working day late.
  it.each([
    ['2026-11-20', '2026-11-23', 1, 3],
    ['2026-11-20', '2026-11-21', 0, 1],
    ['2026-11-20', '2026-11-20', 0, 0],
    ['2026-11-21', '2026-11-23', 1, 2],
    ['2026-12-24', '2026-12-29', 1, 5],
  ])('due %s, seen %s: %i working, %i calendar', (due, today, working, days) => {
    const england = calendar({ holidays: ['2026-12-25', '2026-12-28'] })
    expect(daysLate(england, d(due), d(today))).toBe(working)
    expect(daysLate(england, d(due), d(today), 'calendar')).toBe(days)
  })
})

it('tells the holidays of a stretch of days, both ends, ranges day by day', () => {
  const cal = calendar({
    holidays: [
      { date: '2026-12-28', name: 'Boxing Day (substitute)' },
      { date: '2026-12-24/2026-12-25', name: 'Closed', half: true },
      '2027-01-01',
    ],
  })
  const days = holidaysBetween(cal, d('2026-12-25'), d('2027-01-01'))
  expect(days).toEqual([
    { date: '2026-12-25', name: 'Closed', half: true },
    { date: '2026-12-28', name: 'Boxing Day (substitute)', half: false },
    { date: '2027-01-01', name: '', half: false },
  ])
  expect(holidaysBetween(cal, d('2026-12-29'), d('2026-12-31'))).toEqual([])
})

describe('properties', () => {
  const dates = fc.integer({ min: 10_000, max: 40_000 }).map((n) => fromEpochDay(n))
  const calendars = fc
    .record({
      week: fc.subarray(['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'] as Weekday[], { minLength: 1 }),
      holidays: fc.array(dates, { maxLength: 10 }),
    })
    .map((input) => calendar(input))
  it('a rolled date is a working day', () =>
    fc.assert(
      fc.property(calendars, dates, fc.constantFrom(...ROLLS.slice(1)), (cal, date, roll) =>
        isWorkingDay(cal, rollDate(cal, date, roll)),
      ),
    ))
  it('adding n and taking n away returns to a working day', () =>
    fc.assert(
      fc.property(calendars, dates, fc.integer({ min: -200, max: 200 }), (cal, date, n) => {
        const from = rollDate(cal, date, 'following')
        return addWorkingDays(cal, addWorkingDays(cal, from, n), -n) === from
      }),
    ))
  it('the n-th working day after a date is n working days away', () =>
    fc.assert(
      fc.property(
        calendars,
        dates,
        fc.integer({ min: 1, max: 60 }),
        (cal, date, n) => workingDaysBetween(cal, date, workingDayAfter(cal, date, n)) === n,
      ),
    ))
  it('epoch days go there and back', () =>
    fc.assert(
      fc.property(
        dates,
        (date) =>
          fromEpochDay(toEpochDay(date)) === date &&
          toEpochDay(addDays(date, 7)) - toEpochDay(date) === 7,
      ),
    ))
})

describe('published dates', () => {
  // Source: GOV.UK bank holidays, England and Wales, 2026 (from memory), against the date-holidays
  // package.
  it('the bank holidays of England in 2026', () => {
    const found = new Holidays('GB', 'ENG')
      .getHolidays(2026)
      .filter((h) => h.type === 'public')
      .map((h) => h.date.slice(0, 10))
    const published = [
      '2026-01-01',
      '2026-04-03',
      '2026-04-06',
      '2026-05-04',
      '2026-05-25',
      '2026-08-31',
      '2026-12-25',
      '2026-12-28',
    ]
    for (const day of published) expect(found).toContain(day)
    const cal = calendar({ holidays: found })
    expect(published.filter((day) => isWorkingDay(cal, d(day)))).toEqual([])
    expect(addWorkingDays(cal, d('2026-12-24'), 1)).toBe('2026-12-29')
  })
  // Source: ISO 8601, 2026 is a year of 53 weeks.
  it('ISO week numbers', () => {
    expect(isoWeek(d('2027-01-03'))).toEqual({ year: 2026, week: 53 })
    expect(isoWeek(d('2026-01-01'))).toEqual({ year: 2026, week: 1 })
    expect(isoWeek(d('2027-01-04'))).toEqual({ year: 2027, week: 1 })
  })
  // Source: IANA tz database, Europe/London 2026.
  it('a time that a clock change skips is read with the offset before; one that comes twice is the first', () => {
    const at = (text: string) =>
      new Date(
        toInstant(d(text.slice(0, 10)), text.slice(11) as never, 'Europe/London'),
      ).toISOString()
    expect(at('2026-03-29T01:30')).toBe('2026-03-29T01:30:00.000Z')
    expect(at('2026-10-25T01:30')).toBe('2026-10-25T00:30:00.000Z')
    expect(toLocal(Date.parse('2026-03-29T01:30:00Z'), 'Europe/London')).toEqual({
      date: '2026-03-29',
      time: '02:30',
    })
  })
})

describe('far away', () => {
  // Source: the definition, gone through day by day.
  it('reckons what going through the days counts, and finds what it counted', () => {
    const days = fc.integer({ min: 0, max: 9_000 })
    const input = fc.record({
      week: fc.subarray<Weekday>(['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'], { minLength: 1 }),
      holidays: fc.array(fc.record({ day: days, half: fc.boolean() }), { maxLength: 60 }),
    })
    fc.assert(
      fc.property(input, days, days, ({ week, holidays }, a, b) => {
        const cal = calendar({
          week,
          holidays: holidays.map(({ day, half }) => ({ date: fromEpochDay(day), half })),
        })
        const [low, high] = [Math.min(a, b), Math.max(a, b)]
        let counted = 0
        let last = ''
        for (let day = low + 1; day <= high; day++)
          if (isWorkingDay(cal, fromEpochDay(day)))
            [counted, last] = [counted + 1, fromEpochDay(day)]
        expect(workingDaysBetween(cal, fromEpochDay(low), fromEpochDay(high))).toBe(counted)
        if (counted) expect(workingDayAfter(cal, fromEpochDay(low), counted)).toBe(last)
      }),
    )
  })
})

describe('reading', () => {
  it.each(['2026-02-30', '2026-13-01', '26-01-01', 'today', '', null, 20260101])(
    'refuses %s as a date',
    (text) => expect(() => isoDate(text)).toThrow(/is not a date/),
  )
  it('names the holiday that cannot be read', () =>
    expect(() => calendar({ holidays: ['2026-12-25', 'Boxing Day'] })).toThrow(/holidays\[1\]/))
  // Source: the definition, time off lies on top of holidays.
  it('hours off leave the rest of a day; what lies on one day adds up; nothing left is a day off', () => {
    const on = (...holidays: object[]) => {
      const cal = calendar({
        holidays: holidays.map((one) => ({ date: '2026-12-24', ...one })),
        hours: { TH: 480 },
      })
      return isWorkingDay(cal, d('2026-12-24')) && workingMinutes(cal, d('2026-12-24'))
    }
    expect(on({ minutes: 120 })).toBe(360)
    expect(on({ minutes: 120 }, { minutes: 60 })).toBe(300)
    expect(on({ half: true }, { minutes: 60 })).toBe(180)
    expect(on({ half: true }, { half: true })).toBe(false)
    expect(on({ half: true }, { minutes: 240 })).toBe(false)
    expect(on({}, { half: true })).toBe(false)
    expect(on({ minutes: 30 }, {})).toBe(false)
    expect(on({ minutes: 480 })).toBe(false)
  })
  it('a half holiday is a working day with half the minutes', () => {
    const cal = calendar({ holidays: [{ date: '2026-12-24', half: true }], hours: { TH: 480 } })
    expect(isWorkingDay(cal, d('2026-12-24'))).toBe(true)
    expect(workingMinutes(cal, d('2026-12-24'))).toBe(240)
  })
})
