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
  it.each([
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
