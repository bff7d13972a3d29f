import { describe, expect, it } from 'vitest'
import { lab, type Lab } from '../../test/lab.ts'
import { setAudience } from '../access/service.ts'
import { BOOKS } from '../../test/lab.ts'
import { makeTemplate } from '../templates/service.ts'
import { decideBody } from '#contract/series.ts'
import { decideDates } from './decide.ts'
import { round } from './round.ts'
import { makeSeries } from './service.ts'
import { listSeries } from './sheet.ts'

const body = (more: object, makes: object = {}) =>
  ({
    ...{ name: 'Run', leadDays: 0 },
    schedule: { start: '2026-11-25', rule: 'FREQ=WEEKLY;BYDAY=WE' },
    ...more,
    makes: {
      ...{ kind: 'task', title: '{client}, weekly run {date}', description: '', clientId: null },
      ...{ projectId: null, assignees: [], estimate: null, checklist: [] },
      period: { of: 'month', which: 'same' },
      ...makes,
    },
  }) as never
const NOVEMBER = { from: '2026-11-01', to: '2026-11-30' }
const DECEMBER = { from: '2026-12-01', to: '2026-12-31' }

it('what is no date at all is refused, and fails nothing', () => {
  const dates = [null, 'x', { series: 5, scheduled: 'created' }]
  expect(decideBody.validate({ deed: 'back', dates }).error?.message).toContain('dates[0]')
})

describe('the round', () => {
  it('shows clients by kinds of work, each date with how it stands', () => {
    const l = lab()
    const { id } = makeSeries(l.engine, l.imogen, body({}, { clientId: l.client })).result
    makeSeries(l.engine, l.imogen, body({ schedule: { start: '2027-02-01', rule: 'FREQ=YEARLY' } }))
    decideDates(l.engine, l.imogen, {
      dates: [{ series: id, scheduled: '2026-12-09' }],
      ...{ deed: 'move', to: '2026-12-10' },
    }).whole()
    l.until('2026-12-03T12:00')
    const found = round(l.engine, l.tobias, DECEMBER)
    expect(found.columns).toEqual([{ key: 'tweekly run', name: 'weekly run' }])
    const [mossgate, nobody] = found.rows
    expect(mossgate?.client?.name).toBe('Mossgate Veterinary Clinic')
    expect(mossgate?.cells[0]?.dates.map(({ date, stand }) => [date, stand])).toEqual([
      ['2026-12-02', 'overdue'],
      ['2026-12-10', 'expected'],
      ['2026-12-16', 'expected'],
      ['2026-12-23', 'expected'],
      ['2026-12-30', 'expected'],
    ])
    expect(mossgate?.cells[0]?.dates[1]?.byHand).toBe(true)
    expect(nobody).toMatchObject({ client: null, cells: [{ dates: [], next: '2027-02-01' }] })
  })
  it('a project that is not for somebody is not named to them', () => {
    const l = lab()
    const templateId = makeTemplate(l.engine, l.imogen, BOOKS).result.id
    const makes = { kind: 'project', templateId, leadId: null, roles: {}, name: 'Books' }
    const {
      title: _,
      projectId: __,
      ...rest
    } = (body({}) as { makes: Record<string, unknown> }).makes
    for (const field of ['description', 'assignees', 'estimate', 'checklist']) delete rest[field]
    const series = { ...(body({}) as object), makes: { ...rest, ...makes } } as never
    makeSeries(l.engine, l.imogen, series)
    l.until('2026-11-25T12:00')
    const project = l.rows<{ id: number }>('select id from projects')[0]!.id
    setAudience(l.engine, l.imogen, project, { audience: 'named', teamId: null })
    const seen = (who: Lab['imogen']) => round(l.engine, who, NOVEMBER).rows[0]?.cells[0]?.dates
    expect(seen(l.imogen)).toMatchObject([{ stand: 'overdue', project: { name: 'Books' } }])
    expect(seen(l.devika)).toMatchObject([{ stand: 'unseen', project: null }])
  })
  it.each([
    [{ from: '2026-12-31', to: '2026-12-01' }, /before they begin/],
    [{ from: '2026-01-01', to: '2029-01-01' }, /366 days at the most/],
    [{ from: '0001-01-01', to: '0001-01-02' }, /from/],
  ])('%j is refused', (days, says) => {
    const l = lab()
    expect(() => round(l.engine, l.imogen, days)).toThrow(says)
  })
  it('guests see none of it', () => {
    const l = lab()
    expect(() => round(l.engine, l.corrie, NOVEMBER)).toThrow(/Guests may not/)
  })
})

it('the list and the round ask as often for a hundred series as for five', () => {
  const l = lab()
  const statement = Object.getPrototypeOf(l.db.sqlite.prepare('select 1'))
  const counted = (work: () => unknown): number => {
    let count = 0
    const { all, get } = statement
    statement.all = function (...args: unknown[]) {
      count++
      return all.apply(this, args)
    }
    statement.get = function (...args: unknown[]) {
      count++
      return get.apply(this, args)
    }
    try {
      work()
    } finally {
      Object.assign(statement, { all, get })
    }
    return count
  }
  const asked = () => [
    counted(() => listSeries(l.engine, l.imogen)),
    counted(() => round(l.engine, l.imogen, NOVEMBER)),
  ]
  const make = (many: number) => {
    for (let i = 0; i < many; i++)
      makeSeries(l.engine, l.imogen, body({}, { assignees: [l.tobias.id] }))
  }
  make(5)
  const few = asked()
  expect(few[0]).toBeGreaterThan(1)
  make(95)
  expect(asked()).toEqual(few)
})
