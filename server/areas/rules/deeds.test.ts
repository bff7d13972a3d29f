import { describe, expect, it } from 'vitest'
import type { Group } from '#core/conditions/condition.ts'
import type { Action, Deed, RuleDefinition, RuleScope, Trigger } from '#contract/rules.ts'
import { BOOKS, lab, type Lab } from '../../test/lab.ts'
import { undoChange } from '../journal/undo.ts'
import { listNotices } from '../notices/service.ts'
import { editProject, makeProject } from '../projects/service.ts'
import { bulkEdit } from '../tasks/bulk.ts'
import { editTask, makeTask, taskSheet } from '../tasks/service.ts'
import { startProject } from '../templates/start.ts'
import { makeTemplate } from '../templates/service.ts'
import { rulesIn, switchIn } from './places.ts'
import { listRuns } from './log.ts'
import { makeRule, saveRule, switchRule } from './service.ts'

const ALL: Group = { match: 'all', of: [] }
const HIGH: Group = { match: 'all', of: [{ field: 'priority', op: 'in', value: ['high'] }] }
const MADE: Trigger = { kind: 'made' }
const definitionOf = (deeds: readonly Deed[], more: Partial<RuleDefinition> = {}) => ({
  ...{ trigger: MADE, conditions: ALL, actions: deeds },
  ...more,
})
function rule(l: Lab, deeds: readonly Deed[], more: Partial<RuleDefinition> = {}): number {
  const body = { name: 'R', ownerId: l.imogen.id, definition: definitionOf(deeds, more) }
  const { id } = makeRule(l.engine, l.imogen, body).result
  switchRule(l.engine, l.imogen, id, { on: true })
  l.runner.tick()
  return id
}
const say = (l: Lab, text: string): Action => ({
  ...{ kind: 'tell', mail: false, text },
  who: { is: 'person', id: l.imogen.id },
})
const task = (l: Lab, more: object = {}) => {
  const { id } = makeTask(l.engine, l.tobias, { title: 'T', ...more }).result
  l.runner.tick()
  return id
}
const told = (l: Lab) =>
  listNotices(l.engine, l.imogen)
    .filter(({ kind }) => kind === 'escalation')
    .map(({ body }) => body)
    .reverse()
const log = (l: Lab) =>
  listRuns(l.engine, l.imogen, {}).map((run) => `${run.outcome}: ${run.summary}`)
const waits: Action = { kind: 'wait', amount: 2, unit: 'working' }

describe('branches', () => {
  const branch = (l: Lab): Deed => ({
    ...{ kind: 'branch', conditions: HIGH },
    actions: [say(l, 'high')],
    otherwise: [say(l, 'other')],
  })
  it('do what is theirs where their conditions hold, and what is otherwise where not', () => {
    const l = lab()
    rule(l, [say(l, 'all'), branch(l), say(l, 'end')])
    task(l, { priority: 'high' })
    expect(told(l)).toEqual(['all; high; end'])
    task(l)
    expect(told(l)[1]).toBe('all; other; end')
    expect(listRuns(l.engine, l.imogen, {})[0]!.reasons).toEqual([
      'Step 2: First to fail: priority is High: it was Normal',
      'Step 2: Did not hold: priority is High: it was Normal',
    ])
  })
  it('are asked once, of how things stand after what was done before them', () => {
    const l = lab()
    const inside: Action[] = [{ kind: 'set-priority', to: 'low' }, say(l, 'still here')]
    const deeds: Deed[] = [
      { kind: 'set-priority', to: 'high' },
      { kind: 'branch', conditions: HIGH, actions: inside, otherwise: [say(l, 'no')] },
    ]
    rule(l, deeds)
    const id = task(l)
    expect(told(l)).toEqual(['still here'])
    expect(taskSheet(l.engine, l.imogen, id).priority).toBe('low')
  })
  it('a stop in one ends the run there', () => {
    const l = lab()
    const stops: Deed = {
      kind: 'branch',
      conditions: HIGH,
      actions: [{ kind: 'stop' }],
      otherwise: [],
    }
    rule(l, [stops, say(l, 'went on')])
    task(l, { priority: 'high' })
    task(l)
    expect(told(l)).toEqual(['went on'])
    expect(log(l)).toEqual(['done: Told Imogen', 'done: Stopped there'])
  })
})

describe('a run that waits', () => {
  // From Monday 23 November, two working days on is Wednesday; days end at 09:00.
  const over = '2026-11-25T09:00'
  it('goes on when its wait is over, once, where it stopped', () => {
    const l = lab()
    rule(l, [say(l, 'first'), waits, say(l, 'then'), { ...waits, amount: 1 }, say(l, 'last')])
    task(l)
    expect(told(l)).toEqual(['first'])
    l.until('2026-11-25T08:59')
    expect(told(l)).toEqual(['first'])
    l.until(over)
    expect(told(l)).toEqual(['first', 'then'])
    l.until('2026-11-30T12:00')
    expect(told(l)).toEqual(['first', 'then', 'last'])
    expect(log(l)).toEqual([
      'done: After waiting: Told Imogen',
      'done: After waiting: Told Imogen, Waits until Thu 26 Nov, 09:00',
      'done: Told Imogen, Waits until Wed 25 Nov, 09:00',
    ])
    expect(l.rows('select 1 from waits union all select 1 from alarms')).toEqual([])
  })
  it('in a branch goes on in it, if that still holds', () => {
    const l = lab()
    const deeds: Deed[] = [
      { kind: 'branch', conditions: HIGH, actions: [waits, say(l, 'still high')], otherwise: [] },
      say(l, 'end'),
    ]
    rule(l, deeds)
    const [one, two] = [task(l, { priority: 'high' }), task(l, { priority: 'high' })]
    editTask(l.engine, l.tobias, two, { patch: { priority: 'low' }, seen: null })
    l.until(over)
    expect(told(l)).toEqual(['still high; end', 'end'])
    expect(one).not.toBe(two)
  })
  it('goes on as it was when it began, whatever its rule says meanwhile', () => {
    const l = lab()
    const id = rule(l, [waits, say(l, 'old')])
    task(l)
    const body = { name: 'R', ownerId: l.imogen.id, definition: definitionOf([say(l, 'new')]) }
    saveRule(l.engine, l.imogen, id, { body, seen: null })
    l.until(over)
    expect(told(l)).toEqual(['old'])
    expect(l.rows('select version from runs order by id')).toEqual([{ version: 1 }, { version: 1 }])
  })
  it.each<[string, (l: Lab, at: { rule: number; id: number }) => void, RegExp]>([
    [
      'its rule is switched off, and on again',
      (l, at) => {
        switchRule(l.engine, l.imogen, at.rule, { on: false })
        switchRule(l.engine, l.imogen, at.rule, { on: true })
      },
      /switched off meanwhile/,
    ],
    [
      'its task is done',
      (l, { id }) =>
        void editTask(l.engine, l.tobias, id, { patch: { state: 'done' }, seen: null }),
      /stands still/,
    ],
    [
      'what it asks holds no more',
      (l, { id }) => void editTask(l.engine, l.tobias, id, { patch: { title: 'X' }, seen: null }),
      /First to fail: title contains T: it was X/,
    ],
    [
      'what it did was taken back',
      (l) => undoChange(l.engine, l.imogen, listRuns(l.engine, l.imogen, {})[0]!.change!).whole(),
      /taken back/,
    ],
  ])('ends where %s, and says so', (_, meanwhile, why) => {
    const l = lab()
    const conditions: Group = { match: 'all', of: [{ field: 'title', op: 'has', value: 'T' }] }
    const at = {
      rule: rule(l, [{ kind: 'set-priority', to: 'low' }, waits, say(l, 'no')], { conditions }),
      id: 0,
    }
    at.id = task(l)
    meanwhile(l, at)
    l.until(over)
    expect(told(l)).toEqual([])
    const [ended] = listRuns(l.engine, l.imogen, {})
    expect([ended!.outcome, ended!.summary]).toEqual(['skipped', 'Ended while it waited'])
    expect(ended!.reasons.join()).toMatch(why)
    expect(l.rows('select 1 from waits union all select 1 from alarms')).toEqual([])
  })
  it('on a rung waits and goes on too; moving the due date leaves it be', () => {
    const l = lab()
    const delay = { days: 1, unit: 'working', time: '09:00' } as const
    const rungs = [{ key: 'a', delay, actions: [waits, say(l, 'after the rung')] }]
    const body = { trigger: { kind: 'late' } as const, conditions: ALL, rungs }
    const { id } = makeRule(l.engine, l.imogen, {
      ...{ name: 'R', ownerId: l.imogen.id, definition: body },
    }).result
    switchRule(l.engine, l.imogen, id, { on: true })
    const late = task(l, { due: '2026-11-23' })
    l.until('2026-11-24T09:00')
    editTask(l.engine, l.tobias, late, { patch: { due: '2026-12-10' }, seen: null })
    l.until('2026-11-26T09:00')
    expect(told(l)).toEqual(['after the rung'])
  })
})

describe('a reminder that comes every day', () => {
  const keep = (l: Lab, until = ALL, unit: 'working' | 'calendar' = 'working'): Action => ({
    ...{ kind: 'keep-reminding', time: '09:00', unit, until, text: '{task}?' },
    who: { is: 'person', id: l.imogen.id },
  })
  const reminded = (l: Lab) =>
    listNotices(l.engine, l.imogen).filter(({ kind }) => kind === 'reminder').length
  it('comes on working days, or every day, until the task is closed', () => {
    for (const [unit, times] of [
      ['working', 6],
      ['calendar', 8],
    ] as const) {
      const l = lab()
      rule(l, [keep(l, ALL, unit)])
      const id = task(l)
      l.until('2026-11-30T12:00')
      expect(reminded(l)).toBe(times)
      editTask(l.engine, l.tobias, id, { patch: { state: 'done' }, seen: null })
      l.until('2026-12-04T12:00')
      expect(reminded(l)).toBe(times)
      expect(l.rows('select 1 from waits union all select 1 from alarms')).toEqual([])
    }
  })
  it('ends when what it waits for holds, which is said; what stands still hears nothing', () => {
    const l = lab()
    rule(l, [keep(l, HIGH)])
    const { id: projectId } = makeProject(l.engine, l.imogen, { name: 'P', clientId: null }).result
    const id = task(l, { projectId })
    l.until('2026-11-23T12:00')
    const state = (to: 'hold' | 'running') =>
      editProject(l.engine, l.imogen, projectId, { patch: { state: to }, seen: null })
    state('hold')
    l.until('2026-11-25T12:00')
    expect(reminded(l)).toBe(1)
    state('running')
    l.until('2026-11-26T12:00')
    expect(reminded(l)).toBe(2)
    editTask(l.engine, l.tobias, id, { patch: { priority: 'high' }, seen: null })
    l.until('2026-11-30T12:00')
    expect(reminded(l)).toBe(2)
    expect(log(l)[0]).toBe('skipped: Reminds no more')
  })
})

describe('where a rule acts', () => {
  function places() {
    const l = lab()
    makeTemplate(l.engine, l.imogen, BOOKS)
    const start = { name: 'Books', clientId: l.client, anchor: '2026-12-10', roles: {} }
    const books = startProject(l.engine, l.imogen, 1, start).whole().result.id
    const other = makeProject(l.engine, l.imogen, { name: 'Other', clientId: null }).result.id
    l.runner.tick()
    return { l, books, other }
  }
  const scopes: [string, (at: ReturnType<typeof places>) => RuleScope, string[]][] = [
    ['the whole firm', () => ({ of: 'firm' }), ['in books', 'in other', 'of the client', 'alone']],
    ['one client', ({ l }) => ({ of: 'client', id: l.client }), ['in books', 'of the client']],
    ['a template', () => ({ of: 'template', id: 1 }), ['in books']],
    ['one project', ({ other }) => ({ of: 'project', id: other }), ['in other']],
  ]
  it.each(scopes)('is %s', (_, scope, heard) => {
    const at = places()
    const { l, books, other } = at
    rule(l, [say(l, '{task}')], { scope: scope(at) })
    task(l, { title: 'in books', projectId: books })
    task(l, { title: 'in other', projectId: other })
    task(l, { title: 'of the client', clientId: l.client })
    task(l, { title: 'alone' })
    expect(told(l)).toEqual(heard)
    // What is elsewhere is none of its business: nothing is said of it.
    expect(log(l)).toHaveLength(heard.length)
  })
  it('is not a project where it is switched off, and is again where it is switched on there', () => {
    const { l, books, other } = places()
    const id = rule(l, [say(l, '{task}')])
    switchIn(l.engine, l.imogen, { rule: id, project: books }, false)
    task(l, { title: 'quiet', projectId: books })
    task(l, { title: 'heard', projectId: other })
    expect(rulesIn(l.engine, l.imogen, books)[0]).toMatchObject({ on: true, offHere: true })
    const { change } = switchIn(l.engine, l.imogen, { rule: id, project: books }, true)
    task(l, { title: 'again', projectId: books })
    expect(told(l)).toEqual(['heard', 'again'])
    undoChange(l.engine, l.imogen, change!).whole()
    task(l, { title: 'taken back', projectId: books })
    expect(told(l)).toEqual(['heard', 'again'])
    expect(() => switchIn(l.engine, l.tobias, { rule: id, project: books }, true)).toThrow(
      /lead or a manager/,
    )
  })
  it('decides their order: the wider scope first, a rule sees what those before it did', () => {
    const { l, other } = places()
    const scope = { of: 'project', id: other } as const
    rule(l, [say(l, 'is {priority}')], { scope })
    rule(l, [{ kind: 'set-priority', to: 'high' }])
    task(l, { projectId: other })
    expect(told(l)).toEqual(['is high'])
  })
  it('on a ladder too: what is elsewhere climbs nothing', () => {
    const { l, books, other } = places()
    const delay = { days: 1, unit: 'working', time: '09:00' } as const
    const { id } = makeRule(l.engine, l.imogen, {
      ...{ name: 'R', ownerId: l.imogen.id },
      definition: {
        ...{ trigger: { kind: 'late' }, conditions: ALL, scope: { of: 'project', id: other } },
        rungs: [{ key: 'a', delay, actions: [say(l, '{task}')] }],
      },
    }).result
    switchRule(l.engine, l.imogen, id, { on: true })
    task(l, { title: 'there', projectId: other, due: '2026-11-23' })
    task(l, { title: 'elsewhere', projectId: books, due: '2026-11-23' })
    l.until('2026-11-24T10:00')
    expect(told(l)).toEqual(['there'])
  })
  it.each([
    [{ of: 'client', id: 99 }, /no client 99/],
    [{ of: 'template', id: 99 }, /no template 99/],
    [{ of: 'project', id: 99 }, /no project 99/],
  ] as const)('is somewhere: %j is refused', (scope, why) => {
    const l = lab()
    expect(() => rule(l, [say(l, '')], { scope })).toThrow(why)
  })
})

it('many changed at once under many rules: each rule once on each', () => {
  const l = lab()
  for (let i = 0; i < 10; i++)
    rule(l, [say(l, '{task}')], { trigger: { kind: 'changed', field: 'priority', to: [] } })
  const ids = Array.from({ length: 30 }, (_, i) => task(l, { title: `T${i}` }))
  bulkEdit(l.engine, l.imogen, { ids, set: { priority: 'high' } }).whole()
  l.runner.tick()
  expect(l.rows('select count(*) as n from runs where outcome = ?', 'done')).toEqual([{ n: 300 }])
})
