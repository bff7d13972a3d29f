import { expect, it } from 'vitest'
import type { LocalStamp } from '../brands.ts'
import { calendar, ROLLS } from '../calendar/calendar.ts'
import { addDays, isoDate } from '../calendar/dates.ts'
import { chance } from '../test/chance.ts'
import {
  occurrences,
  occurrencesAfter,
  occurrencesBetween,
  occurrencesFrom,
  type Schedule,
} from './schedule.ts'

/** Beginning in the middle finds what going through everything from the start does. */

const { next, below, pick } = chance(14)
const some = <T>(list: readonly T[], most: number): string =>
  [...new Set(Array.from({ length: 1 + below(most) }, () => pick(list)))].join(',')
const upTo = (most: number): number[] => Array.from({ length: most }, (_, i) => i + 1)
const signed = (most: number): number[] => upTo(most).flatMap((n) => [n, -n])

const DAYS = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'] as const
const PARTS: Readonly<Record<string, readonly (() => string)[]>> = {
  HOURLY: [() => `BYDAY=${some(DAYS, 3)}`, () => `BYHOUR=${some(upTo(23), 4)}`],
  DAILY: [() => `BYDAY=${some(DAYS, 4)}`, () => `BYMONTHDAY=${some(signed(31), 6)}`],
  WEEKLY: [
    () => `BYDAY=${some(DAYS, 3)}`,
    () => `BYDAY=${some(DAYS, 4)};BYSETPOS=${pick([1, -1, 2])}`,
  ],
  MONTHLY: [
    () => `BYMONTHDAY=${some(signed(31), 3)}`,
    () => `BYDAY=${pick(signed(5))}${pick(DAYS)}`,
    () => `BYDAY=MO,TU,WE,TH,FR;BYSETPOS=${pick(signed(8))}`,
    () => `BYDAY=${some(DAYS, 2)};BYHOUR=${some(upTo(23), 3)};BYSETPOS=${pick(signed(4))}`,
  ],
  YEARLY: [
    () => `BYWEEKNO=${some(signed(53), 3)};BYDAY=${some(DAYS, 2)}`,
    () => `BYYEARDAY=${some(signed(366), 4)}`,
    () => `BYDAY=${pick(signed(53))}${pick(DAYS)}`,
    () => `BYMONTHDAY=${some(signed(31), 2)}`,
  ],
}
function rule(): Schedule['rule'] {
  if (next() < 0.12) {
    const of = pick(['week', 'month', 'quarter', 'year'] as const)
    return { workday: pick(signed(of === 'week' ? 5 : 20)), of }
  }
  const freq = pick(Object.keys(PARTS))
  const parts = [`FREQ=${freq}`]
  if (next() < 0.5) parts.push(`INTERVAL=${1 + below(5)}`)
  if (next() < 0.75) parts.push(pick(PARTS[freq]!)())
  if (next() < 0.2) parts.push(`BYMONTH=${some(upTo(12), 5)}`)
  if (next() < 0.2) parts.push(`WKST=${pick(DAYS)}`)
  const ends = next()
  if (ends < 0.2) parts.push(`COUNT=${1 + below(400)}`)
  else if (ends < 0.35)
    parts.push(`UNTIL=${date(2_400).replaceAll('-', '')}${pick(['', 'T120000Z'])}`)
  return parts.join(';')
}
const FIRST = isoDate('2020-01-01')
const date = (days: number) => addDays(FIRST, below(days))
const cal = calendar({
  holidays: ['2022-06-02/2022-06-03', '2023-04-07', '2023-04-10', '2024-12-25/2024-12-31'],
})

it('over 10,000 rules and windows', () => {
  let dates = 0
  for (let i = 0; i < 10_000; i++) {
    const start = `${date(700)}${pick(['', 'T09:00', 'T01:30', 'T23:45'])}` as LocalStamp
    const time = start.slice(10)
    const schedule: Schedule = {
      ...{ start, rule: rule(), roll: pick(ROLLS) },
      zone: pick(['Europe/London', 'America/New_York', 'Australia/Lord_Howe']),
      ...(next() < 0.2 && { exclude: [date(2_000), `${date(2_000)}${time}`] }),
      ...(next() < 0.2 && { include: [date(2_000), `${date(2_000)}${time}`] }),
    }
    const [from, days] = [date(2_200), pick([0, 7, 60, 200])]
    const to = addDays(from, days)
    const past = addDays(to, 40)
    const plain = []
    for (const each of occurrences(schedule, cal)) {
      if (each.scheduled.slice(0, 10) > past) break
      plain.push(each)
    }
    const falls = plain.filter((each) => (each.date as string) >= from)
    const within = falls.filter((each) => each.date.slice(0, 10) <= to)
    const what = JSON.stringify([schedule, from, to])
    expect(occurrencesBetween(schedule, cal, from, to), what).toEqual(within)
    const seen = []
    for (const each of occurrencesFrom(schedule, cal, from)) {
      if (each.scheduled.slice(0, 10) > past) break
      seen.push(each)
    }
    expect(seen, what).toEqual(falls)
    const after = plain[below(plain.length)]
    const [found] = after ? occurrencesAfter(schedule, cal, after.scheduled) : []
    if (after && found && found.scheduled.slice(0, 10) <= past)
      expect(found, what).toEqual(plain[plain.indexOf(after) + 1])
    dates += within.length
  }
  expect(dates).toBeGreaterThan(20_000)
})
