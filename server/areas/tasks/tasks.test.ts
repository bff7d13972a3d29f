import { undoChange } from '../journal/undo.ts'
import { addComment } from './comments.ts'
import { addItem, editItem, removeItem } from './checklist.ts'
import { Clash } from './clash.ts'
import { describe, expect, it } from 'vitest'
import { ENGINE, lab, LADDER } from '../../test/lab.ts'
import { makeRule, switchRule } from '../rules/service.ts'
import { activity } from './activity.ts'
import { editTask, makeTask, taskSheet } from './service.ts'

describe('editing a task', () => {
  it('closing stamps the moment, opening again clears it, dropping closes too', () => {
    const l = lab()
    const { id } = makeTask(l.engine, l.tobias, { title: 'T' }).result
    expect(
      editTask(l.engine, l.tobias, id, { patch: { state: 'done' }, seen: null }).result.closedAt,
    ).toBe(l.clock.now())
    expect(
      editTask(l.engine, l.tobias, id, { patch: { state: 'under-way' }, seen: null }).result
        .closedAt,
    ).toBeNull()
    expect(
      editTask(l.engine, l.tobias, id, { patch: { state: 'dropped' }, seen: null }).result.closedAt,
    ).toBe(l.clock.now())
  })
  it('a time goes with its date; a date before the start is refused and nothing of the edit is kept', () => {
    const l = lab()
    const { id } = makeTask(l.engine, l.tobias, {
      title: 'T',
      start: '2026-12-01',
      due: '2026-12-03',
      dueTime: '10:00',
    }).result
    expect(
      () =>
        editTask(l.engine, l.tobias, id, {
          patch: { title: 'Other', due: '2026-11-30' },
          seen: null,
        }).result,
    ).toThrow(/is after Due/)
    expect(taskSheet(l.engine, l.tobias, id)).toMatchObject({
      title: 'T',
      due: '2026-12-03',
      dueTime: '10:00',
      version: 1,
    })
    expect(
      editTask(l.engine, l.tobias, id, { patch: { due: null }, seen: null }).result,
    ).toMatchObject({
      due: null,
      dueTime: null,
    })
  })
  it('an edit of an older version is refused with both; of an unnamed version it is taken', () => {
    const l = lab()
    const { id } = makeTask(l.engine, l.tobias, { title: 'T' }).result
    editTask(l.engine, l.tobias, id, { patch: { title: 'First' }, seen: 1 })
    try {
      editTask(l.engine, l.devika, id, { patch: { title: 'Second' }, seen: 1 })
      expect.unreachable()
    } catch (error) {
      expect(error).toBeInstanceOf(Clash)
      expect((error as Clash).theirs).toMatchObject({ title: 'First', version: 2 })
      expect((error as Clash).mine).toEqual({ title: 'Second' })
    }
    expect(
      editTask(l.engine, l.devika, id, { patch: { title: 'Second' }, seen: null }).result.title,
    ).toBe('Second')
  })
  it('assigns, takes off, and refuses who left or never was', () => {
    const l = lab()
    const { id } = makeTask(l.engine, l.tobias, { title: 'T', assignees: [l.tobias.id] }).result
    expect(
      editTask(l.engine, l.tobias, id, {
        patch: { assignees: [l.devika.id, l.imogen.id] },
        seen: null,
      })
        .result.assignees.map((a) => a.name)
        .sort(),
    ).toEqual(['Devika', 'Imogen'])
    expect(
      editTask(l.engine, l.tobias, id, { patch: { assignees: [] }, seen: null }).result.assignees,
    ).toEqual([])
    l.engine.journal.change(ENGINE, (write) =>
      write.update('people', l.devika.id, { active: false }),
    )
    expect(
      () =>
        editTask(l.engine, l.tobias, id, { patch: { assignees: [l.devika.id] }, seen: null })
          .result,
    ).toThrow('Devika has left; choose someone who is here.')
    expect(
      () => editTask(l.engine, l.tobias, id, { patch: { assignees: [9999] }, seen: null }).result,
    ).toThrow(/no person 9999/)
  })
  it('the checklist is added to, ticked, reworded and removed; an item of another task is not there', () => {
    const l = lab()
    const one = makeTask(l.engine, l.tobias, { title: 'One', checklist: ['a'] }).result
    const two = makeTask(l.engine, l.tobias, { title: 'Two' }).result
    const item = addItem(l.engine, l.tobias, one.id, 'b').result.checklist[1]!
    const { result: pasted, change: paste } = addItem(l.engine, l.tobias, one.id, 'c', 'd')
    expect(pasted.checklist.map(({ title }) => title).slice(-3)).toEqual(['b', 'c', 'd'])
    undoChange(l.engine, l.tobias, paste!).whole()
    expect(
      editItem(
        l.engine,
        l.tobias,
        { taskId: one.id, id: item.id },
        { done: true },
      ).result.checklist.map((i) => i.done),
    ).toEqual([false, true])
    expect(
      editItem(l.engine, l.tobias, { taskId: one.id, id: item.id }, { title: 'c' }).result
        .checklist[1],
    ).toMatchObject({ title: 'c', done: true })
    expect(
      () => editItem(l.engine, l.tobias, { taskId: two.id, id: item.id }, { done: true }).result,
    ).toThrow(/gone/)
    expect(
      removeItem(l.engine, l.tobias, { taskId: one.id, id: item.id }).result.checklist.map(
        (i) => i.title,
      ),
    ).toEqual(['a'])
    expect(() => removeItem(l.engine, l.tobias, { taskId: one.id, id: item.id }).result).toThrow(
      /gone/,
    )
  })
  it('guests tick and comment on what is theirs, nothing else', () => {
    const l = lab()
    const { id } = makeTask(l.engine, l.tobias, {
      title: 'T',
      assignees: [l.corrie.id],
      checklist: ['a'],
    }).result
    const other = makeTask(l.engine, l.tobias, { title: 'O' }).result
    expect(taskSheet(l.engine, l.corrie, id).may).toEqual({
      edit: false,
      give: false,
      progress: true,
      comment: true,
    })
    expect(
      editTask(l.engine, l.corrie, id, { patch: { state: 'in-review' }, seen: null }).result.state,
    ).toBe('in-review')
    expect(
      addComment(l.engine, l.corrie, id, 'Done').result.discussion.map((c) => c.author?.name),
    ).toEqual(['Corrie'])
    const item = taskSheet(l.engine, l.corrie, id).checklist[0]!
    expect(
      editItem(l.engine, l.corrie, { taskId: id, id: item.id }, { done: true }).result.checklist[0]!
        .done,
    ).toBe(true)
    for (const attempt of [
      () => editTask(l.engine, l.corrie, id, { patch: { title: 'Mine' }, seen: null }).result,
      () => editTask(l.engine, l.corrie, id, { patch: { assignees: [] }, seen: null }).result,
      () => editItem(l.engine, l.corrie, { taskId: id, id: item.id }, { title: 'x' }).result,
      () => addItem(l.engine, l.corrie, id, 'x').result,
      () => removeItem(l.engine, l.corrie, { taskId: id, id: item.id }).result,
      () => makeTask(l.engine, l.corrie, { title: 'x' }).result,
    ])
      expect(attempt).toThrow(/^You may not/)
    expect(() => taskSheet(l.engine, l.corrie, other.id)).toThrow(/not shared with you/)
    expect(() => addComment(l.engine, l.corrie, other.id, 'x').result).toThrow(
      /not shared with you/,
    )
  })
})

describe('what happened to a task', () => {
  it('is told in sentences, by whom, automatic ones marked', () => {
    const l = lab()
    const rule = makeRule(l.engine, l.imogen, {
      name: 'Late',
      ownerId: l.imogen.id,
      definition: LADDER({ team: l.team, boss: l.imogen.id }),
    }).result
    switchRule(l.engine, l.imogen, rule.id, { on: true })
    const { id } = makeTask(l.engine, l.imogen, {
      title: 'T',
      due: '2026-11-23',
      assignees: [l.tobias.id],
      checklist: ['a'],
    }).result
    editTask(l.engine, l.tobias, id, { patch: { state: 'under-way', estimate: 30 }, seen: null })
    editTask(l.engine, l.tobias, id, { patch: { description: 'Long' }, seen: null })
    editItem(
      l.engine,
      l.tobias,
      { taskId: id, id: taskSheet(l.engine, l.tobias, id).checklist[0]!.id },
      {
        done: true,
      },
    )
    addComment(l.engine, l.devika, id, 'Hello')
    l.until('2026-11-24T09:00')
    expect(activity(l.engine, l.imogen, id).map((a) => [a.who, a.automatic, a.text])).toEqual([
      ['Rule “Late”', true, 'took it to rung 1'],
      ['Devika', false, 'commented'],
      ['Tobias', false, 'ticked a checklist item'],
      ['Tobias', false, 'changed the description'],
      ['Tobias', false, 'state Not started → Under way; estimate none → 30m'],
      ['Imogen', false, 'added “a” to the checklist'],
      ['Imogen', false, 'put Tobias on it'],
      ['Imogen', false, 'made this task'],
    ])
  })
  it('dates are said, not written', () => {
    const l = lab()
    const { id } = makeTask(l.engine, l.imogen, { title: 'T', due: '2026-11-23' }).result
    editTask(l.engine, l.imogen, id, { patch: { due: '2026-11-27', dueTime: '15:00' }, seen: null })
    expect(activity(l.engine, l.imogen, id)[0]!.text).toBe(
      'due Mon 23 Nov → Fri 27 Nov; due time none → 15:00',
    )
  })
})
