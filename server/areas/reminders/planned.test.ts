import { expect, it } from 'vitest'
import type { PlannedReminder } from '#core/templates/template.ts'
import { BOOKS, lab, type Lab } from '../../test/lab.ts'
import { listNotices } from '../notices/service.ts'
import { makeSeries } from '../series/service.ts'
import { editTask } from '../tasks/service.ts'
import { makeTemplate } from '../templates/service.ts'
import { startProject } from '../templates/start.ts'

const before: PlannedReminder = {
  ...{ days: 1, unit: 'working', side: 'before', field: 'due', time: '09:00', daily: false },
}
const late: PlannedReminder = { ...before, side: 'after', daily: true }
const told = (l: Lab, who = l.tobias) =>
  listNotices(l.engine, who)
    .filter(({ kind }) => kind === 'reminder')
    .map(({ body, at }) => `${new Date(at).toISOString().slice(0, 16)} ${body}`)
    .reverse()

it('a task of a template brings its reminders along, to whoever fills its role', () => {
  const l = lab()
  const [gather, close] = BOOKS.phases
  const [post, review] = close!.tasks
  const phases = [gather!, { ...close!, tasks: [{ ...post!, reminders: [before, late] }, review!] }]
  const template = makeTemplate(l.engine, l.imogen, { ...BOOKS, phases }).result
  startProject(l.engine, l.imogen, template.id, {
    ...{ name: 'Mossgate, books', clientId: l.client, anchor: '2026-12-07' },
    roles: { keeper: { person: l.tobias.id } },
  }).whole()
  // Due Thursday 3 December: the day before at nine, then daily from the day after until it is done.
  l.until('2026-12-07T08:00')
  expect(told(l).map((line) => line.slice(0, 29))).toEqual([
    '2026-12-02T09:00 Post takings',
    '2026-12-04T09:00 Post takings',
  ])
  const [{ id }] = l.rows<{ id: number }>("select id from tasks where title = 'Post takings'") as [
    { id: number },
  ]
  editTask(l.engine, l.imogen, id, { patch: { state: 'done' }, seen: null })
  l.until('2026-12-09T12:00')
  expect(told(l)).toHaveLength(2)
})

it('so does each task that a series makes', () => {
  const l = lab()
  makeSeries(l.engine, l.imogen, {
    ...{ name: 'Run', leadDays: 5 },
    schedule: { start: '2026-11-25', rule: 'FREQ=WEEKLY;BYDAY=WE', roll: 'none' },
    makes: {
      ...{ kind: 'task', title: 'Pay', description: '', clientId: null, projectId: null },
      ...{ assignees: [l.tobias.id], estimate: null, checklist: [], reminders: [before] },
      period: { of: 'month', which: 'before' },
    },
  })
  l.until('2026-12-02T12:00')
  expect(told(l).map((line) => line.slice(0, 20))).toEqual([
    '2026-11-24T09:00 Pay',
    '2026-12-01T09:00 Pay',
  ])
})
