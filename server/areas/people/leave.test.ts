import { describe, expect, it } from 'vitest'
import type { LeaveBody } from '#contract/people.ts'
import { codeOf } from '../../test/code-of.ts'
import { lab, type Lab } from '../../test/lab.ts'
import { undoChange } from '../journal/undo.ts'
import { makeProject } from '../projects/service.ts'
import { makeMilestone } from '../projects/milestones.ts'
import { makeRule, ruleSheet } from '../rules/service.ts'
import { makeSeries } from '../series/service.ts'
import { seriesSheet } from '../series/sheet.ts'
import { editTask, makeTask, taskSheet } from '../tasks/service.ts'
import { makeView, listViews } from '../views/service.ts'
import { handOver, leave } from './leave.ts'
import { editPerson, listPeople } from './service.ts'

/** A firm in which Tobias holds one of everything, and a task that is done. */
function busy() {
  const l = lab()
  const { engine, imogen, tobias, devika, corrie } = l
  const project = makeProject(engine, imogen, {
    ...{ name: 'Move of the practice', clientId: l.client, leadId: tobias.id },
  }).result.id
  const task = (title: string, more: object) =>
    makeTask(engine, imogen, { title, projectId: project, ...more }).result.id
  const alone = task('Alone', { assignees: [tobias.id] })
  const shared = task('Shared', { assignees: [tobias.id, devika.id] })
  const closed = task('Closed', { assignees: [tobias.id] })
  editTask(engine, imogen, closed, { patch: { state: 'done' }, seen: null })
  editTask(engine, imogen, alone, { patch: { estimates: { [tobias.id]: 90 } }, seen: null })
  makeMilestone(engine, imogen, project, {
    ...{ name: 'Keys', ownerId: tobias.id, date: '2026-12-10', done: false },
  })
  const series = makeSeries(engine, imogen, {
    name: 'Post',
    leadDays: 0,
    schedule: { start: '2026-12-01', rule: 'FREQ=MONTHLY', roll: 'none' },
    makes: {
      ...{ kind: 'task', title: 'Post', description: '', clientId: null, projectId: null },
      ...{ assignees: [tobias.id], estimate: null, checklist: [] },
      period: { of: 'month', which: 'same' },
    },
  } as never).result.id
  const rule = makeRule(engine, imogen, {
    ...{ name: 'Comment', ownerId: tobias.id },
    definition: {
      trigger: { kind: 'commented' },
      conditions: { match: 'all', of: [] },
      actions: [
        { kind: 'tell', who: { is: 'person', id: tobias.id }, mail: false, text: 'Said' },
        { kind: 'assign', who: { is: 'person', id: corrie.id } },
      ],
    },
  }).result.id
  return { l, project, alone, shared, closed, series, rule }
}
const ALL = ['tasks', 'projects', 'milestones', 'series', 'rules', 'views', 'answering', 'standing']
const toAll = (id: number): LeaveBody => ({ to: Object.fromEntries(ALL.map((p) => [p, id])) })
const on = (l: Lab, id: number) => taskSheet(l.engine, l.imogen, id).assignees.map((a) => a.id)

describe('leaving with a hand-over', () => {
  it('says beforehand what they hold, and hands over exactly that, with one undo', () => {
    const { l, project, alone, shared, closed, series, rule } = busy()
    const { engine, imogen, tobias, devika, corrie } = l
    makeView(engine, tobias, {
      ...{ name: 'Mine', shared: true },
      definition: { query: {}, look: {} },
    } as never)
    editPerson(engine, imogen, devika.id, { managerId: tobias.id })
    editPerson(engine, imogen, corrie.id, { standInId: tobias.id })
    const before = handOver(engine, imogen, tobias.id)
    expect(before.map(({ part, count }) => [part, count])).toEqual([
      ...[
        ['tasks', 2],
        ['projects', 1],
        ['milestones', 1],
        ['series', 1],
      ],
      ...[
        ['rules', 1],
        ['views', 1],
        ['answering', 1],
        ['standing', 1],
      ],
    ])
    expect(before[0]!.names).toEqual(['Alone', 'Shared'])
    const { result, change } = leave(engine, imogen, tobias.id, toAll(devika.id)).whole()
    expect(result.count).toBe(9)
    expect(result.person.active).toBe(false)
    expect([on(l, alone), on(l, shared), on(l, closed)]).toEqual([
      ...[[devika.id], [devika.id], [tobias.id]],
    ])
    // Their part of the estimate goes with the work.
    expect(l.rows('select estimate from taskAssignees where taskId = ?', alone)).toEqual([
      { estimate: 90 },
    ])
    expect(l.rows('select leadId from projects where id = ?', project)).toEqual([
      { leadId: devika.id },
    ])
    expect(l.rows('select ownerId from milestones')).toEqual([{ ownerId: devika.id }])
    expect(seriesSheet(engine, imogen, series).makes).toMatchObject({ assignees: [devika.id] })
    const after = ruleSheet(engine, imogen, rule)
    expect(after.owner?.id).toBe(devika.id)
    expect(after.warnings).toEqual([])
    expect(after.definition.actions).toMatchObject([
      { who: { id: devika.id } },
      { who: { id: corrie.id } },
    ])
    expect(listViews(engine, devika).map((view) => view.owner.id)).toEqual([devika.id])
    const links = () =>
      listPeople(engine, imogen).map((p) => [p.name, p.managerId, p.standInId, p.active])
    // Devika answered to who she takes over from: to nobody now.
    expect(links()).toContainEqual(['Devika', null, null, true])
    expect(links()).toContainEqual(['Corrie', null, devika.id, true])
    undoChange(engine, imogen, change!).whole()
    expect(handOver(engine, imogen, tobias.id)).toEqual(before)
    expect(links()).toContainEqual(['Devika', tobias.id, null, true])
    expect(links()).toContainEqual(['Tobias', null, null, true])
  })
  it('leaves with them what goes to nobody, and part of it to one, part to another', () => {
    const { l, alone, series } = busy()
    const { engine, imogen, tobias, devika, corrie } = l
    const to = { tasks: corrie.id, series: devika.id, projects: null }
    leave(engine, imogen, tobias.id, { to }).whole()
    expect(on(l, alone)).toEqual([corrie.id])
    expect(seriesSheet(engine, imogen, series).makes).toMatchObject({ assignees: [devika.id] })
    expect(handOver(engine, imogen, tobias.id).map(({ part }) => part)).toEqual([
      ...['projects', 'milestones', 'rules'],
    ])
  })
  it('is refused to the last owner, to who is gone, and to hands that cannot take it', () => {
    const { l } = busy()
    const { engine, imogen, tobias, devika, corrie } = l
    const leaving = (body: LeaveBody, by = imogen, id = tobias.id) =>
      codeOf(() => leave(engine, by, id, body).whole())
    expect(leaving({ to: { rules: corrie.id } })).toBe('unfit')
    expect(leaving({ to: { tasks: tobias.id } })).toBe('unfit')
    expect(leaving({ to: { tasks: 999 } })).toBe('unfit')
    expect(leaving({ to: {} }, devika)).toBe('forbidden')
    l.db.sqlite.prepare("update people set access = 'owner' where id = ?").run(devika.id)
    const owner = { ...devika, access: 'owner' as const }
    expect(leaving({ to: {} }, imogen, devika.id)).toBe('owners-only')
    expect(leaving({ to: {} }, owner, devika.id)).toBe('last-owner')
    expect(leaving({ to: {} })).toBe('done')
    expect(leaving({ to: {} })).toBe('left')
    expect(leaving({ to: {} }, imogen, 999)).toBe('not-found')
  })
})
