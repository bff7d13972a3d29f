import { isoDate } from '#core/calendar/dates.ts'
import { listProjects, projectSheet } from '../projects/sheet.ts'
import { startProject } from '../templates/start.ts'
import { describe, expect, it } from 'vitest'
import type { IsoDate, PersonId } from '#core/brands.ts'
import { BOOKS, ENGINE, lab, london } from '../../test/lab.ts'
import { makeSeries } from '../series/service.ts'
import { editTask, makeTask } from '../tasks/service.ts'
import { makeTemplate } from '../templates/service.ts'

import { ribbon, todaySheet } from './service.ts'

const titles = (tasks: readonly { title: string }[]) => tasks.map((t) => t.title)

describe('Today', () => {
  it('lays tasks into their days; a time that has passed has slipped', () => {
    const l = lab({ now: '2026-11-25T12:00' })
    const mine = (title: string, due: string | null, dueTime: string | null = null) =>
      makeTask(l.engine, l.imogen, { title, due, dueTime, assignees: [l.tobias.id] }).result
    mine('last week', '2026-11-20')
    mine('this morning', '2026-11-25', '10:00')
    mine('this evening', '2026-11-25', '17:00')
    mine('any time', '2026-11-25')
    mine('tomorrow', '2026-11-26')
    mine('Sunday', '2026-11-29')
    mine('Monday', '2026-11-30')
    mine('next Sunday', '2026-12-06')
    mine('after', '2026-12-07')
    mine('some day', null)
    makeTask(l.engine, l.imogen, { title: 'not his', due: '2026-11-25', assignees: [l.devika.id] })
    const { groups } = todaySheet(l.engine, l.tobias)
    expect(
      Object.fromEntries(Object.entries(groups).map(([g, tasks]) => [g, titles(tasks)])),
    ).toEqual({
      slipped: ['last week', 'this morning'],
      today: ['this evening', 'any time'],
      tomorrow: ['tomorrow'],
      week: ['Sunday'],
      'next-week': ['Monday', 'next Sunday'],
      later: ['after'],
      'no-date': ['some day'],
    })
    expect(groups.slipped.map((t) => [t.late, t.daysLate])).toEqual([
      [true, 3],
      [true, 0],
    ])
  })
  it('a due at the end of a day is late from midnight, not before', () => {
    const l = lab()
    makeTask(l.engine, l.imogen, { title: 'X', due: '2026-11-23', assignees: [l.tobias.id] })
    l.clock.set(london('2026-11-23T23:59'))
    expect(todaySheet(l.engine, l.tobias).groups.slipped).toHaveLength(0)
    l.clock.set(london('2026-11-24T00:00'))
    expect(todaySheet(l.engine, l.tobias).groups.slipped).toHaveLength(1)
  })
  it('what is in review waits on the lead; loose ends are the firm’s for a manager, one’s own for a member', () => {
    const l = lab()
    const template = makeTemplate(l.engine, l.imogen, BOOKS).result
    const id = startProject(l.engine, l.imogen, template.id, {
      name: 'Books',
      clientId: l.client,
      leadId: l.devika.id,
      anchor: '2026-12-07',
      roles: { keeper: { person: l.tobias.id } },
    }).whole().result.id
    const ask = l.tasksIn(id).find((t) => t.title === 'Ask for statements')
    editTask(l.engine, l.tobias, ask!.id, { patch: { state: 'in-review' }, seen: null })
    expect(todaySheet(l.engine, l.devika).waiting.map((w) => w.text)).toEqual([
      'Tobias finished “Ask for statements” and asks you to check it.',
    ])
    expect(todaySheet(l.engine, l.imogen).waiting).toEqual([])
    makeTask(l.engine, l.devika, { title: 'Floating' })
    expect(todaySheet(l.engine, l.imogen).loose.map((e) => e.kind)).toEqual([
      'no-date',
      'no-owner',
      'unfilled',
    ])
    expect(todaySheet(l.engine, l.tobias).loose).toEqual([])
    expect(todaySheet(l.engine, l.corrie).loose).toEqual([])
  })
})

describe('the ribbon', () => {
  it('shows booked and expected load, capacity, rest and what is due', () => {
    const l = lab()
    makeTask(l.engine, l.imogen, {
      title: 'Two days',
      due: '2026-11-24',
      estimate: 120,
      assignees: [l.tobias.id],
    })
    makeTask(l.engine, l.imogen, {
      title: 'Late',
      due: '2026-11-20',
      estimate: 30,
      assignees: [l.tobias.id],
    })
    l.engine.journal.change(ENGINE, (write) =>
      write.insert('timeOff', {
        personId: l.tobias.id,
        firstDay: isoDate('2026-11-26'),
        lastDay: isoDate('2026-11-26'),
        reason: 'training',
      }),
    )
    makeSeries(l.engine, l.imogen, {
      name: 'Run',
      leadDays: 0,
      schedule: { start: '2026-11-27', rule: 'FREQ=WEEKLY' },
      makes: {
        kind: 'task',
        title: 'Run',
        description: '',
        clientId: null,
        projectId: null,
        assignees: [l.tobias.id],
        estimate: 180,
        checklist: [],
        period: { of: 'week', which: 'same' },
      },
    })
    const days = ribbon(l.engine, l.tobias, '2026-11-20' as IsoDate)
    expect(days).toHaveLength(15)
    const on = (date: string) => days.find((d) => d.date === date)!
    expect(on('2026-11-20')).toMatchObject({ due: 1, late: 1, booked: 0 })
    expect(on('2026-11-23').booked).toBe(90)
    expect(on('2026-11-24')).toMatchObject({ due: 1, booked: 60, capacity: 450, rest: null })
    expect(on('2026-11-26')).toMatchObject({ capacity: 0, rest: 'training', expected: 0 })
    expect(on('2026-11-28')).toMatchObject({ capacity: 0, rest: 'not a working day' })
    // 180 minutes over the four working days to Friday, and over the five of the week after.
    expect(on('2026-11-27').expected).toBeGreaterThan(45)
    expect(days.reduce((sum, d) => sum + d.expected, 0)).toBeGreaterThanOrEqual(300)
  })
  it('members ask how full the days of others are, as many as they say; guests do not', () => {
    const l = lab()
    makeTask(l.engine, l.imogen, {
      ...{ title: 'Two hours', due: '2026-11-24', estimate: 120, assignees: [l.tobias.id] },
    })
    const asked = { days: 42, person: l.tobias.id }
    const days = ribbon(l.engine, l.imogen, '2026-11-23' as IsoDate, asked)
    expect(days).toHaveLength(42)
    expect(days.find((d) => d.date === '2026-11-24')).toMatchObject({ due: 1, booked: 60 })
    const guest = () => ribbon(l.engine, l.corrie, '2026-11-23' as IsoDate, asked)
    expect(guest).toThrow(/how full the days of others are/)
    const nobody = { person: 9999 as PersonId }
    expect(() => ribbon(l.engine, l.imogen, '2026-11-23' as IsoDate, nobody)).toThrow(/no person/)
  })
  it('a holiday has its name', () => {
    const l = lab()
    expect(
      ribbon(l.engine, l.tobias, '2026-12-20' as IsoDate).find((d) => d.date === '2026-12-25'),
    ).toMatchObject({ rest: 'Bank holiday', capacity: 0 })
  })
})

describe('projects', () => {
  it('progress goes by effort; guests see only those with work of theirs, and in them only that', () => {
    const l = lab()
    const template = makeTemplate(l.engine, l.imogen, BOOKS).result
    const id = startProject(l.engine, l.imogen, template.id, {
      name: 'Books',
      clientId: l.client,
      anchor: '2026-12-07',
      roles: { keeper: { person: l.tobias.id }, reviewer: { person: l.corrie.id } },
    }).whole().result.id
    startProject(l.engine, l.imogen, template.id, {
      name: 'Other',
      clientId: null,
      anchor: '2026-12-07',
      roles: {},
    }).whole()
    const view = projectSheet(l.engine, l.imogen, id)
    expect(view.phases.map((p) => [p.name, p.open])).toEqual([
      ['Gather', 1],
      ['Close', 2],
    ])
    editTask(l.engine, l.tobias, l.tasksIn(id).find((t) => t.phaseId === view.phases[1]!.id)!.id, {
      patch: { state: 'done' },
      seen: null,
    })
    expect(projectSheet(l.engine, l.imogen, id).progress).toBeCloseTo(90 / 170)
    expect(titles(listProjects(l.engine, l.corrie).map((p) => ({ title: p.name })))).toEqual([
      'Books',
    ])
    expect(titles(l.tasksIn(id, l.corrie))).toEqual(['Review'])
    expect(() => projectSheet(l.engine, l.corrie, id + 1)).toThrow(/not shared/)
  })
})
