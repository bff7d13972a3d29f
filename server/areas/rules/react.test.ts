import { describe, expect, it } from 'vitest'
import type { Group } from '#core/conditions/condition.ts'
import type { Action, RuleDefinition, Trigger } from '#contract/rules.ts'
import { ENGINE, lab, type Lab } from '../../test/lab.ts'
import { makeField } from '../fields/service.ts'
import { undoChange } from '../journal/undo.ts'
import { listNotices } from '../notices/service.ts'
import { addComment } from '../tasks/comments.ts'
import { outline } from '../tasks/outline.ts'
import { editTask, makeTask } from '../tasks/service.ts'
import { listRuns } from './log.ts'
import { makeRule, ruleSheet, saveRule, switchRule } from './service.ts'

const ALL: Group = { match: 'all', of: [] }
const rule = (
  l: Lab,
  trigger: Trigger,
  actions: readonly Action[],
  { conditions = ALL, name = 'R' } = {},
): number => {
  const definition: RuleDefinition = { trigger, conditions, actions }
  const { id } = makeRule(l.engine, l.imogen, { name, ownerId: l.imogen.id, definition }).result
  switchRule(l.engine, l.imogen, id, { on: true })
  l.runner.tick()
  return id
}
const on = (field: string, ...to: (string | number)[]): Trigger => ({ kind: 'changed', field, to })
const tell = (l: Lab, text: string): Action => ({
  ...{ kind: 'tell', mail: false, text },
  who: { is: 'person', id: l.imogen.id },
})
const priority = (to: 'low' | 'normal' | 'high' | 'urgent'): Action => ({
  kind: 'set-priority',
  to,
})
const task = (l: Lab, more: object = {}) =>
  makeTask(l.engine, l.tobias, { title: 'T', ...more }).result.id
const edit = (l: Lab, id: number, patch: object) =>
  editTask(l.engine, l.tobias, id, { patch, seen: null })
const told = (l: Lab) =>
  listNotices(l.engine, l.imogen)
    .filter((notice) => notice.kind === 'escalation')
    .map((notice) => notice.body)
const runs = (l: Lab, ruleId?: number) =>
  listRuns(l.engine, l.imogen, ruleId === undefined ? {} : { ruleId }).map(
    ({ outcome, summary }) => `${outcome}: ${summary}`,
  )

describe('rules that react', () => {
  it('act on what is made, changed and said, once, with the values that were seen', () => {
    const l = lab()
    rule(l, { kind: 'made' }, [tell(l, '{task} is new')])
    const waits = rule(l, on('kind', 'waiting'), [tell(l, '{task} waits')], {
      conditions: { match: 'all', of: [{ field: 'priority', op: 'in', value: ['high'] }] },
    })
    rule(l, { kind: 'commented' }, [tell(l, '{task} is talked of')])
    const id = task(l, { priority: 'high' })
    l.runner.tick()
    edit(l, id, { state: 'waiting' })
    edit(l, id, { title: 'T2' })
    addComment(l.engine, l.tobias, id, '<p>Hm</p>')
    l.runner.tick()
    l.runner.tick()
    expect(told(l).reverse()).toEqual(['T is new', 'T2 waits', 'T2 is talked of'])
    const [run] = listRuns(l.engine, l.imogen, { ruleId: waits })
    expect(run!.reasons).toEqual(['Held: priority is High: it was High'])
    expect(run!.summary).toBe('Told Imogen')
  })
  it('what they are woken for in vain is said once for each thing that failed first, and counted', () => {
    const l = lab()
    const conditions: Group = {
      match: 'all',
      of: [
        { field: 'priority', op: 'in', value: ['high'] },
        { field: 'assignee', op: 'filled' },
      ],
    }
    rule(l, on('title'), [tell(l, '{task}')], { conditions })
    const id = task(l)
    for (const patch of [{ title: 'A' }, { title: 'B' }, { title: 'C', priority: 'high' }]) {
      edit(l, id, patch)
      l.runner.tick()
    }
    const said = listRuns(l.engine, l.imogen, {}).map(({ times, reasons }) => [times, reasons[0]])
    expect(said).toEqual([
      [1, 'First to fail: on it is somebody: it was none'],
      [2, 'First to fail: priority is High: it was Normal'],
    ])
  })
  it('can ask what was before the change', () => {
    const l = lab()
    const conditions: Group = {
      match: 'all',
      of: [
        { field: 'was:kind', op: 'in', value: ['in-review'] },
        { field: 'was:due', op: 'empty' },
        { field: 'was:assignee', op: 'not-in', value: [l.devika.id] },
      ],
    }
    const id = rule(l, on('kind', 'under-way'), [tell(l, '{task} came back')], { conditions })
    const one = task(l, { state: 'in-review' })
    const two = task(l, { state: 'waiting' })
    for (const each of [one, two]) edit(l, each, { state: 'under-way' })
    l.runner.tick()
    expect(told(l)).toEqual(['T came back'])
    const [left, ran] = listRuns(l.engine, l.imogen, { ruleId: id })
    expect(ran!.reasons[0]).toBe('Held: kind of state before is In review: it was In review')
    expect(left!.reasons[0]).toBe(
      'First to fail: kind of state before is In review: it was Waiting',
    )
    const list = { match: 'all', of: [{ field: 'was:kind', op: 'filled' }] } as const
    const asked = outline(l.engine, l.imogen, {
      ...{ scope: { of: 'firm' }, filter: list, sort: [], group: null },
      ...{ tree: false, sums: [], every: false },
    })
    expect(asked.faults[0]!.detail).toBe('“Before: kind of state” cannot be asked in lists.')
  })
  it('what it leaves is said: conditions once for each task, values that have gone on', () => {
    const l = lab()
    const id = rule(l, on('kind', 'waiting'), [tell(l, 'x')], {
      conditions: { match: 'all', of: [{ field: 'due', op: 'filled' }] },
    })
    const one = task(l)
    for (const state of ['waiting', 'under-way', 'waiting'] as const) {
      edit(l, one, { state })
      l.runner.tick()
    }
    expect(runs(l, id)).toEqual(['skipped: Skipped'])
    expect(listRuns(l.engine, l.imogen, { ruleId: id })[0]!.reasons[0]).toBe(
      'First to fail: due is set: it was none',
    )
    edit(l, one, { state: 'under-way' })
    edit(l, one, { state: 'waiting' })
    edit(l, one, { state: 'done' })
    l.runner.tick()
    expect(runs(l, id)).toEqual(['skipped: Left', 'skipped: Skipped'])
  })
  it('rules set each other off until it is quiet, with cause and depth; a circle ends by itself', () => {
    const l = lab()
    rule(l, { kind: 'made' }, [priority('high')], { name: 'First' })
    rule(l, on('priority', 'high'), [priority('urgent')], { name: 'Second' })
    const id = task(l)
    l.runner.tick()
    expect(l.rows('select priority from tasks where id = ?', id)).toEqual([{ priority: 'urgent' }])
    expect(
      l.rows(
        `select e.depth, c.actorKind as led from journal e left join journal c on c.id = e.causeId
         where e.itemId = ? and e.entity = 'tasks' order by e.id`,
        id,
      ),
    ).toEqual([
      { depth: 0, led: null },
      { depth: 1, led: 'person' },
      { depth: 2, led: 'rule' },
    ])
    const circle = rule(l, on('priority', 'urgent'), [priority('high')], { name: 'Third' })
    const other = task(l)
    l.runner.tick()
    const chain = l.rows<{ depth: number }>(
      "select max(depth) as depth from journal where itemId = ? and actorKind = 'rule'",
      other,
    )
    expect(chain).toEqual([{ depth: 8 }])
    const stopped = listRuns(l.engine, l.imogen, {}).filter((run) => run.summary === 'Stopped')
    expect(stopped).toHaveLength(1)
    expect(stopped[0]!.reasons[0]).toBe('8 changes led to each other; the chain ends here')
    expect(stopped[0]!.reasons).toContain('Set off by “Third”')
    expect(ruleSheet(l.engine, l.imogen, circle).pausedBecause).toBeNull()
  })
  it('one rule on one task runs twenty times in an hour and no more', () => {
    const l = lab()
    const id = rule(l, on('title'), [tell(l, 'x')])
    const one = task(l)
    for (let i = 0; i < 25; i++) {
      edit(l, one, { title: `T${i}` })
      l.runner.tick()
    }
    expect(runs(l, id).filter((run) => run.startsWith('done'))).toHaveLength(20)
    expect(runs(l, id).filter((run) => run === 'skipped: Stopped')).toHaveLength(1)
    l.clock.set(l.clock.now() + 3_600_001)
    edit(l, one, { title: 'Later' })
    l.runner.tick()
    expect(runs(l, id)[0]).toBe('done: Told Imogen')
  })
  it('a run that fails leaves nothing half-made, and the others go on', () => {
    const l = lab()
    const bad = rule(l, on('title'), [priority('urgent'), tell(l, 'x')])
    const good = rule(l, on('title'), [tell(l, 'good')])
    // A definition that no edge would let through stands in for a fault of our own.
    l.engine.journal.change(ENGINE, (write) =>
      write.update('rules', bad, {
        definition: {
          ...{ trigger: on('title'), conditions: ALL },
          actions: [priority('urgent'), { kind: 'shout' } as never],
        },
      }),
    )
    const one = task(l)
    edit(l, one, { title: 'T2' })
    l.runner.tick()
    expect(runs(l, bad)).toEqual(['failed: It failed'])
    expect(runs(l, good)).toEqual(['done: Told Imogen'])
    expect(l.rows('select priority from tasks where id = ?', one)).toEqual([{ priority: 'normal' }])
    for (let i = 0; i < 4; i++) {
      edit(l, one, { title: `T${i}` })
      l.runner.tick()
    }
    expect(ruleSheet(l.engine, l.imogen, bad).pausedBecause).toMatch(/Failed 5 times running/)
    edit(l, one, { title: 'Last' })
    l.runner.tick()
    expect(runs(l, bad)).toHaveLength(5)
  })
  it('what an undo brings back wakes nobody, and is told to nobody as work given', () => {
    const l = lab()
    const id = rule(l, on('kind', 'waiting'), [tell(l, 'x')])
    const one = task(l, { state: 'waiting' })
    const { change } = edit(l, one, { state: 'under-way' })
    l.runner.tick()
    undoChange(l.engine, l.tobias, change!).whole()
    l.runner.tick()
    expect(runs(l, id)).toEqual([])
  })
  it('a field that goes is said where it stands, and the rest of the rule holds', () => {
    const l = lab()
    const field = makeField(l.engine, l.imogen, {
      ...{ name: 'Fee', kind: 'money', options: { currency: 'GBP' } },
      ...{ projectId: null, templateId: null, hidden: false },
    }).result[0]!
    const conditions: Group = {
      match: 'all',
      of: [
        { field: `field:${field.id}`, op: 'at-least', value: 500 },
        { field: 'priority', op: 'in', value: ['high'] },
      ],
    }
    const id = rule(l, on('title'), [tell(l, '{task}')], { conditions })
    const one = task(l, { priority: 'high' })
    edit(l, one, { title: 'Before' })
    l.runner.tick()
    expect(told(l)).toEqual([])
    l.engine.journal.change(ENGINE, (write) => write.remove('fields', field.id))
    expect(ruleSheet(l.engine, l.imogen, id).faults).toEqual([
      { place: 'conditions.0', detail: expect.stringContaining('not there any more') as string },
    ])
    edit(l, one, { title: 'After' })
    edit(l, task(l), { title: 'Not high' })
    l.runner.tick()
    expect(told(l)).toEqual(['After'])
  })
  it('what it cannot wait for, or cannot ask, is refused by name', () => {
    const l = lab()
    const save =
      (trigger: Trigger, conditions = ALL) =>
      () =>
        makeRule(l.engine, l.imogen, {
          ...{ name: 'R', ownerId: l.imogen.id },
          definition: { trigger, conditions, actions: [priority('high')] },
        })
    expect(save(on('days-left'))).toThrow(/Choose a field whose changes are told/)
    expect(save(on('field:99'))).toThrow(/Choose a field/)
    expect(save(on('title'), { match: 'all', of: [{ field: 'field:99', op: 'filled' }] })).toThrow(
      /not there any more/,
    )
    const id = rule(l, on('title'), [priority('high')])
    const sheet = ruleSheet(l.engine, l.imogen, id)
    const { name, definition } = sheet
    saveRule(l.engine, l.imogen, id, {
      body: { name, ownerId: l.imogen.id, definition: { ...definition, trigger: on('kind') } },
      seen: 1,
    })
    edit(l, task(l), { title: 'Not any more' })
    l.runner.tick()
    expect(runs(l, id)).toEqual([])
  })
})
