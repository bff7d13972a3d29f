import { seriesSheet } from './sheet.ts'
import { describe, expect, it } from 'vitest'
import { BOOKS, lab, london, type Lab } from '../../test/lab.ts'
import { setAudience, sharedSheet, shareProject } from '../access/service.ts'
import { editClient } from '../clients/service.ts'
import { leave } from '../people/leave.ts'
import { listRuns } from '../rules/log.ts'
import { makeSeries, switchSeries } from './service.ts'
import { makeTemplate } from '../templates/service.ts'

describe('series', () => {
  const body = (l: Lab, rule: string | object, more: object = {}) => ({
    name: 'Run',
    leadDays: 2,
    schedule: { start: '2026-11-20', rule: rule as string, roll: 'following' as const },
    makes: {
      kind: 'task' as const,
      title: 'Pay {period: MMMM}',
      description: '',
      clientId: l.client,
      projectId: null,
      assignees: [l.tobias.id],
      estimate: 30,
      checklist: ['Check'],
      period: { of: 'month' as const, which: 'before' as const },
    },
    ...more,
  })
  it('makes each occurrence once, so many working days ahead, rolled with the reason', () => {
    const l = lab()
    const made = makeSeries(l.engine, l.imogen, body(l, 'FREQ=MONTHLY;BYMONTHDAY=28')).result
    expect(made.next.slice(0, 2).map((n) => [n.scheduled, n.date, n.makeOn, n.why])).toEqual([
      ['2026-11-28', '2026-11-30', '2026-11-26', 'Sat 28 Nov is not a working day'],
      ['2026-12-28', '2026-12-29', '2026-12-23', 'Mon 28 Dec is Bank holiday'],
    ])
    l.until('2026-11-26T05:59')
    expect(l.rows('select 1 from tasks')).toHaveLength(0)
    l.until('2026-11-26T06:00')
    for (let i = 0; i < 3; i++) l.runner.tick()
    expect(l.rows('select title, due, occurrence from tasks')).toEqual([
      { title: 'Pay October', due: '2026-11-30', occurrence: '2026-11-28' },
    ])
    l.until('2026-12-23T06:00')
    expect(l.rows('select scheduled, date from occurrences order by id')).toEqual([
      { scheduled: '2026-11-28', date: '2026-11-30' },
      { scheduled: '2026-12-28', date: '2026-12-29' },
    ])
    expect(listRuns(l.engine, l.imogen, {})[0]).toMatchObject({
      outcome: 'done',
      summary: 'Made “Pay November”',
    })
  })
  it('a project is seen as the one before it was, and shared with the same people', () => {
    const l = lab()
    const templateId = makeTemplate(l.engine, l.imogen, BOOKS).result.id
    const makes = {
      ...{ kind: 'project', templateId, name: 'Books {date}', clientId: null, leadId: null },
      ...{ roles: {}, period: { of: 'month', which: 'before' } },
    }
    const schedule = { start: '2026-11-25', rule: 'FREQ=WEEKLY;BYDAY=WE', roll: 'none' }
    const weekly = { ...body(l, ''), schedule, makes, leadDays: 0 }
    makeSeries(l.engine, l.imogen, weekly as never)
    l.until('2026-11-25T06:00')
    const ids = () => l.rows<{ id: number }>('select id from projects order by id').map((p) => p.id)
    const [first] = ids()
    setAudience(l.engine, l.imogen, first!, { audience: 'team', teamId: l.team })
    shareProject(l.engine, l.imogen, first!, { people: [l.corrie.id], may: 'comment' })
    l.until('2026-12-02T06:00')
    const [, second] = ids()
    expect(sharedSheet(l.engine, l.imogen, second!)).toMatchObject({
      audience: 'team',
      team: { id: l.team },
      shares: [{ person: { id: l.corrie.id }, may: 'comment' }],
    })
  })
  it('makes what downtime missed, each once', () => {
    const l = lab()
    makeSeries(l.engine, l.imogen, body(l, 'FREQ=WEEKLY;BYDAY=WE', { leadDays: 0 }))
    l.clock.set(london('2026-12-10T12:00'))
    l.runner.tick()
    l.runner.tick()
    expect(l.rows('select due from tasks order by due')).toEqual([
      { due: '2026-11-25' },
      { due: '2026-12-02' },
      { due: '2026-12-09' },
    ])
  })
  it('refuses a schedule that has no date left, and ends when the last is made', () => {
    const l = lab()
    expect(
      () => makeSeries(l.engine, l.imogen, body(l, 'FREQ=DAILY;UNTIL=20261120')).result,
    ).toThrow(/no date left/)
    expect(
      () => makeSeries(l.engine, l.imogen, body(l, 'FREQ=MONTHLY;BYMONTHDAY=30;BYMONTH=2')).result,
    ).toThrow(/no date left/)
    expect(l.rows('select 1 from series')).toEqual([])
    const made = makeSeries(
      l.engine,
      l.imogen,
      body(l, 'FREQ=WEEKLY;BYDAY=WE;COUNT=1', { leadDays: 0 }),
    ).result
    l.until('2026-12-30T12:00')
    expect(seriesSheet(l.engine, l.imogen, made.id)).toMatchObject({ ended: true, next: [] })
    expect(l.rows('select 1 from tasks')).toHaveLength(1)
  })
  it.each([
    ['FREQ=MINUTELY', {}, /daily at the most/],
    ['FREQ=MONTHLY;BYMONTHDAY=32', {}, /BYMONTHDAY=32/],
    [
      'FREQ=DAILY',
      { schedule: { start: '0226-11-20', rule: 'FREQ=DAILY' } },
      /slip of the keyboard/,
    ],
    [
      'FREQ=DAILY',
      { schedule: { start: '2026-11-20', zone: 'Mars/Base', rule: 'FREQ=DAILY' } },
      /not a time zone/,
    ],
  ])('a schedule of %s %j is refused, and nothing is made', (rule, more, says) => {
    const l = lab()
    expect(() => makeSeries(l.engine, l.imogen, body(l, rule, more)).result).toThrow(says)
    expect(l.rows('select 1 from series')).toEqual([])
  })
  it('what passes while paused is skipped', () => {
    const l = lab()
    const made = makeSeries(
      l.engine,
      l.imogen,
      body(l, 'FREQ=WEEKLY;BYDAY=WE', { leadDays: 0 }),
    ).result
    switchSeries(l.engine, l.imogen, made.id, false)
    l.until('2026-12-10T12:00')
    expect(l.rows('select 1 from tasks')).toHaveLength(0)
    switchSeries(l.engine, l.imogen, made.id, true)
    l.until('2026-12-16T12:00')
    expect(l.rows('select due from tasks')).toEqual([{ due: '2026-12-16' }])
  })
  it('makes a project from a template on its anchor', () => {
    const l = lab()
    const template = makeTemplate(l.engine, l.imogen, BOOKS).result
    makeSeries(l.engine, l.imogen, {
      ...body(l, { workday: 5, of: 'month' }),
      leadDays: 6,
      makes: {
        kind: 'project',
        templateId: template.id,
        clientId: l.client,
        leadId: l.imogen.id,
        roles: { keeper: { person: l.tobias.id } },
        name: '{client}, books for {period: MMMM yyyy}',
        period: { of: 'month', which: 'before' },
      },
    })
    l.until('2026-11-27T06:00')
    expect(l.rows('select name, anchor from projects')).toEqual([
      { name: 'Mossgate, books for November 2026', anchor: '2026-12-07' },
    ])
    expect(l.rows('select due from tasks order by due')).toEqual([
      { due: '2026-11-30' },
      { due: '2026-12-03' },
      { due: '2026-12-07' },
    ])
  })
  it('fills roles that are open by who usually does so for its client, while they are here', () => {
    const l = lab()
    const template = makeTemplate(l.engine, l.imogen, BOOKS).result
    editClient(l.engine, l.imogen, l.client, {
      usual: [{ role: template.definition.roles![0]!.name, personId: l.devika.id }],
    })
    const made = makeSeries(l.engine, l.imogen, {
      ...body(l, { workday: 5, of: 'month' }),
      leadDays: 6,
      makes: {
        ...{ kind: 'project', templateId: template.id, clientId: l.client, leadId: l.imogen.id },
        ...{ roles: {}, name: 'Books {date}', period: { of: 'month', which: 'before' } },
      },
    }).result
    expect(made.warnings.filter((said) => said.startsWith('Nobody fills'))).toHaveLength(
      template.definition.roles!.length - 1,
    )
    l.until('2026-11-27T06:00')
    const on = () => l.rows('select distinct personId from taskAssignees')
    expect(on()).toEqual([{ personId: l.devika.id }])
    leave(l.engine, l.imogen, l.devika.id, { to: {} }).whole()
    expect(seriesSheet(l.engine, l.imogen, made.id).warnings.join()).toMatch(/Nobody fills/)
    l.until('2026-12-31T12:00')
    const second =
      'select personId from taskAssignees join tasks on tasks.id = taskId where projectId = 2'
    expect([l.rows('select 1 from tasks where projectId = 2').length, l.rows(second)]).toEqual([
      3,
      [],
    ])
  })
})
