import { expect, it } from 'vitest'
import { lab, LADDER, type Lab } from '../../test/lab.ts'
import { editProject, makeProject } from '../projects/service.ts'
import { editTask, makeTask } from '../tasks/service.ts'
import { lateAudit } from './audit.ts'
import { switchClockwork } from './halt.ts'
import { makeRule, switchRule } from './service.ts'

const said = (l: Lab, viewer = l.imogen) =>
  lateAudit(l.engine, viewer).tasks.map(
    ({ title, next, reason }) =>
      `${title}: ${next ? `${new Date(next.at).toISOString().slice(0, 16)} ${next.rule}` : reason}`,
  )

it('of every late task, what comes next, or why nothing does', () => {
  const l = lab()
  const body = {
    ...{ name: 'Late', ownerId: l.imogen.id },
    definition: LADDER({ team: l.team, boss: l.imogen.id }),
  }
  const make = (title: string, more: object = {}) =>
    makeTask(l.engine, l.imogen, { title, due: '2026-11-19', ...more }).result.id
  const project = makeProject(l.engine, l.imogen, { name: 'Books', clientId: null }).result.id
  make('On time', { due: '2026-11-30' })
  const done = make('Done')
  editTask(l.engine, l.imogen, done, { patch: { state: 'done' }, seen: null })
  make('Held', { projectId: project })
  editProject(l.engine, l.imogen, project, { patch: { state: 'hold' }, seen: null })
  make('Old', { due: '2026-10-01' })
  make('Fresh', { due: '2026-11-20' })
  expect(new Set(said(l).map((line) => line.split(': ')[1]))).toEqual(
    new Set(['No rule on late work acts there', 'It stands still']),
  )
  const { id } = makeRule(l.engine, l.imogen, body).result
  switchRule(l.engine, l.imogen, id, { on: true })
  expect(said(l)).toContain('Fresh: A rule is just being put up over it')
  l.runner.tick()
  // Friday 20 November and one working day is Monday 23; Thursday 19 and three are Tuesday 24.
  expect(said(l)).toEqual([
    'Old: All rungs are behind it',
    'Held: It stands still: its project, or what it is a part of, does',
    'Fresh: 2026-11-23T09:00 Late',
  ])
  switchClockwork(l.engine, l.imogen, { on: false })
  expect(said(l)[2]).toBe('Fresh: Everything automatic is stopped')
  switchClockwork(l.engine, l.imogen, { on: true })
  l.runner.tick()
  // One that went missing is named.
  l.db.sqlite.exec("delete from alarms where kind = 'ladder'")
  expect(said(l)[2]).toBe('Fresh: An alarm is missing')
  expect(lateAudit(l.engine, l.imogen)).toMatchObject({ late: 3, watched: 0, gaps: 1 })
})
