import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Instant, LocalStamp } from '../brands.ts'
import { answer } from '../calc/kinds.ts'
import { calendar } from '../calendar/calendar.ts'
import { isoDate, toInstant } from '../calendar/dates.ts'
import { settle, type Past, type Settled, type Ways } from './course.ts'
import { occurrences, type CatchUpPolicy, type OverlapPolicy, type Schedule } from './schedule.ts'

const ask = (line: object) =>
  JSON.parse(answer('recurrence', JSON.stringify({ id: 1, zone: 'Europe/London', ...line }))) as {
    made: { scheduled: string; date: string; at: string; moved?: string }[]
    held: string[]
    missed: string[]
    skipped: string[]
    next: { scheduled: string; at: string } | null
    error?: { code: string }
  }
const scheduled = (list: readonly { scheduled: string }[]) => list.map((each) => each.scheduled)

/** Mondays of November 2026: 2, 9, 16, 23, 30. Counted by hand. */
const MONDAYS = {
  kind: 'calendar',
  start: '2026-11-02',
  rule: 'FREQ=WEEKLY',
  now: '2026-11-23T12:00',
}
const open = (...dates: string[]) => dates.map((each) => ({ scheduled: each, closedOn: null }))

describe('what becomes of a series', () => {
  it('all that is due is made, each on its day at six, or so many working days ahead', () => {
    const { made, held, missed, skipped, next } = ask(MONDAYS)
    expect(made).toEqual(
      ['02', '09', '16', '23'].map((day) => ({
        ...{ scheduled: `2026-11-${day}`, date: `2026-11-${day}` },
        at: `2026-11-${day}T06:00`,
      })),
    )
    expect([held, missed, skipped]).toEqual([[], [], []])
    expect(next).toMatchObject({ scheduled: '2026-11-30', at: '2026-11-30T06:00' })
    // Five working days before the 30th is the 23rd, six before is Friday the 20th.
    const early = ask({ ...MONDAYS, lead: 5, history: open('2026-11-23') })
    expect(early.made).toMatchObject([{ scheduled: '2026-11-30', at: '2026-11-23T06:00' }])
    expect(ask({ ...MONDAYS, lead: 6, now: '2026-11-20T05:59' }).next).toMatchObject({
      ...{ scheduled: '2026-11-30', at: '2026-11-20T06:00' },
    })
  })
  it.each<[OverlapPolicy, string[], string[], string[]]>([
    ['make-anyway', ['2026-11-16', '2026-11-23'], [], []],
    ['hold', [], ['2026-11-16', '2026-11-23'], []],
    ['close-as-missed', ['2026-11-16', '2026-11-23'], [], ['2026-11-09', '2026-11-16']],
    ['move-forward', ['2026-11-16', '2026-11-23'], [], []],
  ])('%s, while the one before is open', (overlap, made, held, missed) => {
    const history = open('2026-11-09')
    const found = ask({ ...MONDAYS, history, overlap })
    expect([scheduled(found.made), found.held, found.missed]).toEqual([made, held, missed])
    expect(found.made.map(({ moved }) => moved)).toEqual(
      overlap === 'move-forward' ? ['2026-11-09', '2026-11-16'] : made.map(() => undefined),
    )
  })
  it('what was held is made as the one before is closed', () => {
    const history = [{ scheduled: '2026-11-09', closedOn: '2026-11-18T15:30' }]
    const { made, held } = ask({ ...MONDAYS, history, overlap: 'hold' })
    expect(made).toMatchObject([{ scheduled: '2026-11-16', at: '2026-11-18T15:30' }])
    expect(held).toEqual(['2026-11-23'])
  })
  it.each<[CatchUpPolicy, string[], string[]]>([
    ['each', ['2026-11-09', '2026-11-16', '2026-11-23'], []],
    ['latest', ['2026-11-16', '2026-11-23'], ['2026-11-09']],
    ['none', ['2026-11-23'], ['2026-11-09', '2026-11-16']],
  ])('made up for after a time when nothing ran: %s', (catchUp, made, missed) => {
    const down = [{ from: '2026-11-08', to: '2026-11-17T10:00' }]
    const found = ask({ ...MONDAYS, history: open('2026-11-02'), catchUp, down })
    expect([scheduled(found.made), found.missed]).toEqual([made, missed])
    for (const { scheduled: one, at } of found.made)
      expect(at).toBe(one === '2026-11-23' ? '2026-11-23T06:00' : '2026-11-17T10:00')
  })
  it('of each time when nothing ran, the latest; while nothing runs, nothing is decided', () => {
    const down = [
      { from: '2026-11-01', to: '2026-11-10' },
      { from: '2026-11-15', to: '2026-11-24' },
    ]
    const after = ask({ ...MONDAYS, catchUp: 'latest', down, now: '2026-11-24' })
    expect(scheduled(after.made)).toEqual(['2026-11-09', '2026-11-23'])
    expect(after.missed).toEqual(['2026-11-02', '2026-11-16'])
    const still = ask({ ...MONDAYS, catchUp: 'latest', down })
    expect([scheduled(still.made), still.missed]).toEqual([['2026-11-09'], ['2026-11-02']])
    expect(still.next).toMatchObject({ scheduled: '2026-11-16', at: '2026-11-24T00:00' })
  })
  it('what comes due in a pause is skipped, and stays so', () => {
    const paused = [{ from: '2026-11-08', to: '2026-11-17' }]
    const found = ask({ ...MONDAYS, paused, down: paused, catchUp: 'each' })
    expect(scheduled(found.made)).toEqual(['2026-11-02', '2026-11-23'])
    expect([found.skipped, found.missed]).toEqual([['2026-11-09', '2026-11-16'], []])
  })
  it('the fifth working day of each month', () => {
    // Source: counted by hand on the calendar of England, 2026 (Good Friday, 3 April).
    const line = {
      ...{ kind: 'working-day', start: '2026-01-01', rule: { workday: 5, of: 'month' } },
      ...{
        now: '2026-04-09T06:00',
        calendar: { holidays: ['2026-01-01', '2026-04-03', '2026-04-06'] },
      },
    }
    expect(scheduled(ask(line).made)).toEqual([
      '2026-01-08',
      '2026-02-06',
      '2026-03-06',
      '2026-04-09',
    ])
  })
  it('so long after a completion: one at a time, counted from the day it was closed', () => {
    const after = (rule: object, closedOn: string | null, more: object = {}) =>
      ask({
        ...{ kind: 'after-completion', start: '2026-01-05', rule, now: '2026-12-31' },
        ...{ history: [{ scheduled: '2026-01-05', closedOn }], ...more },
      })
    const days = { after: 28, unit: 'calendar' }
    expect(scheduled(after(days, '2026-01-12').made)).toEqual(['2026-02-09'])
    expect(after(days, null)).toMatchObject({ made: [], held: [], next: null })
    expect(scheduled(after({ after: 2, unit: 'week' }, '2026-01-12').made)).toEqual(['2026-01-26'])
    expect(scheduled(after({ after: 1, unit: 'working' }, '2026-01-16').made)).toEqual([
      '2026-01-19',
    ])
    // The last day of a shorter month (Temporal: `constrain`).
    expect(scheduled(after({ after: 1, unit: 'month' }, '2026-01-31').made)).toEqual(['2026-02-28'])
    const rolled = after({ after: 5, unit: 'calendar' }, '2026-01-12', { roll: 'following' })
    expect(rolled.made).toMatchObject([{ scheduled: '2026-01-17', date: '2026-01-19' }])
    const paused = [{ from: '2026-02-01', to: '2026-03-02T08:00' }]
    expect(after(days, '2026-01-12', { paused }).made[0]!.at).toBe('2026-03-02T08:00')
    const first = {
      kind: 'after-completion',
      start: '2026-01-05',
      rule: days,
      now: '2026-01-05T06:00',
    }
    expect(scheduled(ask(first).made)).toEqual(['2026-01-05'])
  })
  it('one for each event, with it, however they come in', () => {
    const line = {
      ...{ kind: 'after-event', now: '2026-11-23T12:00', history: open('2026-11-03T10:00') },
      events: ['2026-11-20T14:05', '2026-11-03T10:00', '2026-12-01T09:00', '2026-11-05T09:00'],
    }
    const { made, next } = ask(line)
    expect(made.map(({ at }) => at)).toEqual(['2026-11-05T09:00', '2026-11-20T14:05'])
    expect(next).toMatchObject({ scheduled: '2026-12-01T09:00' })
    expect(ask({ ...line, overlap: 'hold' }).held).toEqual(['2026-11-05T09:00', '2026-11-20T14:05'])
  })
  it.each<[object, string]>([
    [{ kind: 'monthly' }, 'bad-input'],
    [{ ...MONDAYS, overlap: 'pile-up' }, 'bad-input'],
    [{ ...MONDAYS, now: undefined }, 'bad-input'],
    [{ ...MONDAYS, history: [{ scheduled: '2026-02-30' }] }, 'bad-date'],
    [{ ...MONDAYS, lead: -1 }, 'bad-number'],
    [
      {
        ...{ kind: 'calendar', start: '2020-01-01T00:00', now: '2026-01-01' },
        ...{ rule: 'FREQ=SECONDLY;BYSECOND=1,2,3;COUNT=999999999' },
        history: open('2025-12-31T23:59:03'),
      },
      'bad-rule',
    ],
    [{ ...MONDAYS, down: [{ from: '2026-11-05', to: '2026-11-01' }] }, 'bad-date'],
    [{ ...MONDAYS, zone: 'Mars/Olympus' }, 'bad-zone'],
    [{ ...MONDAYS, rule: 'FREQ=SECONDLY', start: '2026-11-02T00:00' }, 'too-many'],
    [
      {
        kind: 'after-completion',
        start: '2026-01-05',
        now: '2026-02-01',
        rule: { after: 1, unit: 'eon' },
      },
      'bad-input',
    ],
  ])('%j is refused', (line, code) => expect(ask(line).error?.code).toBe(code))
  it('a rule that never occurs makes nothing', () =>
    expect(ask({ ...MONDAYS, rule: 'FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=31' })).toMatchObject({
      ...{ made: [], held: [], missed: [], skipped: [], next: null },
    }))
})

describe('whatever the moments at which it is looked', () => {
  const cal = calendar()
  const at = (day: number, hour = 12): Instant =>
    toInstant(
      isoDate(`2026-11-${String(day).padStart(2, '0')}`),
      `${hour}:00` as never,
      'Europe/London',
    )
  const RULES = ['FREQ=DAILY', 'FREQ=WEEKLY;BYDAY=MO,TH', { workday: -2, of: 'week' }] as const
  const drawn = fc.record({
    rule: fc.constantFrom(...RULES),
    overlap: fc.constantFrom('make-anyway', 'hold', 'close-as-missed', 'move-forward'),
    catchUp: fc.constantFrom('each', 'latest', 'none'),
    leadDays: fc.nat(3),
    ends: fc.array(fc.integer({ min: 2, max: 30 }), { minLength: 4, maxLength: 4 }),
    looks: fc.array(fc.integer({ min: 2, max: 29 }), { maxLength: 6 }),
  })
  const setUp = ({
    rule,
    overlap,
    catchUp,
    leadDays,
    ends,
  }: typeof drawn extends fc.Arbitrary<infer T> ? T : never) => {
    const [a, b, c, d] = [...ends].sort((one, other) => one - other)
    const ways: Ways = {
      ...({ overlap, catchUp, leadDays } as Pick<Ways, 'overlap' | 'catchUp' | 'leadDays'>),
      ...{ paused: [{ from: at(a!), to: at(b!) }], down: [{ from: at(c!), to: at(d!) }] },
    }
    const schedule: Schedule = { start: '2026-11-02' as LocalStamp, zone: 'Europe/London', rule }
    return { ways, schedule }
  }
  const look = (
    schedule: Schedule,
    ways: Ways,
    { history = [], now }: { history?: readonly Past[]; now: Instant },
  ): Settled => settle({ kind: 'dates', schedule }, { history, now, cal, ways })

  it('each is exactly one of made, held, missed, skipped, or still to come', () =>
    fc.assert(
      fc.property(drawn, (of) => {
        const { ways, schedule } = setUp(of)
        const now = at(29)
        const { made, held, missed, skipped, next } = look(schedule, ways, { now })
        const due: LocalStamp[] = []
        for (const each of occurrences(schedule, cal)) {
          if (each.scheduled === next?.scheduled) break
          due.push(each.scheduled)
        }
        // One that was made and closed as missed by the next stands as missed in the end.
        const left = made.map((each) => each.scheduled).filter((each) => !missed.includes(each))
        expect([...left, ...held, ...missed, ...skipped].sort()).toEqual(due)
        for (const each of made) expect(each.at).toBeLessThanOrEqual(now)
        expect(next!.at).toBeGreaterThan(now)
      }),
      { numRuns: 500, seed: 14 },
    ))
  it('makes the same, once, however often it is looked, and whenever', () =>
    fc.assert(
      fc.property(drawn, (of) => {
        const { schedule, ways: all } = setUp(of)
        // Nothing down: what is made up for is decided as it ends.
        const ways: Ways = { ...all, overlap: 'make-anyway', down: [] }
        const once = look(schedule, ways, { now: at(29) }).made
        const found: string[] = []
        let history: Past[] = []
        for (const day of [...of.looks, 29].sort((a, b) => a - b)) {
          const { made } = look(schedule, ways, { history, now: at(day) })
          found.push(...made.map((each) => each.scheduled))
          history = [
            ...history,
            ...made.map((each) => ({ scheduled: each.scheduled, closedAt: null, closedOn: null })),
          ]
        }
        expect(found).toEqual(once.map((each) => each.scheduled))
      }),
      { numRuns: 500, seed: 14 },
    ))
})
