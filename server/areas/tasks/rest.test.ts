import { describe, expect, it } from 'vitest'
import { lab, LADDER, type Lab } from '../../test/lab.ts'
import { undoChange } from '../journal/undo.ts'
import { makeProject, editProject } from '../projects/service.ts'
import { makeRule, switchRule } from '../rules/service.ts'
import { makeSeries } from '../series/service.ts'
import { todaySheet } from '../today/service.ts'
import { editTask, makeTask } from './service.ts'

/** A firm with a ladder that is on, and a project with a task due today. */
function room() {
  const l = lab()
  const definition = LADDER({ team: l.team, boss: l.imogen.id })
  const rule = makeRule(l.engine, l.imogen, { name: 'Late', ownerId: l.imogen.id, definition })
  switchRule(l.engine, l.imogen, rule.result.id, { on: true })
  const project = makeProject(l.engine, l.imogen, { name: 'Books', clientId: null }).result.id
  const due = { due: '2026-11-23', assignees: [l.tobias.id] }
  const task = makeTask(l.engine, l.imogen, { title: 'Post', projectId: project, ...due }).result.id
  return { l, project, task, due }
}
const runs = (l: Lab) => l.rows<{ summary: string }>('select summary from runs').length
const told = (l: Lab) => l.rows("select 1 from notices where kind in ('reminder', 'escalation')")
const project = (l: Lab, id: number, patch: object) =>
  editProject(l.engine, l.imogen, id, { patch, seen: null })
const edit = (l: Lab, id: number, patch: object) =>
  editTask(l.engine, l.imogen, id, { patch, seen: null })
const onToday = (l: Lab) =>
  Object.values(todaySheet(l.engine, l.tobias).groups)
    .flat()
    .map((task) => task.title)

describe('what stands still', () => {
  it.each([
    ['archived', { archived: true }, { archived: false }],
    ['finished', { closed: true }, { closed: false }],
    ['on hold', { state: 'hold' }, { state: 'running' }],
    ['proposed', { state: 'proposed' }, { state: 'running' }],
  ])(
    'in a project that is %s nobody is reminded, and what was due meanwhile is not made up for',
    (_, off, on) => {
      const { l, project: id } = room()
      project(l, id, off)
      expect(onToday(l)).toEqual([])
      l.until('2026-11-27T12:00')
      expect([runs(l), told(l).length, l.rows('select 1 from outbox').length]).toEqual([0, 0, 0])
      project(l, id, on)
      expect(onToday(l)).toEqual(['Post'])
      l.runner.tick()
      expect(runs(l)).toBe(0)
      // The rung that comes next comes in its time: five working days after the due.
      l.until('2026-11-30T08:59')
      expect(runs(l)).toBe(0)
      l.until('2026-11-30T09:00')
      expect(l.rows('select summary from runs')).toHaveLength(1)
    },
  )
  it('a task that is archived, and what is part of it, stands still', () => {
    const { l, task, due } = room()
    makeTask(l.engine, l.imogen, { title: 'Part', parentId: task, ...due })
    edit(l, task, { archived: true })
    l.until('2026-11-25T12:00')
    expect(runs(l)).toBe(0)
    edit(l, task, { archived: false })
    l.runner.tick()
    expect(runs(l)).toBe(0)
    l.until('2026-11-26T09:00')
    expect(runs(l)).toBe(2)
  })
  it('what is moved into a finished project stands still there, and goes on elsewhere', () => {
    const { l, task, project: id } = room()
    const other = makeProject(l.engine, l.imogen, { name: 'Old', clientId: null }).result.id
    project(l, other, { closed: true })
    edit(l, task, { projectId: other })
    l.until('2026-11-25T12:00')
    expect(runs(l)).toBe(0)
    edit(l, task, { projectId: id })
    l.until('2026-11-26T09:00')
    expect(runs(l)).toBe(1)
  })
  it('archiving taken back goes on as if it had stood still', () => {
    const { l, project: id } = room()
    const { change } = project(l, id, { archived: true })
    l.until('2026-11-25T12:00')
    undoChange(l.engine, l.imogen, change!).whole()
    l.runner.tick()
    expect(runs(l)).toBe(0)
    l.until('2026-11-26T09:00')
    expect(runs(l)).toBe(1)
  })
  it.each([
    ['a finished project', { closed: true }, { closed: false }],
    ['a project on hold', { state: 'hold' }, { state: 'running' }],
  ])('a series makes nothing in %s, says so, and does not make up for it', (_, off, on) => {
    const { l, project: id } = room()
    project(l, id, off)
    makeSeries(l.engine, l.imogen, {
      name: 'Post',
      leadDays: 0,
      schedule: { start: '2026-11-24', rule: 'FREQ=DAILY' },
      makes: {
        ...{ kind: 'task', title: 'Daily', description: '', clientId: null, projectId: id },
        ...{ assignees: [], estimate: null, checklist: [] },
        period: { of: 'week', which: 'same' },
      },
    })
    const daily = () => l.rows("select 1 from tasks where title = 'Daily'").length
    l.until('2026-11-25T12:00')
    expect(daily()).toBe(0)
    expect(l.rows("select outcome from runs where outcome = 'skipped'")).toHaveLength(2)
    project(l, id, on)
    l.until('2026-11-26T12:00')
    expect(daily()).toBe(1)
  })
})
