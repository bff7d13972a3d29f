import { describe, expect, it } from 'vitest'
import type { Action, Rung, RuleDefinition } from '#contract/rules.ts'
import { assemble } from '../../assembly.ts'
import { ENGINE, lab, london, type Lab } from '../../test/lab.ts'
import { listChanges } from '../journal/changes.ts'
import { undoChange } from '../journal/undo.ts'
import { listNotices } from '../notices/service.ts'
import { editTask, makeTask, taskSheet } from '../tasks/service.ts'
import { listRuns } from './log.ts'
import { listRules, makeRule, switchRule } from './service.ts'

const rule = (
  l: Lab,
  rungs: Rung[],
  conditions: RuleDefinition['conditions'] = { match: 'all', of: [] },
  name = 'R',
) => {
  const made = makeRule(l.engine, l.imogen, {
    name,
    ownerId: l.imogen.id,
    definition: { trigger: { kind: 'late' }, conditions, rungs },
  }).result
  switchRule(l.engine, l.imogen, made.id, { on: true })
  return made.id
}
const rung = (delay: Rung['delay'], ...actions: Action[]): Rung => ({
  key: JSON.stringify(delay),
  delay,
  actions,
})
const tell = (text: string): Action => ({ kind: 'tell', who: { is: 'owner' }, mail: false, text })
const late = (l: Lab, more: object = {}) =>
  makeTask(l.engine, l.imogen, {
    title: 'T',
    due: '2026-11-27',
    assignees: [l.tobias.id],
    clientId: l.client,
    ...more,
  }).result
const told = (l: Lab) =>
  listNotices(l.engine, l.imogen)
    .filter((n) => n.kind === 'escalation')
    .map((n) => n.body)
    .reverse()

describe('rungs', () => {
  it('in hours count from the moment the due was missed', () => {
    const l = lab()
    rule(l, [rung({ hours: 2 }, tell('two hours'))])
    late(l, { dueTime: '15:00' })
    l.until('2026-11-27T16:59')
    expect(told(l)).toEqual([])
    l.until('2026-11-27T17:00')
    expect(told(l)).toEqual(['two hours'])
  })
  it('in calendar days do not wait for Monday; in working days they do', () => {
    const l = lab()
    rule(l, [
      rung({ days: 1, unit: 'calendar', time: '10:00' }, tell('calendar')),
      rung({ days: 1, unit: 'working', time: '10:00' }, tell('working')),
    ])
    late(l)
    l.until('2026-11-29T10:00')
    expect(told(l)).toEqual(['calendar'])
    l.until('2026-11-30T10:00')
    expect(told(l)).toEqual(['calendar', 'working'])
  })
  it('fill their texts; a daily reminder stops when the next rung is reached', () => {
    const l = lab()
    rule(l, [
      rung(
        { days: 1, unit: 'working', time: '09:00' },
        {
          kind: 'remind',
          who: { is: 'assignees' },
          daily: true,
          text: '{task}, {client}, due {due: d MMMM}: {days late}',
        },
      ),
      rung({ days: 3, unit: 'working', time: '09:00' }, tell('higher')),
    ])
    late(l)
    l.until('2026-12-04T12:00')
    expect(
      listNotices(l.engine, l.tobias)
        .filter((n) => n.kind === 'reminder')
        .map((n) => n.body)
        .reverse(),
    ).toEqual([
      'T, Mossgate, due 27 November: 1 working day',
      'T, Mossgate, due 27 November: 2 working days',
    ])
    expect(told(l)).toEqual(['higher'])
  })
  it('say when they find nobody, and do the rest', () => {
    const l = lab()
    const id = rule(l, [
      rung(
        { days: 1, unit: 'working', time: '09:00' },
        { kind: 'tell', who: { is: 'lead' }, mail: true, text: 'x' },
        { kind: 'set-priority', to: 'high' },
      ),
    ])
    const task = late(l)
    l.until('2026-11-30T09:00')
    const [run] = listRuns(l.engine, l.imogen, { ruleId: id })
    expect(run!.summary).toBe('Rung 1: Set priority high')
    expect(run!.reasons).toContain('Telling found nobody (the project has no lead)')
    expect(taskSheet(l.engine, l.imogen, task.id).priority).toBe('high')
  })
  it('a follow-up that is late itself gets no follow-up of its own', () => {
    const l = lab()
    rule(l, [
      rung(
        { days: 1, unit: 'working', time: '09:00' },
        { kind: 'make-task', title: 'Call about {task}', who: { is: 'owner' } },
        tell('{task}'),
      ),
    ])
    late(l)
    l.until('2026-12-11T12:00')
    expect(l.rows('select title from tasks order by id')).toEqual([
      { title: 'T' },
      { title: 'Call about T' },
    ])
    expect(told(l)).toEqual(['T', 'Call about T'])
    expect(listRuns(l.engine, l.imogen, {})[0]!.reasons).toContain(
      'No further task: this one was made by a rule already',
    )
  })
  it('two rules climb one task, each on its own', () => {
    const l = lab()
    rule(l, [rung({ days: 1, unit: 'working', time: '09:00' }, tell('one'))], undefined, 'One')
    rule(l, [rung({ days: 1, unit: 'working', time: '09:00' }, tell('two'))], undefined, 'Two')
    late(l)
    l.until('2026-11-30T09:00')
    expect(told(l).sort()).toEqual(['one', 'two'])
  })
  it('a task made late, or moved to be late, starts on the highest rung behind it', () => {
    const l = lab()
    rule(
      l,
      [1, 2, 3].map((days) => rung({ days, unit: 'working', time: '09:00' }, tell(`${days}`))),
    )
    const task = late(l, { due: '2026-11-19' })
    l.until('2026-11-23T08:30')
    expect(told(l)).toEqual(['1'])
    editTask(l.engine, l.imogen, task.id, { patch: { due: '2026-11-18' }, seen: null })
    l.until('2026-11-23T08:31')
    expect(told(l)).toEqual(['1', '2'])
    l.until('2026-11-23T09:00')
    expect(told(l)).toEqual(['1', '2', '3'])
  })
  it('conditions read the client, through the project too', () => {
    const l = lab()
    rule(l, [rung({ days: 1, unit: 'working', time: '09:00' }, tell('{task}'))], {
      match: 'all',
      of: [
        { field: 'client.tier', op: 'in', value: ['gold'] },
        { field: 'estimate', op: 'at-least', value: 60 },
      ],
    })
    const project = l.engine.journal.change(ENGINE, (write) =>
      write.insert('projects', { name: 'P', clientId: l.client, createdAt: write.at }),
    ).result
    makeTask(l.engine, l.imogen, {
      title: 'gold',
      due: '2026-11-27',
      projectId: project,
      estimate: 60,
    })
    makeTask(l.engine, l.imogen, {
      title: 'short',
      due: '2026-11-27',
      projectId: project,
      estimate: 30,
    })
    makeTask(l.engine, l.imogen, { title: 'nobody’s', due: '2026-11-27', estimate: 90 })
    l.until('2026-11-30T09:00')
    expect(told(l)).toEqual(['gold'])
    expect(
      listRuns(l.engine, l.imogen, { outcome: 'skipped' })
        .map((r) => r.reasons[0])
        .sort(),
    ).toEqual([
      'First to fail: client’s tier is Gold: it was none',
      'First to fail: estimate is at least 1h: it was 30m',
    ])
  })
})

describe('the run log', () => {
  it('comes in pages, filtered by rule, task and outcome; guests do not see it', () => {
    const l = lab()
    const id = rule(l, [rung({ days: 1, unit: 'working', time: '09:00' }, tell('x'))])
    const tasks = Array.from({ length: 120 }, () => late(l))
    l.until('2026-11-30T09:00')
    const first = listRuns(l.engine, l.imogen, { ruleId: id })
    expect(first).toHaveLength(100)
    expect(listRuns(l.engine, l.imogen, { ruleId: id, before: first.at(-1)!.id })).toHaveLength(20)
    expect(listRuns(l.engine, l.tobias, { taskId: tasks[5]!.id })).toHaveLength(1)
    expect(listRuns(l.engine, l.imogen, { outcome: 'failed' })).toEqual([])
    expect(() => listRuns(l.engine, l.corrie, {})).toThrow(/Guests may not/)
    expect(listRules(l.engine, l.imogen)[0]).toMatchObject({ runs30: 120, on: true, warnings: [] })
  })
})

it('a mail leads to its task, where the address that people open is known', () => {
  const l = lab()
  const address = new URL('https://work.quillhaven.example')
  const { engine, runner } = assemble(l.db, l.clock, {
    told: { address, proxies: 0, mail: false },
  })
  const mailing: Action = { kind: 'tell', who: { is: 'owner' }, mail: true, text: '{task}' }
  rule(l, [rung({ days: 1, unit: 'working', time: '09:00' }, mailing)])
  const task = makeTask(engine, l.imogen, { title: 'Post', due: '2026-11-23' }).result
  runner.runUntil(london('2026-11-24T09:00'))
  const [mail] = l.rows<{ body: string }>('select body from outbox')
  expect(mail!.body).toContain(`https://work.quillhaven.example/today?task=${task.id}`)
})

describe('runs that are taken back', () => {
  const day: Rung['delay'] = { days: 1, unit: 'working', time: '09:00' }
  const next: Rung['delay'] = { days: 2, unit: 'working', time: '09:00' }
  const further: Action = { kind: 'make-task', title: 'Call about {task}', who: { is: 'owner' } }
  const taken = (l: Lab) =>
    l.rows('select title, priority, rung from tasks order by id').map((row) => Object.values(row))

  it('two ladders on a task keep neither from it, in either order', () => {
    for (const order of [
      [0, 1],
      [1, 0],
    ]) {
      const l = lab()
      // Both also take the task that the first one makes to a rung: that is no work on it.
      rule(l, [rung(day, further)], undefined, 'One')
      rule(l, [rung(day, tell('x')), rung(next, tell('y'))], undefined, 'Two')
      late(l)
      const before = taken(l)
      l.until('2026-12-02T10:00')
      const of = (name: string) =>
        listRuns(l.engine, l.imogen, {}).filter((run) => run.rule!.name === name && run.change)
      expect([of('One').length > 0, of('Two').length > 1]).toEqual([true, true])
      // What was done to a task that is gone is gone with it.
      const left = (name: string) => of(name).find((run) => run.task && !run.undone)
      for (const name of order.map((i) => ['One', 'Two'][i]!))
        for (let run = left(name); run; run = left(name))
          expect(undoChange(l.engine, l.imogen, run.change!).whole().result.left).toEqual([])
      expect(taken(l)).toEqual(before)
    }
  })
  it('one that only told somebody is no row of the journal with nothing in it', () => {
    const l = lab()
    const id = rule(l, [rung(day, tell('{task} is late'))])
    // It failed before: that it works again is written down with it.
    l.engine.journal.change(ENGINE, (write) => void write.update('rules', id, { failures: 2 }))
    late(l)
    l.until('2026-12-01T10:00')
    expect(told(l)).toHaveLength(1)
    const { changes } = listChanges(l.engine, l.imogen, {})
    expect(changes.filter((change) => change.lines.length === 0)).toEqual([])
    const [run] = listRuns(l.engine, l.imogen, {})
    undoChange(l.engine, l.imogen, run!.change!).whole()
    // That it works is not taken back with what it did.
    expect(l.rows('select failures from rules')).toEqual([{ failures: 0 }])
  })
})
