import { describe, expect, it } from 'vitest'
import { answer } from './kinds.ts'

const ask = (kind: string, input: unknown) =>
  JSON.parse(answer(kind, typeof input === 'string' ? input : JSON.stringify(input))) as Record<
    string,
    never
  >

describe('calc', () => {
  it('workdays', () => {
    expect(
      ask('workdays', {
        id: 'a',
        date: '2026-12-24',
        add: 1,
        roll: 'following',
        calendar: { week: ['MO', 'TU', 'WE', 'TH', 'FR'], holidays: ['2026-12-25', '2026-12-28'] },
      }),
    ).toEqual({ id: 'a', date: '2026-12-29' })
    expect(ask('workdays', { id: 1, date: '2026-10-31', add: 0 })).toEqual({
      id: 1,
      date: '2026-10-31',
    })
  })
  it('recurrence, as its contract writes it', () =>
    expect(
      ask('recurrence', {
        id: 7,
        start: '2026-01-30T09:00',
        zone: 'Europe/London',
        rule: 'FREQ=MONTHLY;BYMONTHDAY=-1',
        exclude: [],
        include: [],
        roll: 'following',
        limit: 1,
      }),
    ).toEqual({
      id: 7,
      occurrences: [
        {
          scheduled: '2026-01-31T09:00',
          date: '2026-02-02T09:00',
          instant: '2026-02-02T09:00:00Z',
        },
      ],
    }))
  it('plan', () => {
    const out = ask('plan', {
      id: 1,
      template: {
        name: 'T',
        anchor: 'deadline',
        roles: ['Keeper'],
        tasks: [{ key: 'a', title: 'A', role: 'Keeper', due: -2 }],
      },
      anchor: '2026-12-07',
      roles: { Keeper: 'tobias' },
      calendars: { people: { tobias: { away: ['2026-12-03'] } } },
    }) as unknown as { tasks: { due: string }[]; findings: { kind: string }[] }
    expect(out.tasks[0]!.due).toBe('2026-12-03')
    expect(out.findings.map((f) => f.kind)).toEqual(['away'])
  })
  const fires = (input: object) =>
    (ask('ladder', { due: '2026-11-13', rungs: [1, 3, 5, 7], ...input }) as { fires?: unknown })
      .fires
  const at = (...rungs: (readonly [number, string])[]) =>
    rungs.map(([rung, moment]) => ({ rung, at: moment }))
  it('ladder, as its contract writes it', () =>
    expect(fires({ count: 'working', time: '09:00', zone: 'Europe/London', closed: null })).toEqual(
      at(
        ...([
          [1, '2026-11-16T09:00'],
          [3, '2026-11-18T09:00'],
          [5, '2026-11-20T09:00'],
        ] as const),
        [7, '2026-11-24T09:00'],
      ),
    ))
  it('ladder: calendar days, holidays, the order of time, nothing at or after it was closed', () => {
    expect(fires({ count: 'calendar', rungs: [3, 1] })).toEqual(
      at([1, '2026-11-14T09:00'], [3, '2026-11-16T09:00']),
    )
    const closed = (moment: string) => fires({ closed: moment, zone: 'Europe/London' })
    expect(closed('2026-11-18T09:00')).toEqual(at([1, '2026-11-16T09:00']))
    expect(closed('2026-11-18T09:01')).toHaveLength(2)
    expect(closed('2026-11-01')).toEqual([])
    // Counted by hand: Christmas Eve is the first working day after, the 29th the second.
    const calendar = { holidays: ['2026-12-25', '2026-12-28'] }
    expect(fires({ due: '2026-12-23', rungs: [1, 2], calendar })).toEqual(
      at([1, '2026-12-24T09:00'], [2, '2026-12-29T09:00']),
    )
    // 01:30 is not there on the night that London goes to summer time (IANA).
    expect(
      fires({
        due: '2026-03-27',
        rungs: [2],
        count: 'calendar',
        time: '01:30',
        zone: 'Europe/London',
      }),
    ).toEqual(at([2, '2026-03-29T02:30']))
  })
  it('rule: whether it holds, and what every test saw, before the change too', () => {
    const conditions = {
      match: 'all',
      of: [
        { field: 'priority', op: 'in', value: ['high'] },
        { field: 'due', op: 'before', value: { now: { days: 3, unit: 'working' } } },
        { field: 'client.tier', op: 'in', value: ['gold'] },
        { field: 'days-late', op: 'at-least', value: 2 },
        { match: 'none', of: [{ field: 'was:priority', op: 'in', value: ['high'] }] },
      ],
    }
    const item = { priority: 'high', due: '2026-11-19', client: { id: 3, tier: 'gold' } }
    const asked = { conditions, item, before: { priority: 'normal' }, now: '2026-11-23T09:00' }
    const out = ask('rule', asked) as unknown as {
      holds: boolean
      why: { condition: object; seen: unknown; holds: boolean }[]
    }
    expect(out.holds).toBe(true)
    // Friday and Monday are the two working days since it was due, counted by hand.
    expect(out.why.map(({ seen, holds }) => [seen, holds])).toEqual([
      ...[
        ['high', true],
        ['2026-11-19', true],
        ['gold', true],
        [2, true],
      ],
      ['normal', false],
    ])
    expect(out.why[1]!.condition).toEqual(conditions.of[1])
    const holds = (more: object) =>
      (ask('rule', { ...asked, ...more }) as { holds?: boolean }).holds
    expect(holds({ before: { priority: 'high' } })).toBe(false)
    expect(holds({ item: { ...item, closed: '2026-11-20T10:00' } })).toBe(false)
    expect(holds({ conditions: { field: 'assignee', op: 'empty' } })).toBe(true)
    // Thursday of the week before that Monday, counted by hand.
    expect(holds({ conditions: { field: 'days-left', op: 'is', value: -4 } })).toBe(true)
    expect(holds({ conditions: { field: 'weeks-left', op: 'is', value: -1 } })).toBe(true)
    const own = { field: 'field:12', op: 'at-least', value: 100 }
    const fee = { conditions: own, types: { 'field:12': 'money' } }
    expect(holds({ ...fee, item: { 'field:12': 100 } })).toBe(true)
    expect(holds({ ...fee, item: {} })).toBe(false)
  })
  it.each([
    ['ladder', { id: 1, due: '2026-11-13', rungs: [0] }, 'bad-number'],
    ['ladder', { id: 1, due: '2026-11-31', rungs: [1] }, 'bad-date'],
    ['ladder', { id: 1, due: '2026-11-13', rungs: [1], count: 'weeks' }, 'bad-input'],
    ['ladder', { id: 1, due: '2026-11-13', rungs: [1], time: '9' }, 'bad-time'],
    ['rule', { id: 1 }, 'bad-input'],
    ...[{ period: 'eon', shift: 1 }, { now: { days: 1, unit: 'weeks' } }, { a: 1 }].map(
      (value) =>
        [
          'rule',
          { id: 1, now: '2026-11-23', conditions: { field: 'due', op: 'before', value } },
          'bad-input',
        ] as [string, object, string],
    ),
    [
      'rule',
      {
        id: 1,
        now: '2026-11-23',
        conditions: { field: 'due', op: 'within', value: { period: 'month', shift: 1e12 } },
      },
      'bad-number',
    ],
    [
      'rule',
      { id: 1, now: '2026-11-23', conditions: { field: 'nope', op: 'in' } },
      'bad-condition',
    ],
    ['rule', { id: 1, now: '2026-11-23', conditions: { field: 'due', op: 'in' } }, 'bad-condition'],
    ['rule', { id: 1, now: '2026-11-23', conditions: { match: 'some', of: [] } }, 'bad-input'],
    [
      'rule',
      {
        id: 1,
        now: '2026-11-23',
        conditions: { field: 'estimate', op: 'filled' },
        item: { estimate: 'x' },
      },
      'bad-condition',
    ],
    ['workdays', 'not json', 'bad-json'],
    ['workdays', '', 'bad-json'],
    ['workdays', '[]', 'bad-input'],
    ['workdays', { id: 1, date: '2026-02-30', add: 1 }, 'bad-date'],
    ['workdays', { id: 1, date: '2026-02-27', add: 1.5 }, 'bad-number'],
    ['workdays', { id: 1, date: '2026-02-27', add: 1, roll: 'sideways' }, 'bad-input'],
    ['workdays', { id: 1, date: '2026-02-27', add: 1, calendar: { week: [] } }, 'bad-calendar'],
    ['workdays', { id: 1, date: '9999-12-31', add: 1 }, 'out-of-range'],
    ['recurrence', { id: 1, start: '2026-01-01', rule: 'FREQ=NEVER' }, 'bad-rule'],
    ['recurrence', { id: 1, start: '2026-01-01', rule: { workday: 0, of: 'month' } }, 'bad-rule'],
    [
      'recurrence',
      { id: 1, start: '2026-01-01', zone: 'Mars/Base', rule: 'FREQ=DAILY' },
      'bad-zone',
    ],
    ['recurrence', { id: 1, start: '2026-01-01T25:00', rule: 'FREQ=DAILY' }, 'bad-time'],
    ['recurrence', { id: 1, start: '2026-01-01', rule: 'FREQ=DAILY', exclude: 'x' }, 'bad-input'],
    ['plan', { id: 1, anchor: '2026-01-01' }, 'bad-input'],
    ['plan', { id: 1, anchor: '2026-01-01', template: { phases: [] } }, 'bad-template'],
    ['nonsense', { id: 1 }, 'unknown-kind'],
  ])('%s %j answers %s, and does not crash', (kind, input, code) => {
    const out = ask(kind, input) as unknown as { error: { code: string; message: string } }
    expect(out.error.code).toBe(code)
    expect(out.error.message.length).toBeGreaterThan(10)
  })
})
