import { describe, expect, it } from 'vitest'
import { ENGINE, lab, LADDER } from '../../test/lab.ts'
import { makeRule, switchRule } from '../rules/service.ts'
import { activity } from './activity.ts'
import {
  addComment,
  addItem,
  Clash,
  editItem,
  editTask,
  makeTask,
  removeItem,
  taskSheet,
} from './service.ts'

describe('editing a task', () => {
  it('closing stamps the moment, opening again clears it, dropping closes too', () => {
    const l = lab()
    const { id } = makeTask(l.engine, l.tobias, { title: 'T' })
    expect(editTask(l.engine, l.tobias, id, { state: 'done' }, null).closedAt).toBe(l.clock.now())
    expect(editTask(l.engine, l.tobias, id, { state: 'under-way' }, null).closedAt).toBeNull()
    expect(editTask(l.engine, l.tobias, id, { state: 'dropped' }, null).closedAt).toBe(
      l.clock.now(),
    )
  })
  it('a time goes with its date; a date before the start is refused and nothing of the edit is kept', () => {
    const l = lab()
    const { id } = makeTask(l.engine, l.tobias, {
      title: 'T',
      start: '2026-12-01',
      due: '2026-12-03',
      dueTime: '10:00',
    })
    expect(() =>
      editTask(l.engine, l.tobias, id, { title: 'Other', due: '2026-11-30' }, null),
    ).toThrow(/after the due date/)
    expect(taskSheet(l.engine, l.tobias, id)).toMatchObject({
      title: 'T',
      due: '2026-12-03',
      dueTime: '10:00',
      version: 1,
    })
    expect(editTask(l.engine, l.tobias, id, { due: null }, null)).toMatchObject({
      due: null,
      dueTime: null,
    })
  })
  it('an edit of an older version is refused with both; of an unnamed version it is taken', () => {
    const l = lab()
    const { id } = makeTask(l.engine, l.tobias, { title: 'T' })
    editTask(l.engine, l.tobias, id, { title: 'First' }, 1)
    try {
      editTask(l.engine, l.devika, id, { title: 'Second' }, 1)
      expect.unreachable()
    } catch (error) {
      expect(error).toBeInstanceOf(Clash)
      expect((error as Clash).theirs).toMatchObject({ title: 'First', version: 2 })
      expect((error as Clash).mine).toEqual({ title: 'Second' })
    }
    expect(editTask(l.engine, l.devika, id, { title: 'Second' }, null).title).toBe('Second')
  })
  it('assigns, takes off, and refuses who left or never was', () => {
    const l = lab()
    const { id } = makeTask(l.engine, l.tobias, { title: 'T', assignees: [l.tobias.id] })
    expect(
      editTask(l.engine, l.tobias, id, { assignees: [l.devika.id, l.imogen.id] }, null)
        .assignees.map((a) => a.name)
        .sort(),
    ).toEqual(['Devika', 'Imogen'])
    expect(editTask(l.engine, l.tobias, id, { assignees: [] }, null).assignees).toEqual([])
    l.engine.journal.change(ENGINE, (write) => write.update('people', l.devika.id, { active: 0 }))
    expect(() => editTask(l.engine, l.tobias, id, { assignees: [l.devika.id] }, null)).toThrow(
      'Devika has left; choose someone who is here.',
    )
    expect(() => editTask(l.engine, l.tobias, id, { assignees: [9999] }, null)).toThrow(
      /no person 9999/,
    )
  })
  it('the checklist is added to, ticked, reworded and removed; an item of another task is not there', () => {
    const l = lab()
    const one = makeTask(l.engine, l.tobias, { title: 'One', checklist: ['a'] })
    const two = makeTask(l.engine, l.tobias, { title: 'Two' })
    const item = addItem(l.engine, l.tobias, one.id, 'b').checklist[1]!
    expect(
      editItem(l.engine, l.tobias, one.id, item.id, { done: true }).checklist.map((i) => i.done),
    ).toEqual([false, true])
    expect(
      editItem(l.engine, l.tobias, one.id, item.id, { title: 'c' }).checklist[1],
    ).toMatchObject({ title: 'c', done: true })
    expect(() => editItem(l.engine, l.tobias, two.id, item.id, { done: true })).toThrow(/gone/)
    expect(removeItem(l.engine, l.tobias, one.id, item.id).checklist.map((i) => i.title)).toEqual([
      'a',
    ])
    expect(() => removeItem(l.engine, l.tobias, one.id, item.id)).toThrow(/gone/)
  })
  it('guests tick and comment on what is theirs, nothing else', () => {
    const l = lab()
    const { id } = makeTask(l.engine, l.tobias, {
      title: 'T',
      assignees: [l.corrie.id],
      checklist: ['a'],
    })
    const other = makeTask(l.engine, l.tobias, { title: 'O' })
    expect(taskSheet(l.engine, l.corrie, id).may).toEqual({ edit: false, progress: true })
    expect(editTask(l.engine, l.corrie, id, { state: 'in-review' }, null).state).toBe('in-review')
    expect(
      addComment(l.engine, l.corrie, id, 'Done').discussion.map((c) => c.author?.name),
    ).toEqual(['Corrie'])
    const item = taskSheet(l.engine, l.corrie, id).checklist[0]!
    expect(editItem(l.engine, l.corrie, id, item.id, { done: true }).checklist[0]!.done).toBe(true)
    for (const attempt of [
      () => editTask(l.engine, l.corrie, id, { title: 'Mine' }, null),
      () => editTask(l.engine, l.corrie, id, { assignees: [] }, null),
      () => editItem(l.engine, l.corrie, id, item.id, { title: 'x' }),
      () => addItem(l.engine, l.corrie, id, 'x'),
      () => removeItem(l.engine, l.corrie, id, item.id),
      () => makeTask(l.engine, l.corrie, { title: 'x' }),
    ])
      expect(attempt).toThrow(/Guests may/)
    expect(() => taskSheet(l.engine, l.corrie, other.id)).toThrow(/not shared with you/)
    expect(() => addComment(l.engine, l.corrie, other.id, 'x')).toThrow(/not shared with you/)
  })
})

describe('what happened to a task', () => {
  it('is told in sentences, by whom, automatic ones marked', () => {
    const l = lab()
    const rule = makeRule(l.engine, l.imogen, {
      name: 'Late',
      ownerId: l.imogen.id,
      definition: LADDER({ team: l.team, boss: l.imogen.id }),
    })
    switchRule(l.engine, l.imogen, rule.id, true)
    const { id } = makeTask(l.engine, l.imogen, {
      title: 'T',
      due: '2026-11-23',
      assignees: [l.tobias.id],
      checklist: ['a'],
    })
    editTask(l.engine, l.tobias, id, { state: 'under-way', estimate: 30 }, null)
    editTask(l.engine, l.tobias, id, { description: 'Long' }, null)
    editItem(l.engine, l.tobias, id, taskSheet(l.engine, l.tobias, id).checklist[0]!.id, {
      done: true,
    })
    addComment(l.engine, l.devika, id, 'Hello')
    l.until('2026-11-24T09:00')
    expect(activity(l.engine, id).map((a) => [a.who, a.automatic, a.text])).toEqual([
      ['Rule “Late”', true, 'took it to rung 1'],
      ['Devika', false, 'commented'],
      ['Tobias', false, 'ticked a checklist item'],
      ['Tobias', false, 'changed the description'],
      ['Tobias', false, 'state Not started → Under way; estimate none → 30m'],
      ['Imogen', false, 'added “a” to the checklist'],
      ['Imogen', false, 'assigned Tobias'],
      ['Imogen', false, 'made this task'],
    ])
  })
  it('dates are said, not written', () => {
    const l = lab()
    const { id } = makeTask(l.engine, l.imogen, { title: 'T', due: '2026-11-23' })
    editTask(l.engine, l.imogen, id, { due: '2026-11-27', dueTime: '15:00' }, null)
    expect(activity(l.engine, id)[0]!.text).toBe(
      'due date Mon 23 Nov → Fri 27 Nov; due time none → 15:00',
    )
  })
})
