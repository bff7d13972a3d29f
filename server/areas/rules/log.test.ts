import { describe, expect, it } from 'vitest'
import type { Action, RuleDefinition } from '#contract/rules.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { lab, type Lab } from '../../test/lab.ts'
import { undoChange } from '../journal/undo.ts'
import { makeField } from '../fields/service.ts'
import { editTask, makeTask, taskSheet } from '../tasks/service.ts'
import { listRuns, runDetail } from './log.ts'
import { runAgain } from './rerun.ts'
import { makeRule, switchRule } from './service.ts'
import { whyNot } from './why.ts'

const rule = (l: Lab, name: string, definition: RuleDefinition): number => {
  const { id } = makeRule(l.engine, l.imogen, { name, ownerId: l.imogen.id, definition }).result
  switchRule(l.engine, l.imogen, id, { on: true })
  l.runner.tick()
  return id
}
const high: RuleDefinition = {
  trigger: { kind: 'changed', field: 'priority', to: ['high'] },
  conditions: { match: 'all', of: [{ field: 'priority', op: 'in', value: ['high', 'urgent'] }] },
  actions: [
    { kind: 'assign', who: { is: 'person', id: 3 } },
    { kind: 'set-priority', to: 'urgent' },
    { kind: 'tell', who: { is: 'person', id: 1 }, mail: true, text: '{task} is pressing' },
  ],
}
const made = (l: Lab, title: string) => {
  const { id } = makeTask(l.engine, l.tobias, { title }).result
  editTask(l.engine, l.tobias, id, { patch: { priority: 'high' }, seen: null })
  l.runner.tick()
  return id
}

describe('the run log', () => {
  it('tells a run whole: what led to it, each change from what to what, who was told, by mail', () => {
    const l = lab()
    rule(l, 'Pressing', high)
    made(l, 'Post takings')
    const [run] = listRuns(l.engine, l.imogen, {})
    const detail = runDetail(l.engine, l.imogen, run!.id)
    expect(detail.cause).toEqual(['“Post takings”: priority Normal → High'])
    expect(detail.changes).toEqual(['“Post takings”: put Devika on it; priority High → Urgent'])
    expect(detail.told).toEqual([{ person: 'Imogen', text: 'Post takings is pressing' }])
    expect(detail.mail).toMatchObject([
      { recipient: 'imogen@quillhaven.example', state: 'waiting' },
    ])
    expect(detail.version).toBe(1)
    expect(detail.took).toBeGreaterThan(0)
    expect(detail.mayAgain).toBe(true)
  })
  it('is narrowed by whom it concerns, by words, by what it was about', () => {
    const l = lab()
    const pressing = rule(l, 'Pressing', high)
    const quiet: Action = { kind: 'comment', text: 'Noted' }
    rule(l, 'Noted', {
      ...high,
      trigger: { kind: 'made' },
      conditions: { match: 'all', of: [] },
      actions: [quiet],
    })
    const task = made(l, 'Post takings')
    made(l, 'Chase invoices')
    const said = (filter: Parameters<typeof listRuns>[2]) =>
      listRuns(l.engine, l.imogen, filter).map((run) => `${run.rule?.name}: ${run.task?.title}`)
    expect(said({})).toHaveLength(4)
    expect(said({ text: 'TAKINGS' })).toEqual(['Pressing: Post takings', 'Noted: Post takings'])
    expect(said({ text: 'assigned devika', taskId: task })).toEqual(['Pressing: Post takings'])
    expect(said({ text: '100%' })).toEqual([])
    // Told, or put on it.
    expect(said({ personId: l.imogen.id })).toHaveLength(2)
    expect(said({ personId: l.devika.id, ruleId: pressing })).toHaveLength(2)
    expect(said({ personId: l.tobias.id })).toEqual([])
  })
  it('runs again what is asked for once more, as everything is now, and takes that back too', () => {
    const l = lab()
    const id = rule(l, 'Pressing', high)
    const task = made(l, 'Post takings')
    const [run] = listRuns(l.engine, l.imogen, {})
    const again = () => runAgain(l.engine, l.imogen, run!.id)
    editTask(l.engine, l.imogen, task, { patch: { assignees: [], priority: 'low' }, seen: null })
    expect(again).toThrow(/does not hold now.*priority/)
    editTask(l.engine, l.imogen, task, { patch: { priority: 'urgent' }, seen: null })
    const { result, change } = again()
    expect(result).toMatchObject({ outcome: 'done', task: { id: task } })
    expect(result.reasons[0]).toBe('Asked for by Imogen')
    const on = () => taskSheet(l.engine, l.imogen, task).assignees.map(({ id: who }) => who)
    expect(on()).toEqual([l.devika.id])
    undoChange(l.engine, l.imogen, change!).whole()
    expect(on()).toEqual([])
    switchRule(l.engine, l.imogen, id, { on: false })
    expect(again).toThrow(/switched off/)
    switchRule(l.engine, l.imogen, id, { on: true })
    editTask(l.engine, l.imogen, task, { patch: { archived: true }, seen: null })
    expect(again).toThrow(/stands still/)
    expect(() => runAgain(l.engine, l.tobias, run!.id)).toThrow()
  })
  it('tells values of a field that only managers read to managers alone, however it is asked', () => {
    const l = lab()
    const margin = makeField(l.engine, l.imogen, {
      ...{ name: 'Margin', kind: 'number', options: {}, readers: 'managers' },
      ...{ projectId: null, templateId: null, hidden: false },
    }).result[0]!.id
    const path = `field:${margin}`
    const over: RuleDefinition = {
      ...high,
      conditions: { match: 'all', of: [{ field: path, op: 'at-least', value: 40 }] },
      actions: [{ kind: 'set-field', field: path, value: 7890 }],
    }
    const id = rule(l, 'Thin', over)
    const set = (task: number, value: number) =>
      editTask(l.engine, l.imogen, task, { patch: { fields: { [margin]: value } }, seen: null })
    const [much, little] = ['Much', 'Little'].map((title) => {
      const task = makeTask(l.engine, l.tobias, { title }).result.id
      set(task, title === 'Much' ? 4321 : 33)
      editTask(l.engine, l.tobias, task, { patch: { priority: 'high' }, seen: null })
      l.runner.tick()
      return task
    })
    const log = (viewer: Viewer, text?: string) =>
      listRuns(l.engine, viewer, text === undefined ? {} : { text })
    expect(log(l.imogen, '4321')).toHaveLength(1)
    expect(JSON.stringify(log(l.imogen))).toContain('4321')
    for (const told of [
      log(l.tobias),
      log(l.tobias).map((run) => runDetail(l.engine, l.tobias, run.id)),
      [much!, little!].map((task) =>
        whyNot(l.engine, l.tobias, {
          ...{ rule: id, about: { kind: 'task', id: task }, at: l.clock.now() },
        }),
      ),
    ]) {
      expect(told).toHaveLength(2)
      expect(JSON.stringify(told)).not.toMatch(/4,?321|\b33\b|7,?890/)
    }
    expect(log(l.tobias).flatMap(({ reasons }) => reasons)).toContain(
      'It asks what only managers read',
    )
    expect(log(l.tobias, '4321')).toEqual([])
    expect(log(l.tobias, '4,321')).toEqual([])
  })
})
