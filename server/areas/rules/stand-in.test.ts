import { describe, expect, it } from 'vitest'
import type { Action, Who } from '#contract/rules.ts'
import { lab, type Lab } from '../../test/lab.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { listNotices } from '../notices/service.ts'
import { addTimeOff } from '../people/page.ts'
import { editPerson } from '../people/service.ts'
import { makeProject } from '../projects/service.ts'
import { makeTask, taskSheet } from '../tasks/service.ts'
import { listRuns } from './log.ts'
import { makeRule, switchRule } from './service.ts'

/** A ladder whose first rung does something on Monday 30 November to what was due on Friday. */
function escalating(...actions: Action[]): Lab {
  const l = lab()
  const rungs = [{ key: 'a', delay: { days: 1, unit: 'working' as const, time: '09:00' }, actions }]
  const { id } = makeRule(l.engine, l.imogen, {
    ...{ name: 'R', ownerId: l.imogen.id },
    definition: { trigger: { kind: 'late' }, conditions: { match: 'all', of: [] }, rungs },
  }).result
  switchRule(l.engine, l.imogen, id, { on: true })
  return l
}
const late = (l: Lab, more: object = {}) =>
  makeTask(l.engine, l.imogen, {
    ...{ title: 'T', due: '2026-11-27', assignees: [l.tobias.id], ...more },
  }).result
const away = (l: Lab, of: Viewer, firstDay = '2026-11-30', more: object = {}) =>
  addTimeOff(l.engine, l.imogen, of.id, { firstDay, lastDay: firstDay, ...more })
const standIn = (l: Lab, of: Viewer, by: Viewer) =>
  editPerson(l.engine, l.imogen, of.id, { standInId: by.id })
const heard = (l: Lab, who: Viewer) =>
  listNotices(l.engine, who).filter((n) => n.kind === 'escalation').length
const tell = (who: Who): Action => ({ kind: 'tell', who, mail: false, text: 'Late' })
const said = (l: Lab) =>
  listRuns(l.engine, l.imogen, {}).flatMap(({ summary, reasons }) => [summary, ...reasons])

describe('somebody away', () => {
  it('has their stand-in told in their place, which the run log says', () => {
    const l = escalating(tell({ is: 'assignees' }))
    standIn(l, l.tobias, l.devika)
    away(l, l.tobias)
    late(l)
    l.until('2026-11-30T09:00')
    expect([heard(l, l.tobias), heard(l, l.devika)]).toEqual([0, 1])
    expect(said(l).join()).toContain('Tobias is away, so Devika stands in')
  })
  it('for half a day is there; with nobody to stand in, or one who left, hears it themselves', () => {
    const half = escalating(tell({ is: 'assignees' }))
    standIn(half, half.tobias, half.devika)
    away(half, half.tobias, '2026-11-30', { half: true })
    const none = escalating(tell({ is: 'assignees' }))
    away(none, none.tobias)
    const left = escalating(tell({ is: 'assignees' }))
    standIn(left, left.tobias, left.devika)
    away(left, left.tobias)
    editPerson(left.engine, left.imogen, left.devika.id, { active: false })
    for (const l of [half, none, left]) {
      late(l)
      l.until('2026-11-30T09:00')
      expect([heard(l, l.tobias), heard(l, l.devika)]).toEqual([1, 0])
    }
  })
  it('whose stand-in does not see the task hears it themselves', () => {
    const l = escalating(tell({ is: 'assignees' }))
    standIn(l, l.tobias, l.devika)
    away(l, l.tobias)
    const { id } = makeProject(l.engine, l.imogen, {
      ...{ name: 'P', clientId: null, audience: 'named' },
    }).result
    late(l, { projectId: id })
    l.until('2026-11-30T09:00')
    expect([heard(l, l.tobias), heard(l, l.devika)]).toEqual([1, 0])
    expect(said(l).join()).toContain('does not see this task')
  })
  it('gets no late work; two who have the same stand-in tell them once', () => {
    const l = escalating(
      { kind: 'assign', who: { is: 'person', id: 2 } },
      tell({ is: 'assignees' }),
    )
    expect(l.tobias.id).toBe(2)
    standIn(l, l.tobias, l.devika)
    away(l, l.tobias)
    const task = late(l)
    l.until('2026-11-30T09:00')
    expect(taskSheet(l.engine, l.imogen, task.id).assignees.map((a) => a.id)).toEqual([l.devika.id])
    expect(heard(l, l.devika)).toBe(1)
  })
})

describe('the manager of whoever is on a task', () => {
  it('is told, once for two who share one; where there is none, that is said', () => {
    const l = escalating(tell({ is: 'manager' }))
    for (const of of [l.tobias, l.devika])
      editPerson(l.engine, l.imogen, of.id, { managerId: l.imogen.id })
    late(l, { assignees: [l.tobias.id, l.devika.id] })
    late(l, { assignees: [l.corrie.id] })
    l.until('2026-11-30T09:00')
    expect(heard(l, l.imogen)).toBe(1)
    expect(said(l).join()).toContain('nobody on it has a manager')
  })
})
