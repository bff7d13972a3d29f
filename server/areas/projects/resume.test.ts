import { describe, expect, it } from 'vitest'
import type { ProjectPatch } from '#contract/projects.ts'
import { codeOf } from '../../test/code-of.ts'
import { lab, LADDER, type Lab } from '../../test/lab.ts'
import { undoChange } from '../journal/undo.ts'
import { editFirm } from '../firm/settings.ts'
import { whoAmI } from '../people/directory.ts'
import { makeRule, switchRule } from '../rules/service.ts'
import { editTask, makeTask, taskSheet } from '../tasks/service.ts'
import { todaySheet } from '../today/service.ts'
import { makeMilestone } from './milestones.ts'
import { resumeProject, resuming } from './resume.ts'
import { editProject, makeProject } from './service.ts'
import { projectSheet } from './sheet.ts'

const edit = (l: Lab, id: number, patch: ProjectPatch, by = l.imogen) =>
  editProject(l.engine, by, id, { patch, seen: null })
/** A project of Friday 27 November with a ladder over it; today is Monday 23 November. */
function held() {
  const l = lab()
  const { id } = makeRule(l.engine, l.imogen, {
    ...{ name: 'Late', ownerId: l.imogen.id },
    definition: LADDER({ team: l.team, boss: l.imogen.id }),
  }).result
  switchRule(l.engine, l.imogen, id, { on: true })
  const project = makeProject(l.engine, l.imogen, {
    ...{ name: 'Books', clientId: null, anchor: '2026-12-04' },
  }).result.id
  const task = (title: string, more: object = {}) =>
    makeTask(l.engine, l.imogen, {
      ...{ title, projectId: project, due: '2026-11-27', assignees: [l.tobias.id], ...more },
    }).result.id
  const open = task('Open', { start: '2026-11-25' })
  const done = task('Done')
  editTask(l.engine, l.imogen, done, { patch: { state: 'done' }, seen: null })
  const free = task('Free', { due: null })
  makeMilestone(l.engine, l.imogen, project, {
    ...{ name: 'Handed over', ownerId: null, date: '2026-12-03', done: false },
  })
  return { l, project, open, done, free }
}
const dates = (l: Lab, id: number) => {
  const { start, due } = taskSheet(l.engine, l.imogen, id)
  return [start, due]
}

describe('a project on hold', () => {
  it('stands still: no rung, nothing on Today, nothing late, and says so', () => {
    const { l, project } = held()
    edit(l, project, { state: 'hold' })
    l.until('2026-12-04T12:00')
    expect(l.rows('select 1 from runs')).toEqual([])
    expect(Object.values(todaySheet(l.engine, l.tobias).groups).flat()).toEqual([])
    expect(projectSheet(l.engine, l.imogen, project)).toMatchObject({
      ...{ state: 'hold', heldOn: '2026-11-23', late: 0 },
      health: { reason: 'It is on hold since Mon 23 Nov.' },
    })
    // Held once more, it is on hold since it first was.
    edit(l, project, { state: 'hold' })
    expect(projectSheet(l.engine, l.imogen, project).heldOn).toBe('2026-11-23')
  })
  it('resumed, its dates shift by the working days lost, as was shown; one undo', () => {
    const { l, project, open, done, free } = held()
    edit(l, project, { state: 'hold' })
    // Source: counted by hand. 24 to 27 November and 30 November to 3 December are eight.
    l.until('2026-12-03T09:00')
    expect(resuming(l.engine, l.imogen, project)).toEqual({
      ...{ heldOn: '2026-11-23', days: 8, count: 1 },
      tasks: [{ id: open, title: 'Open', from: '2026-11-27', to: '2026-12-09' }],
      milestones: [{ name: 'Handed over', from: '2026-12-03', to: '2026-12-15' }],
      anchor: { from: '2026-12-04', to: '2026-12-16' },
    })
    const { change } = resumeProject(l.engine, l.imogen, project, { shift: true }).whole()
    const sheet = () => projectSheet(l.engine, l.imogen, project)
    expect(dates(l, open)).toEqual(['2026-12-07', '2026-12-09'])
    expect([dates(l, done)[1], dates(l, free)[1]]).toEqual(['2026-11-27', null])
    expect(sheet()).toMatchObject({ state: 'running', heldOn: null, anchor: '2026-12-16' })
    expect(sheet().milestones[0]!.date).toBe('2026-12-15')
    // Nothing is made up for: the ladder begins at the new date.
    l.until('2026-12-09T23:00')
    expect(l.rows('select 1 from runs')).toEqual([])
    l.until('2026-12-10T09:00')
    expect(l.rows('select 1 from runs')).toHaveLength(1)
    undoChange(l.engine, l.imogen, change!).whole()
    expect(dates(l, open)).toEqual(['2026-11-25', '2026-11-27'])
    expect(sheet()).toMatchObject({ state: 'hold', heldOn: '2026-11-23', anchor: '2026-12-04' })
  })
  it('resumed without a shift is late from then on, and nothing is made up for', () => {
    const { l, project, open } = held()
    edit(l, project, { state: 'hold' })
    l.until('2026-12-03T09:00')
    resumeProject(l.engine, l.imogen, project, { shift: false }).whole()
    expect(dates(l, open)[1]).toBe('2026-11-27')
    expect(projectSheet(l.engine, l.imogen, project).late).toBe(1)
    l.runner.tick()
    expect(l.rows('select 1 from runs')).toEqual([])
  })
  it('held and resumed on one day moves nothing; a weekend loses no days', () => {
    const { l, project, open } = held()
    l.until('2026-11-27T17:00')
    edit(l, project, { state: 'hold' })
    expect(resuming(l.engine, l.imogen, project).days).toBe(0)
    l.until('2026-11-29T12:00')
    resumeProject(l.engine, l.imogen, project, { shift: true }).whole()
    expect(dates(l, open)[1]).toBe('2026-11-27')
  })
  it('is for who shapes the project, and only while it is on hold', () => {
    const { l, project } = held()
    const resume = (by = l.imogen) =>
      codeOf(() => resumeProject(l.engine, by, project, { shift: true }).whole())
    expect(resume()).toBe('not-on-hold')
    expect(codeOf(() => edit(l, project, { state: 'hold' }, l.tobias))).toBe('forbidden')
    edit(l, project, { state: 'hold' })
    expect(resume(l.tobias)).toBe('forbidden')
    expect(codeOf(() => resuming(l.engine, l.tobias, project))).toBe('forbidden')
    expect(resume()).toBe('done')
  })
})
it('states are called as the firm calls them', () => {
  const { l, project } = held()
  const names = { proposed: 'Offered', running: 'Live', hold: 'Parked', finished: 'Closed' }
  const { change } = editFirm(l.engine, l.imogen, { projectNames: names })
  expect(whoAmI(l.engine, l.tobias).projectNames).toEqual(names)
  edit(l, project, { state: 'hold' })
  const reason = () => projectSheet(l.engine, l.imogen, project).health.reason
  expect(reason()).toBe('It is parked since Mon 23 Nov.')
  undoChange(l.engine, l.imogen, change!).whole()
  expect(reason()).toBe('It is on hold since Mon 23 Nov.')
})
it('a proposal stands still until it runs', () => {
  const l = lab()
  const { id } = makeProject(l.engine, l.imogen, {
    ...{ name: 'Maybe', clientId: null, state: 'proposed', category: 'Onboarding' },
  }).result
  makeTask(l.engine, l.imogen, {
    ...{ title: 'T', projectId: id, due: '2026-11-23', assignees: [l.tobias.id] },
  })
  const mine = () => Object.values(todaySheet(l.engine, l.tobias).groups).flat().length
  expect(mine()).toBe(0)
  expect(projectSheet(l.engine, l.imogen, id)).toMatchObject({
    ...{ state: 'proposed', category: 'Onboarding' },
  })
  edit(l, id, { state: 'running' })
  expect(mine()).toBe(1)
})
