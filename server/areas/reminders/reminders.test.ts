import { describe, expect, it } from 'vitest'
import { reminderBody, type ReminderBody } from '#contract/reminders.ts'
import { ENGINE, lab, type Lab } from '../../test/lab.ts'
import { undoChange } from '../journal/undo.ts'
import { listNotices } from '../notices/service.ts'
import { addTimeOff } from '../people/page.ts'
import { editPerson } from '../people/service.ts'
import { editProject, makeProject } from '../projects/service.ts'
import { editTask, makeTask, taskSheet } from '../tasks/service.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { addReminder, changeReminder, removeReminder } from './service.ts'

const before: ReminderBody['when'] = {
  ...{ kind: 'dated', days: 2, unit: 'working', side: 'before', field: 'due', time: '09:00' },
}
const body = (more: Partial<ReminderBody> = {}): ReminderBody => ({
  ...{ when: before, assignees: true, people: [], daily: false, text: '' },
  ...more,
})
/** A task of Tobias, due on Friday 4 December. */
const task = (l: Lab, more: object = {}) =>
  makeTask(l.engine, l.imogen, {
    ...{ title: 'Post', due: '2026-12-04', assignees: [l.tobias.id], ...more },
  }).result.id
const set = (l: Lab, id: number, more: Partial<ReminderBody> = {}, by = l.imogen) =>
  addReminder(l.engine, by, id, body(more)).result.reminders.at(-1)!
const edit = (l: Lab, id: number, patch: object) =>
  editTask(l.engine, l.imogen, id, { patch, seen: null })
const heard = (l: Lab, who: Viewer) =>
  listNotices(l.engine, who)
    .filter(({ kind }) => kind === 'reminder')
    .map((notice) => notice.body)
    .reverse()
const ways = (l: Lab, who: Viewer, own: object) =>
  l.engine.journal.change(ENGINE, (write) => write.update('people', who.id, { ways: own }))

describe('a reminder', () => {
  it('comes to whoever is on the task then, and to those named, by mail too, once', () => {
    const l = lab()
    const id = task(l)
    set(l, id, { people: [l.imogen.id] })
    edit(l, id, { assignees: [l.devika.id] })
    l.until('2026-12-02T08:59')
    expect(heard(l, l.devika)).toEqual([])
    l.until('2026-12-20T09:00')
    expect([l.tobias, l.devika, l.imogen].map((who) => heard(l, who))).toEqual([
      ...[[], ['Post: due Fri 4 Dec'], ['Post: due Fri 4 Dec']],
    ])
    expect(l.rows('select recipient from outbox order by recipient')).toEqual([
      ...[{ recipient: 'devika@quillhaven.example' }, { recipient: 'imogen@quillhaven.example' }],
    ])
  })
  it.each<[string, Partial<ReminderBody>, string]>([
    [
      'a day before the start',
      { when: { ...before, field: 'start', days: 1 } },
      '2026-11-27T09:00',
    ],
    ['on its due date', { when: { ...before, days: 0, time: '07:30' } }, '2026-12-04T07:30'],
    ['after it', { when: { ...before, side: 'after', days: 1 } }, '2026-12-07T09:00'],
    [
      'at a moment',
      { when: { kind: 'at', date: '2026-11-25', time: '16:00' } },
      '2026-11-25T16:00',
    ],
  ])('comes %s', (_, more, at) => {
    const l = lab()
    set(l, task(l, { start: '2026-11-30' }), more)
    const minute = new Date(Date.parse(`${at}Z`) - 60_000).toISOString().slice(0, 16)
    l.until(minute)
    expect(heard(l, l.tobias)).toEqual([])
    l.until(at)
    expect(heard(l, l.tobias)).toHaveLength(1)
  })
  it('daily, comes every working day until the task is done, and no more', () => {
    const l = lab()
    const id = task(l)
    set(l, id, { daily: true, text: 'Still?' })
    l.until('2026-12-08T12:00')
    // Wednesday 2, Thursday, Friday, Monday 7, Tuesday 8.
    expect(heard(l, l.tobias)).toEqual(Array<string>(5).fill('Still?'))
    edit(l, id, { state: 'done' })
    l.until('2026-12-16T12:00')
    expect(heard(l, l.tobias)).toHaveLength(5)
    expect(l.rows('select 1 from alarms')).toEqual([])
  })
  it('moves with its date; one whose moment is past, or whose task rests, brings nothing', () => {
    const l = lab()
    const { id: projectId } = makeProject(l.engine, l.imogen, { name: 'P', clientId: null }).result
    const [moved, past, rests] = [task(l), task(l, { due: '2026-11-24' }), task(l, { projectId })]
    for (const id of [moved, past, rests]) set(l, id)
    edit(l, moved, { due: '2026-12-11' })
    editProject(l.engine, l.imogen, projectId, { patch: { state: 'hold' }, seen: null })
    l.until('2026-12-08T12:00')
    expect(heard(l, l.tobias)).toEqual([])
    l.until('2026-12-09T09:00')
    expect(heard(l, l.tobias)).toEqual(['Post: due Fri 11 Dec'])
  })
  it('comes in somebody’s own zone, on their own working days, after their quiet hours', () => {
    const l = lab()
    ways(l, l.tobias, { zone: 'America/New_York' })
    ways(l, l.devika, { quiet: { from: '18:00', to: '10:15' } })
    // Imogen does not work on Wednesdays: two working days before Friday is Tuesday for her.
    editPerson(l.engine, l.imogen, l.imogen.id, { hours: { MO: 450, TU: 450, TH: 450, FR: 450 } })
    set(l, task(l, { assignees: [l.tobias.id, l.devika.id, l.imogen.id] }))
    const all = () => [l.tobias, l.devika, l.imogen].map((who) => heard(l, who).length)
    l.until('2026-12-01T09:00')
    expect(all()).toEqual([0, 0, 1])
    l.until('2026-12-02T10:15')
    expect(all()).toEqual([0, 1, 1])
    l.until('2026-12-02T13:59')
    expect(all()).toEqual([0, 1, 1])
    l.until('2026-12-02T14:00')
    expect(all()).toEqual([1, 1, 1])
  })
  it('goes to whoever stands in for somebody away', () => {
    const l = lab()
    editPerson(l.engine, l.imogen, l.tobias.id, { standInId: l.devika.id })
    addTimeOff(l.engine, l.imogen, l.tobias.id, { firstDay: '2026-12-02', lastDay: '2026-12-02' })
    set(l, task(l), { when: { kind: 'at', date: '2026-12-02', time: '09:00' } })
    l.until('2026-12-02T10:00')
    expect([heard(l, l.tobias), heard(l, l.devika)]).toEqual([[], ['Post: due Fri 4 Dec']])
  })
  it('is shown with when it comes next and what was sent; changed, taken off, and taken back', () => {
    const l = lab()
    const id = task(l)
    const { id: reminder } = set(l, id, { daily: true })
    const shown = () => taskSheet(l.engine, l.imogen, id).reminders
    expect(shown()[0]!.next).toBe(Date.parse('2026-12-02T09:00:00Z'))
    l.until('2026-12-02T12:00')
    expect(shown()[0]).toMatchObject({
      ...{ next: Date.parse('2026-12-03T09:00:00Z'), sent: [{ name: 'Tobias' }] },
    })
    const at = { taskId: id, id: reminder }
    changeReminder(l.engine, l.imogen, at, body({ when: { ...before, days: 1 } }))
    expect(shown()[0]!.next).toBe(Date.parse('2026-12-03T09:00:00Z'))
    const { change } = removeReminder(l.engine, l.imogen, at)
    expect(shown()).toEqual([])
    expect(l.rows('select 1 from alarms')).toEqual([])
    undoChange(l.engine, l.imogen, change!).whole()
    l.until('2026-12-03T09:00')
    expect(heard(l, l.tobias)).toHaveLength(2)
  })
  it('is for oneself by whoever sees the task, for others by who changes it; one’s own is one’s own', () => {
    const l = lab()
    const id = task(l, { assignees: [l.corrie.id] })
    const mine = { assignees: false, people: [l.corrie.id] }
    set(l, id, mine, l.corrie)
    expect(() => set(l, id, { people: [l.devika.id] }, l.corrie)).toThrow(/remind others/)
    expect(taskSheet(l.engine, l.corrie, id).reminders).toHaveLength(1)
    const other = { taskId: task(l, { assignees: [] }), id: 1 }
    expect(() => removeReminder(l.engine, l.imogen, other)).toThrow(/gone/)
  })
  it.each<[string, object]>([
    ['nobody', { assignees: false, people: [] }],
    ['days that are none', { when: { ...before, days: -1 } }],
    ['a field that is no date', { when: { ...before, field: 'title' } }],
    ['too many words', { text: 'x'.repeat(301) }],
  ])('of %s is refused', (_, more) =>
    expect(reminderBody.validate({ ...body(), ...more }, { convert: false }).error).toBeDefined(),
  )
  it('of somebody who has left, or on a day that is none, is refused', () => {
    const l = lab()
    const id = task(l)
    editPerson(l.engine, l.imogen, l.devika.id, { active: false })
    expect(() => set(l, id, { people: [l.devika.id] })).toThrow(/is not here/)
    expect(() => set(l, id, { when: { kind: 'at', date: '2026-02-30', time: '09:00' } })).toThrow()
  })
})
