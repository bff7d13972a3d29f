import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import type { LocalStamp } from '../brands.ts'
import { calendar } from '../calendar/calendar.ts'
import { isoDate } from '../calendar/dates.ts'
import { parseRRule } from './rrule.ts'
import {
  firstOccurrences,
  occurrences,
  occurrencesAfter,
  occurrencesFrom,
  type Schedule,
} from './schedule.ts'

const at = (start: string, rule: Schedule['rule'], more: Partial<Schedule> = {}): Schedule => ({
  start: start as LocalStamp,
  zone: 'Europe/London',
  rule,
  ...more,
})
const england = calendar({
  holidays: [{ date: '2026-04-03', name: 'Good Friday' }, '2026-04-06', '2026-12-25', '2026-12-28'],
})
const scheduled = (schedule: Schedule, limit: number, cal = england) =>
  firstOccurrences(schedule, cal, limit).map((o) => o.scheduled)

interface Fixture {
  cases: { start: string; rule: string; found: string[]; whole: boolean }[]
}

describe('random rules against python-dateutil', () => {
  // Source: python-dateutil rrule, core/fixtures/recurrence.py, which names what is left out and
  // why.
  const { cases } = JSON.parse(
    readFileSync(new URL('../fixtures/recurrence.json', import.meta.url), 'utf8'),
  ) as Fixture
  it(`agrees on ${cases.length} rules, 12 to 40 occurrences each`, () => {
    expect(cases.length).toBeGreaterThanOrEqual(3000)
    const wrong = cases.filter((c) => {
      const found = firstOccurrences(
        { start: c.start as LocalStamp, zone: 'UTC', rule: c.rule },
        calendar(),
        Math.max(c.found.length, 1),
      ).map((o) => o.scheduled)
      return JSON.stringify(found.slice(0, c.found.length)) !== JSON.stringify(c.found)
    })
    expect(wrong.map((c) => `${c.start} ${c.rule}`)).toEqual([])
  })
})

describe('working-day ordinals', () => {
  // Source: counted by hand on the calendar of England, 2026.
  it.each([
    [
      'the 5th of each month',
      { workday: 5, of: 'month' },
      ['2026-01-07', '2026-02-06', '2026-03-06', '2026-04-09'],
    ],
    [
      'the last of each month',
      { workday: -1, of: 'month' },
      ['2026-01-30', '2026-02-27', '2026-03-31', '2026-04-30'],
    ],
    [
      'the last of each quarter',
      { workday: -1, of: 'quarter' },
      ['2026-03-31', '2026-06-30', '2026-09-30', '2026-12-31'],
    ],
    ['the first of each year', { workday: 1, of: 'year' }, ['2026-01-01', '2027-01-01']],
  ] as const)('%s', (_, rule, dates) =>
    expect(scheduled(at('2026-01-01', rule), dates.length)).toEqual(dates),
  )

  it('skips a week that has too few', () => {
    // Easter week 2026: Good Friday leaves four working days, Easter Monday the week after too.
    expect(scheduled(at('2026-03-23', { workday: 5, of: 'week' }), 3)).toEqual([
      '2026-03-27',
      '2026-04-17',
      '2026-04-24',
    ])
  })
  it('carries the time of the start', () =>
    expect(scheduled(at('2026-01-01T09:30', { workday: 2, of: 'month' }), 1)).toEqual([
      '2026-01-02T09:30',
    ]))
})

describe('rolling, sets and clock changes', () => {
  it('rolls after identity: the scheduled date stays, with the reason', () => {
    const [first] = firstOccurrences(
      at('2026-01-30T09:00', 'FREQ=MONTHLY;BYMONTHDAY=-1', { roll: 'following' }),
      england,
      1,
    )
    expect(first).toMatchObject({
      scheduled: '2026-01-31T09:00',
      date: '2026-02-02T09:00',
      moved: { because: 'weekend' },
    })
    expect(new Date(first!.instant).toISOString()).toBe('2026-02-02T09:00:00.000Z')
    const [good] = firstOccurrences(
      at('2026-04-03', 'FREQ=DAILY', { roll: 'following' }),
      england,
      1,
    )
    expect(good).toMatchObject({
      date: '2026-04-07',
      moved: { because: 'holiday', name: 'Good Friday' },
    })
  })
  it('leaves out, adds, and keeps order without doubles', () =>
    expect(
      scheduled(
        at('2026-06-01T10:00', 'FREQ=DAILY;COUNT=4', {
          exclude: ['2026-06-02', '2026-06-03T10:00'],
          include: ['2026-06-10', '2026-05-30T08:00', '2026-06-01T10:00'],
        }),
        9,
      ),
    ).toEqual(['2026-05-30T08:00', '2026-06-01T10:00', '2026-06-04T10:00', '2026-06-10T10:00']))
  // Source: RFC 5545, 3.3.5 and the IANA tz database.
  it('work does not vanish with a clock change', () => {
    const [skipped] = firstOccurrences(at('2026-03-29T01:30', 'FREQ=DAILY'), england, 1)
    expect(skipped).toMatchObject({
      scheduled: '2026-03-29T01:30',
      date: '2026-03-29T02:30',
      moved: { because: 'clock-change' },
    })
    const [twice] = firstOccurrences(at('2026-10-25T01:30', 'FREQ=DAILY'), england, 1)
    expect(new Date(twice!.instant).toISOString()).toBe('2026-10-25T00:30:00.000Z')
  })
  it('goes on after an identity', () =>
    expect(
      [
        ...occurrencesAfter(
          at('2026-06-01', 'FREQ=WEEKLY;COUNT=4'),
          england,
          '2026-06-08' as LocalStamp,
        ),
      ].map((o) => o.scheduled),
    ).toEqual(['2026-06-15', '2026-06-22']))
  it('a rule that never occurs ends', () => {
    expect(scheduled(at('2026-01-01', 'FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30'), 5)).toEqual([])
    expect(scheduled(at('2026-01-01', 'FREQ=MONTHLY;BYMONTHDAY=1;BYSETPOS=2'), 5)).toEqual([])
    expect(scheduled(at('2026-01-01', 'FREQ=DAILY;UNTIL=20251231'), 5)).toEqual([])
  })
  it('29 February comes in leap years only', () =>
    expect(scheduled(at('2024-02-29', 'FREQ=YEARLY'), 3)).toEqual([
      '2024-02-29',
      '2028-02-29',
      '2032-02-29',
    ]))
})

describe('beginning later', () => {
  // Source: python-dateutil rrule, as above: what it finds from a date on is what is found from there.
  const { cases } = JSON.parse(
    readFileSync(new URL('../fixtures/recurrence.json', import.meta.url), 'utf8'),
  ) as Fixture
  it.each([1, 7, 23])('from the %sth date of each rule on, the same dates follow', (nth) => {
    for (const { start, rule, found } of cases) {
      const from = found[nth]?.slice(0, 10)
      if (!from) continue
      const wanted = found.filter((each) => each >= from).slice(0, 12)
      const seen: string[] = []
      for (const each of occurrences(at(start, rule, { zone: 'UTC' }), calendar(), isoDate(from))) {
        if (seen.length === wanted.length) break
        seen.push(each.scheduled)
      }
      expect(seen, `${rule} from ${from}`).toEqual(wanted)
    }
  })
  it('costs what is asked for: a year of every minute is never laid out', () => {
    const every = (low: number, high: number) =>
      Array.from({ length: high - low + 1 }, (_, i) => low + i).join(',')
    const minutes = `BYHOUR=${every(0, 23)};BYMINUTE=${every(0, 59)};BYSECOND=${every(0, 59)}`
    const days = 'BYDAY=MO,TU,WE,TH,FR,SA,SU'
    const rule = at('2000-01-01T00:00', `FREQ=YEARLY;${days};${minutes}`)
    const before = process.memoryUsage().heapUsed
    const [first] = occurrencesFrom(rule, calendar(), isoDate('2026-11-23'))
    expect(first!.scheduled).toBe('2026-11-23T00:00')
    const last = at('2000-01-01T00:00', `FREQ=YEARLY;BYMONTH=12;${days};${minutes};BYSETPOS=-1`)
    expect(scheduled(last, 1)).toEqual(['2000-12-31T23:59:59'])
    expect(process.memoryUsage().heapUsed - before).toBeLessThan(300e6)
  })
  it('those rolled onto the date are among them, and those rolled before it are not', () => {
    // 4 April 2026 is a Saturday; Good Friday and Easter Monday are holidays.
    const daily = (roll: NonNullable<Schedule['roll']>) => {
      const found = occurrencesFrom(at('2020-01-01', 'FREQ=DAILY', { roll }), england, EASTER)
      return Array.from({ length: 5 }, () => found.next().value!.scheduled)
    }
    const EASTER = isoDate('2026-04-07')
    expect(daily('following')[0]).toBe('2026-04-03')
    expect(daily('preceding')[0]).toBe('2026-04-07')
  })
})

describe('reading a rule', () => {
  it.each([
    ['BYDAY=MO', /FREQ is missing/],
    ['FREQ=FORTNIGHTLY', /FREQ=FORTNIGHTLY/],
    ['FREQ=MONTHLY;BYMONTHDAY=32', /BYMONTHDAY=32/],
    ['FREQ=MONTHLY;BYMONTHDAY=0', /BYMONTHDAY=0/],
    ['FREQ=YEARLY;BYMONTH=13', /BYMONTH=13/],
    ['FREQ=DAILY;COUNT=2;UNTIL=20260101', /exclude each other/],
    ['FREQ=DAILY;COUNT=0', /whole number/],
    ['FREQ=DAILY;FREQ=DAILY', /twice/],
    ['FREQ=DAILY;BYEASTER=1', /BYEASTER/],
    ['FREQ=WEEKLY;BYDAY=1MO', /ordinal/],
    ['FREQ=WEEKLY;BYMONTHDAY=1', /WEEKLY/],
    ['FREQ=DAILY;BYSETPOS=1', /BYSETPOS/],
    ['FREQ=DAILY;UNTIL=20260230', /not a date/],
    ['', /no part of a rule/],
  ])('%s is refused by name', (rule, says) => expect(() => parseRRule(rule)).toThrow(says))
  it('reads what is right', () =>
    expect(parseRRule('RRULE:FREQ=MONTHLY;INTERVAL=2;BYDAY=-1FR,MO;WKST=SU')).toMatchObject({
      freq: 'MONTHLY',
      interval: 2,
      byDay: [
        { weekday: 5, nth: -1 },
        { weekday: 1, nth: 0 },
      ],
      weekStart: 7,
    }))
})
