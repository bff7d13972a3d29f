import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { isoDate } from '#core/calendar/dates.ts'
import type { Group } from '#core/conditions/condition.ts'
import type { Action, Trigger } from '#contract/rules.ts'
import { ENGINE, lab, type Lab } from '../../test/lab.ts'
import { makeField } from '../fields/service.ts'
import { listNotices } from '../notices/service.ts'
import { editProject, makeProject } from '../projects/service.ts'
import { editTask, makeTask } from '../tasks/service.ts'
import { listRuns } from './log.ts'
import { makeRule, saveRule, switchRule } from './service.ts'

const ALL: Group = { match: 'all', of: [] }
type Dated = Extract<Trigger, { kind: 'dated' }>
const before: Dated = {
  ...{ kind: 'dated', days: 2, unit: 'working', side: 'before', field: 'due', time: '09:00' },
}
const tell = (l: Lab): Action => ({
  ...{ kind: 'tell', mail: false, text: '{task}' },
  who: { is: 'person', id: l.imogen.id },
})
const bodyOf = (l: Lab, trigger: Trigger, conditions: Group = ALL, actions = [tell(l)]) => ({
  ...{ name: 'R', ownerId: l.imogen.id, definition: { trigger, conditions, actions } },
})
function rule(l: Lab, trigger: Trigger, conditions: Group = ALL, also = false): number {
  const { id } = makeRule(l.engine, l.imogen, bodyOf(l, trigger, conditions)).result
  switchRule(l.engine, l.imogen, id, { on: true, also })
  l.runner.tick()
  return id
}
const make = (l: Lab, title: string, more: object = {}) =>
  makeTask(l.engine, l.tobias, { title, ...more }).result.id
const edit = (l: Lab, id: number, patch: object) => {
  editTask(l.engine, l.tobias, id, { patch, seen: null })
  l.runner.tick()
}
const told = (l: Lab) =>
  listNotices(l.engine, l.imogen)
    .filter(({ kind }) => kind === 'escalation')
    .map(({ body }) => body)
    .reverse()

describe('so long before or after a date', () => {
  // Two working days strictly before Friday 4 December 2026 is Wednesday 2, counted by hand.
  it.each<[string, Partial<Dated>, string]>([
    ['two working days before', {}, '2026-12-02T09:00'],
    ['on the day itself', { days: 0, time: '07:30' }, '2026-12-04T07:30'],
    ['ten calendar days before', { days: 10, unit: 'calendar' }, '2026-11-24T09:00'],
    ['one working day after', { days: 1, side: 'after' }, '2026-12-07T09:00'],
    ['three calendar days after', { days: 3, side: 'after', unit: 'calendar' }, '2026-12-07T09:00'],
    // Christmas and the day for Boxing Day are holidays here: 16 working days on is 30 December.
    ['past holidays', { days: 16, side: 'after' }, '2026-12-30T09:00'],
  ])('comes %s, once', (_, part, at) => {
    const l = lab()
    rule(l, { ...before, ...part })
    make(l, 'T', { due: '2026-12-04' })
    const minute = (delta: number) => new Date(Date.parse(`${at}Z`) + delta * 60_000)
    l.until(minute(-1).toISOString().slice(0, 16))
    expect(told(l)).toEqual([])
    l.until(at)
    expect(told(l)).toEqual(['T'])
    l.until('2027-01-20T09:00')
    expect(told(l)).toEqual(['T'])
  })
  it('moves with its date, ends with the task, and brings nothing once its moment is past', () => {
    const l = lab()
    rule(l, before)
    const [moved, done, rests, near] = ['moved', 'done', 'rests', 'near'].map((title) =>
      make(l, title, { due: title === 'near' ? '2026-11-24' : '2026-12-04' }),
    ) as [number, number, number, number]
    edit(l, moved, { due: '2026-12-11' })
    edit(l, done, { state: 'done' })
    edit(l, rests, { archived: true })
    l.until('2026-12-08T12:00')
    expect(told(l)).toEqual([])
    l.until('2026-12-09T09:00')
    expect(told(l)).toEqual(['moved'])
    // Another date is another time; the same date again is not.
    edit(l, moved, { due: '2026-12-18' })
    edit(l, moved, { due: '2026-12-11' })
    edit(l, moved, { due: '2026-12-18' })
    l.until('2026-12-16T09:00')
    expect(told(l)).toEqual(['moved', 'moved'])
    expect(near).toBeGreaterThan(0)
  })
  it('counts another calendar’s days from the moment it changes', () => {
    const l = lab()
    rule(l, before)
    make(l, 'T', { due: '2026-12-04' })
    l.engine.journal.change(ENGINE, (write) =>
      write.insert('holidays', { date: isoDate('2026-12-03'), name: 'Day off' }),
    )
    l.until('2026-12-01T09:00')
    expect(told(l)).toEqual(['T'])
  })
  it('is put up over what is there, and acts on what is past only where it is to', () => {
    for (const also of [false, true]) {
      const l = lab()
      for (const due of ['2026-11-19', '2026-11-24', '2026-12-04']) make(l, due, { due })
      rule(l, { ...before, side: 'after', days: 1 }, ALL, also)
      l.until('2026-12-10T12:00')
      expect(told(l)).toEqual([...(also ? ['2026-11-19'] : []), '2026-11-24', '2026-12-04'])
    }
  })
  it('counts from a start, the first date promised, and a date of the firm’s own', () => {
    const l = lab()
    const { id: own } = makeField(l.engine, l.imogen, {
      ...{ name: 'Signed', kind: 'date', options: {}, projectId: null, templateId: null },
      hidden: false,
    }).result.at(-1)!
    for (const field of ['start', 'first-due', `field:${own}`])
      rule(l, { ...before, field, days: 1 })
    const id = make(l, 'T', {
      start: '2026-12-02',
      due: '2026-12-04',
      fields: { [own]: '2026-12-09' },
    })
    edit(l, id, { due: '2026-12-18' })
    l.until('2026-12-01T09:00')
    expect(told(l)).toHaveLength(1)
    l.until('2026-12-03T09:00')
    expect(told(l)).toHaveLength(2)
    edit(l, id, { fields: { [own]: '2026-12-10' } })
    l.until('2026-12-08T12:00')
    expect(told(l)).toHaveLength(2)
    l.until('2026-12-09T09:00')
    expect(told(l)).toHaveLength(3)
  })
  it('asks its conditions when it comes, and says what it was left for', () => {
    const l = lab()
    const id = rule(l, before, { match: 'all', of: [{ field: 'assignee', op: 'empty' }] })
    make(l, 'nobody', { due: '2026-12-04' })
    make(l, 'somebody', { due: '2026-12-04', assignees: [l.devika.id] })
    l.until('2026-12-02T09:00')
    expect(told(l)).toEqual(['nobody'])
    const [left, ran] = listRuns(l.engine, l.imogen, { ruleId: id })
    expect(left).toMatchObject({ outcome: 'skipped', task: { title: 'somebody' } })
    expect(ran!.reasons[0]).toBe(
      'it is 2 working days before the due date of a task, at 09:00: Fri 4 Dec',
    )
  })
  it('a rule of one trigger that is saved with another leaves no alarm behind', () => {
    const l = lab()
    const id = rule(l, before)
    make(l, 'T', { due: '2026-12-04' })
    saveRule(l.engine, l.imogen, id, { body: bodyOf(l, { kind: 'made' }), seen: null })
    l.runner.tick()
    expect(l.rows('select 1 from alarms')).toEqual([])
    saveRule(l.engine, l.imogen, id, { body: bodyOf(l, { kind: 'becomes-true' }), seen: null })
    l.runner.tick()
    expect(l.rows('select kind from alarms')).toEqual([{ kind: 'check' }])
    saveRule(l.engine, l.imogen, id, { body: bodyOf(l, before), seen: null })
    l.runner.tick()
    expect(l.rows('select kind from alarms')).toEqual([{ kind: 'dated' }])
    expect(l.rows('select 1 from holding')).toEqual([])
  })
})

describe('what is asked becomes true', () => {
  const soon: Group = {
    match: 'all',
    of: [{ field: 'due', op: 'before', value: { days: 3, working: false } }],
  }
  it('by a day that begins, by a change, and again only after it was not', () => {
    const l = lab()
    rule(l, { kind: 'becomes-true' }, soon)
    const id = make(l, 'T', { due: '2026-12-01' })
    l.runner.tick()
    l.until('2026-11-28T23:59')
    expect(told(l)).toEqual([])
    // Before the third day from then: on 29 November that is 2 December.
    l.until('2026-11-29T00:00')
    expect(told(l)).toEqual(['T'])
    edit(l, id, { title: 'T2' })
    l.until('2026-11-30T12:00')
    expect(told(l)).toEqual(['T'])
    edit(l, id, { due: '2026-12-24' })
    edit(l, id, { due: '2026-12-01' })
    expect(told(l)).toEqual(['T', 'T2'])
  })
  it('what holds when it is switched on is nothing new, unless it is to act on that too', () => {
    for (const also of [false, true]) {
      const l = lab()
      make(l, 'there', { due: '2026-11-24' })
      rule(l, { kind: 'becomes-true' }, soon, also)
      l.until('2026-11-23T12:00')
      expect(told(l)).toEqual(also ? ['there'] : [])
      make(l, 'new', { due: '2026-11-24' })
      l.runner.tick()
      expect(told(l).at(-1)).toBe('new')
    }
  })
  it('late is true from the minute that a due time passes', () => {
    const l = lab()
    rule(
      l,
      { kind: 'becomes-true' },
      { match: 'all', of: [{ field: 'late', op: 'is', value: true }] },
    )
    make(l, 'T', { due: '2026-11-24', dueTime: '14:30' })
    l.until('2026-11-24T14:29')
    expect(told(l)).toEqual([])
    l.until('2026-11-24T14:30')
    expect(told(l)).toEqual(['T'])
  })
  it('time brings it to nothing that is closed, archived or on hold', () => {
    const l = lab()
    rule(l, { kind: 'becomes-true' }, soon)
    const project = makeProject(l.engine, l.imogen, { name: 'P', clientId: null }).result.id
    const hold = make(l, 'hold', { due: '2026-12-01', projectId: project })
    edit(l, make(l, 'done', { due: '2026-12-01' }), { state: 'done' })
    edit(l, make(l, 'gone', { due: '2026-12-01' }), { archived: true })
    editProject(l.engine, l.imogen, project, { patch: { state: 'hold' }, seen: null })
    l.until('2026-11-30T12:00')
    expect(told(l)).toEqual([])
    expect(hold).toBe(1)
    // What began to hold meanwhile is not made up for.
    editProject(l.engine, l.imogen, project, { patch: { state: 'running' }, seen: null })
    l.until('2026-12-02T12:00')
    expect(told(l)).toEqual([])
  })
  it('one that fails is said of its own task, and keeps none of the others', () => {
    const l = lab()
    const ends: Group = { match: 'all', of: [{ field: 'start', op: 'before', value: { days: 0 } }] }
    const later: Action = { kind: 'move-due', days: 365, unit: 'calendar', from: 'due' }
    const body = bodyOf(l, { kind: 'becomes-true' }, ends, [tell(l), later])
    const { id } = makeRule(l.engine, l.imogen, body).result
    switchRule(l.engine, l.imogen, id, { on: true })
    // Dates of work end with 2200: a year after this there is none.
    const far = make(l, 'far', { start: '2026-11-23', due: '2200-12-30' })
    for (let i = 0; i < 25; i++) make(l, `T${i}`, { start: '2026-11-23', due: '2026-12-24' })
    l.runner.tick()
    l.until('2026-11-24T12:00')
    const failed = listRuns(l.engine, l.imogen, { outcome: 'failed' })
    expect(failed.map(({ task }) => task!.id)).toEqual([far])
    expect(new Set(told(l)).size).toBe(25)
    l.until('2026-11-25T12:00')
    expect(listRuns(l.engine, l.imogen, { outcome: 'failed' })).toHaveLength(1)
  })
  it('cannot be asked of what was before a change', () => {
    const l = lab()
    const was: Group = { match: 'all', of: [{ field: 'was:kind', op: 'filled' }] }
    expect(() => rule(l, { kind: 'becomes-true' }, was)).toThrow(/before a change/)
  })
  it('agrees with asking every task anew after every step, whatever happens', () => {
    const asked: Group = {
      match: 'all',
      of: [
        { field: 'due', op: 'before', value: { days: 2, working: true } },
        { field: 'priority', op: 'not-in', value: ['low'] },
      ],
    }
    const day = fc.constantFrom('2026-11-24', '2026-11-26', '2026-11-30', '2026-12-02')
    const step = fc.oneof(
      fc.record({ id: fc.integer({ min: 1, max: 4 }), due: day }),
      fc.record({
        id: fc.integer({ min: 1, max: 4 }),
        priority: fc.constantFrom('low', 'normal', 'high'),
      }),
      fc.record({ id: fc.integer({ min: 1, max: 4 }), state: fc.constantFrom('done', 'waiting') }),
      fc.record({ days: fc.integer({ min: 1, max: 3 }) }),
    )
    fc.assert(
      fc.property(fc.array(step, { maxLength: 14 }), (steps) => {
        const l = lab()
        rule(l, { kind: 'becomes-true' }, asked)
        for (let i = 0; i < 4; i++) make(l, `T${i + 1}`, { due: '2026-12-10' })
        l.runner.tick()
        const was = new Set<number>()
        const wanted: string[] = []
        const days = ['23', '24', '25', '26', '27', '28', '29', '30']
        let today = 0
        /** As a person would: what is open, due before the second working day on, and not low. */
        const look = () => {
          // Working days on from each of these days, counted by hand.
          const second: Record<string, string> = {
            ...{ '23': '2026-11-25', '24': '2026-11-26', '25': '2026-11-27', '26': '2026-11-30' },
            ...{ '27': '2026-12-01', '28': '2026-12-01', '29': '2026-12-01', '30': '2026-12-02' },
          }
          const rows = l.rows<{ id: number; title: string; due: string; priority: string }>(
            'select id, title, due, priority from tasks where closedAt is null order by id',
          )
          const now = rows.filter((t) => t.due < second[days[today]!]! && t.priority !== 'low')
          for (const { id, title } of now) if (!was.has(id)) wanted.push(title)
          was.clear()
          for (const { id } of now) was.add(id)
        }
        for (const each of steps) {
          if ('days' in each) {
            for (let i = 0; i < each.days && today < days.length - 1; i++) {
              today++
              l.until(`2026-11-${days[today]}T08:00`)
              look()
            }
          } else {
            const { id, ...patch } = each
            edit(l, id, patch)
            look()
          }
        }
        expect(told(l).sort()).toEqual(wanted.sort())
      }),
      { numRuns: 60 },
    )
  })
})
