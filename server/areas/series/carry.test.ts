import { describe, expect, it } from 'vitest'
import type { SeriesWays } from '#contract/series.ts'
import { drained } from '../../engine/portions.ts'
import { BOOKS, ENGINE, lab, type Lab } from '../../test/lab.ts'
import { shareProject } from '../access/service.ts'
import { makeField } from '../fields/service.ts'
import { undoChange } from '../journal/undo.ts'
import { editProject } from '../projects/service.ts'
import { editTask, makeTask } from '../tasks/service.ts'
import { makeTemplate } from '../templates/service.ts'
import { audit } from './audit.ts'
import { makeSeries, saveSeries } from './service.ts'
import { seriesSheet } from './sheet.ts'

/**
 * What the next project takes from the one before (engine.md, “Recurrence”): books due on the last
 * working day of each month, made eight working days ahead. It is Monday 23 November 2026; dates are
 * counted by hand on the calendar of the lab.
 */

function books(ways: SeriesWays) {
  const l = lab()
  const templateId = makeTemplate(l.engine, l.imogen, BOOKS).result.id
  const { id } = makeSeries(l.engine, l.imogen, {
    ...{ name: 'Books', leadDays: 5, ways },
    schedule: { start: '2026-11-30', rule: { workday: -1, of: 'month' }, roll: 'none' },
    makes: {
      ...{ kind: 'project', templateId, clientId: l.client, leadId: l.imogen.id },
      ...{ roles: { keeper: { person: l.tobias.id } }, name: 'Books {period: MMMM}' },
      period: { of: 'month', which: 'same' },
    },
  }).result
  l.runner.tick()
  const before = 1
  const next = () => {
    l.until('2026-12-24T12:00')
    return before + 1
  }
  return { l, id, before, next }
}
const tasksOf = (l: Lab, project: number) =>
  l.rows<{ id: number; title: string; due: string; state: string; people: string }>(
    `select t.id, title, due, state,
      (select group_concat(name) from taskAssignees a join people p on p.id = a.personId
       where a.taskId = t.id) as people
     from tasks t where projectId = ${project} order by t.id`,
  )
const titles = (l: Lab, project: number) => tasksOf(l, project).map(({ title }) => title)
const finish = (l: Lab, id: number) =>
  editTask(l.engine, l.imogen, id, { patch: { state: 'done' }, seen: null })
const project = (l: Lab, id: number) =>
  l.rows<Record<string, unknown>>(`select * from projects where id = ${id}`)[0]!
const sound = (l: Lab) => expect(drained(audit(l.engine)).wrong).toEqual([])

describe('what the next project of a series takes from the one before', () => {
  it('is nothing, where nothing is said', () => {
    const { l, before, next } = books({})
    expect(titles(l, before)).toEqual(['Ask for statements', 'Post takings', 'Review'])
    editProject(l.engine, l.imogen, before, {
      patch: { leadId: l.devika.id, description: 'As told' },
      seen: null,
    })
    const made = next()
    expect(project(l, made)).toMatchObject({ leadId: l.imogen.id, description: '' })
    expect(titles(l, made)).toHaveLength(3)
    expect(titles(l, before)).toHaveLength(3)
    sound(l)
  })
  it('is its lead and who did what in the end, and what is said and filled in of it', () => {
    const carries = ['lead', 'roles', 'description', 'fields', 'files'] as const
    const { l, before, next } = books({ carries })
    const [field] = makeField(l.engine, l.imogen, {
      ...{ name: 'Basis', kind: 'text', of: 'project', readers: 'everyone' },
    } as never).result
    editProject(l.engine, l.imogen, before, {
      patch: {
        ...{ leadId: l.devika.id, description: 'As told' },
        fields: { [field!.id]: 'Cash' },
      } as never,
      seen: null,
    })
    l.engine.journal.change(ENGINE, (write) => {
      const file = { name: 'terms', url: 'https://mossgate.example', at: write.at }
      write.insert('attachments', { ...file, projectId: before as never })
    })
    // Both of the keeper's tasks go to Devika, the review to nobody new.
    for (const { id, people } of tasksOf(l, before))
      if (people === 'Tobias')
        editTask(l.engine, l.imogen, id, { patch: { assignees: [l.devika.id] }, seen: null })
    const made = next()
    expect(project(l, made)).toMatchObject({ leadId: l.devika.id })
    expect(String(project(l, made)['description'])).toContain('As told')
    expect(tasksOf(l, made).map(({ people }) => people)).toEqual(['Devika', 'Devika', null])
    expect(l.rows(`select name from attachments where projectId = ${made}`)).toEqual([
      { name: 'terms' },
    ])
    expect(l.rows(`select text from projectValues where projectId = ${made}`)).toHaveLength(1)
    sound(l)
  })
  it('open tasks move along, each into its phase; what is done stays where it was done', () => {
    const { l, id, before, next } = books({ openTasks: 'move' })
    const [ask, post] = tasksOf(l, before)
    finish(l, ask!.id)
    makeTask(l.engine, l.imogen, { title: 'Under it', parentId: post!.id })
    const made = next()
    expect(titles(l, before)).toEqual(['Ask for statements'])
    expect(titles(l, made).sort()).toEqual(
      ['Ask for statements', 'Post takings', 'Post takings', 'Review', 'Review', 'Under it'].sort(),
    )
    // It is owed since November: its date stays.
    expect(tasksOf(l, made).filter((t) => t.id === post!.id)).toMatchObject([{ due: post!.due }])
    const phases = l.rows(
      `select p.name from tasks t join phases p on p.id = t.phaseId
       where t.id = ${post!.id} and p.projectId = ${made}`,
    )
    expect(phases).toEqual([{ name: 'Close' }])
    const log = l.rows<{ reasons: string }>('select reasons from runs order by id desc limit 1')
    expect(log[0]!.reasons).toContain('2 open tasks of “Books November” moved along')
    expect(seriesSheet(l.engine, l.imogen, id).made).toHaveLength(2)
    // Taken back, they are where they were.
    const { change } = l.rows<{ change: number }>('select change from runs order by id desc')[0]!
    undoChange(l.engine, l.imogen, change).whole()
    expect(titles(l, before)).toHaveLength(4)
    expect(titles(l, made)).toEqual([])
    sound(l)
  })
  it('open tasks are made again a month on, unticked, none before today; the old ones stay', () => {
    const { l, before, next } = books({ openTasks: 'copy' })
    const [ask, post] = tasksOf(l, before)
    finish(l, ask!.id)
    const done = makeTask(l.engine, l.imogen, { title: 'Done', parentId: post!.id }).result
    finish(l, done.id)
    const made = next()
    expect(titles(l, before)).toHaveLength(4)
    const again = tasksOf(l, made).filter(({ id }) => id > made * 3 + 1)
    expect(again.map(({ title }) => title)).toEqual(['Post takings', 'Review'])
    expect(again.every(({ due, state }) => due >= '2026-12-22' && state === 'not-started')).toBe(
      true,
    )
    sound(l)
  })
  it('nothing goes from one client to another', () => {
    const carries = ['lead', 'roles', 'description', 'fields', 'files'] as const
    const { l, id, before, next } = books({ carries, openTasks: 'move' })
    editProject(l.engine, l.imogen, before, { patch: { description: 'Secret' }, seen: null })
    shareProject(l.engine, l.imogen, before, { people: [l.corrie.id], may: 'view' })
    const other = l.engine.journal.change(ENGINE, (write) =>
      write.insert('clients', {
        name: 'Larkmoor',
        short: 'Larkmoor',
        createdAt: write.at,
      } as never),
    ).result
    const { makes, ...sheet } = seriesSheet(l.engine, l.imogen, id)
    const { name, schedule, ways, leadDays } = sheet
    const body = { name, schedule, ways, leadDays, makes: { ...makes, clientId: Number(other) } }
    saveSeries(l.engine, l.imogen, id, { body, seen: null })
    const made = next()
    expect(project(l, made)).toMatchObject({ clientId: other, description: '' })
    expect([titles(l, before), titles(l, made)].map(({ length }) => length)).toEqual([3, 3])
    expect(l.rows(`select 1 from shares where projectId = ${made}`)).toEqual([])
  })
  it('nothing of what was finished or put away is touched', () => {
    const { l, before, next } = books({ openTasks: 'move' })
    l.engine.journal.change(ENGINE, (write) =>
      write.update('projects', before as never, { closedAt: write.at }),
    )
    const made = next()
    expect(titles(l, before)).toHaveLength(3)
    expect(titles(l, made)).toHaveLength(3)
  })
  it('what is dropped as missed hands its open tasks on first', () => {
    const { l, before, next } = books({ openTasks: 'move', overlap: 'close-as-missed' })
    const made = next()
    expect(project(l, before)['closedAt']).not.toBeNull()
    expect(titles(l, made)).toHaveLength(6)
    sound(l)
  })
})
