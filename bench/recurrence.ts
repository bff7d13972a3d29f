import { RRuleTemporal } from 'rrule-temporal'
import { DateTime, RRuleSet } from 'rrule-rust'
import type { LocalStamp } from '#core/brands.ts'
import { calendar } from '#core/calendar/calendar.ts'
import { addDays, isoDate } from '#core/calendar/dates.ts'
import {
  occurrencesAfter,
  occurrencesBetween,
  type Occurrence,
  type Schedule,
} from '#core/recurrence/schedule.ts'
import { chance } from '#core/test/chance.ts'
import { race, report } from './house.ts'

/** What repeating costs: against the packages, by the age of a series, and a year of many. */

const ZONE = 'Europe/London'
const TODAY = isoDate('2026-11-23')
const cal = calendar({ holidays: ['2026-12-25', '2026-12-28', '2027-01-01', '2027-03-26'] })
const { next, below, pick } = chance(5545)
const DAYS = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'] as const

/** Rules as firms have them: mostly weekly and monthly, some daily, a few once a year. */
function drawRule(): string {
  const interval = pick(['', '', ';INTERVAL=2', ';INTERVAL=3'])
  const kind = next()
  if (kind < 0.2) return `FREQ=DAILY${interval}${pick(['', ';BYDAY=MO,TU,WE,TH,FR'])}`
  if (kind < 0.65) {
    const days = new Set([pick(DAYS), pick(DAYS), pick(DAYS)])
    return `FREQ=WEEKLY${interval};BYDAY=${[...days].join(',')}`
  }
  if (kind >= 0.95) return `FREQ=YEARLY;BYMONTH=${1 + below(12)};BYMONTHDAY=${1 + below(28)}`
  const by = pick([
    `BYMONTHDAY=${1 + below(28)}`,
    'BYMONTHDAY=-1',
    `BYDAY=${pick(['1', '2', '3', '-1'])}${pick(DAYS)}`,
    'BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-1',
    'BYDAY=MO,TU,WE,TH,FR;BYSETPOS=5',
  ])
  return `FREQ=MONTHLY${interval};${by}`
}
const YEARS = 6
const draw = (): Schedule => {
  const time = `${String(7 + below(11)).padStart(2, '0')}:${pick(['00', '30'])}`
  const start = `${addDays(TODAY, -below(YEARS * 365))}T${time}` as LocalStamp
  return { start, zone: ZONE, rule: drawRule() }
}
const SERIES = Array.from({ length: 2_000 }, draw)

{
  const to = addDays(TODAY, 59)
  const ours = () => {
    let found = 0
    for (const series of SERIES) found += occurrencesBetween(series, cal, TODAY, to).length
    return found
  }
  const texts = SERIES.map(
    ({ start, rule }) =>
      `DTSTART;TZID=${ZONE}:${start.replace(/[-:]/g, '')}00\nRRULE:${String(rule)}`,
  )
  const ROUNDS = 9
  // Read beforehand, anew for each round: only dates are timed, and none comes from a cache.
  const anew = <T>(read: (text: string) => T) =>
    Array.from({ length: ROUNDS + 1 }, () => texts.map((text) => read(text)))
  const rust = anew((text) => RRuleSet.parse(text))
  const temporal = anew((rruleString) => new RRuleTemporal({ rruleString }))
  const [begin, end] = [`${TODAY}T00:00:00Z`, `${addDays(TODAY, 60)}T00:00:00Z`].map(
    (at) => new Date(at),
  )
  const utc = (at: Date) =>
    DateTime.create(at.getUTCFullYear(), at.getUTCMonth() + 1, at.getUTCDate(), 0, 0, 0, true)
  const byRust = (round: number) =>
    rust[round]!.reduce((n, set) => n + set.between(utc(begin!), utc(end!), true).length, 0)
  const byTemporal = (round: number) =>
    temporal[round]!.reduce((n, set) => n + set.between(begin!, end!, true).length, 0)
  const counts = [ours(), byRust(ROUNDS), byTemporal(ROUNDS)]
  if (new Set(counts).size !== 1) throw new Error(`They find other dates: ${counts.join(', ')}`)
  const [own, one] = await race(ROUNDS, ours, byRust)
  const [again, other] = await race(ROUNDS, ours, byTemporal)
  const packages = Math.min(one, other)
  report(
    '2,000 rules over 60 days, against the faster of rrule-temporal and rrule-rust',
    Math.min(own, again) / packages,
    0.2,
    `${counts[0]} dates in ${own.toFixed(0)} ms; rrule-rust ${one.toFixed(0)}, rrule-temporal ${other.toFixed(0)} ms`,
  )
}

{
  const KINDS: readonly Schedule['rule'][] = [
    'FREQ=DAILY',
    'FREQ=DAILY;INTERVAL=3;COUNT=5000',
    'FREQ=WEEKLY;INTERVAL=2;BYDAY=TU,FR',
    'FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-1',
    'FREQ=YEARLY;BYMONTH=3;BYDAY=-1SU',
    'FREQ=HOURLY;INTERVAL=5',
    { workday: 5, of: 'month' },
  ]
  const nextOf = (rule: Schedule['rule'], days: number) => {
    const schedule: Schedule = {
      start: '2006-11-23T09:00' as LocalStamp,
      zone: ZONE,
      rule,
      roll: 'following',
    }
    const after = addDays(isoDate('2006-11-23'), days)
    return () => {
      let found: Occurrence | undefined
      for (let i = 0; i < 200; i++)
        [found] = occurrencesAfter(schedule, cal, `${after}T09:00` as LocalStamp)
      return found
    }
  }
  for (const rule of KINDS) {
    const [late, soon] = await race(15, nextOf(rule, 7_305), nextOf(rule, 7))
    report(
      `the next date of ${JSON.stringify(rule)} 20 years after its start, against a week after it`,
      late / soon,
      3,
      `${((late / 200) * 1_000).toFixed(1)} µs; ${((soon / 200) * 1_000).toFixed(1)} µs`,
    )
  }
}

{
  const to = addDays(TODAY, 364)
  const rolled = SERIES.map((series): Schedule => ({ ...series, roll: 'following' }))
  const ours = () => {
    const found: Occurrence[] = []
    for (const series of rolled)
      for (const each of occurrencesBetween(series, cal, TODAY, to)) found.push(each)
    return found
  }
  const { length } = ours()
  const plain = () =>
    Array.from({ length }, (_, i) => ({
      series: i,
      date: new Date(i * 86_400_000).toISOString().slice(0, 10),
    }))
  const [year, objects] = await race(9, ours, plain)
  report(
    'a year of 2,000 series, rolled, against as many plain objects with a date string',
    year / objects,
    3,
    `${length} in ${year.toFixed(0)} ms; objects ${objects.toFixed(0)} ms`,
  )
}
