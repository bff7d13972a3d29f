import { addComment } from '../areas/tasks/comments.ts'
import { describe, expect, it } from 'vitest'
import { ENGINE, lab } from '../test/lab.ts'
import { editTask, makeTask, taskSheet } from '../areas/tasks/service.ts'
import { undoChange } from '../areas/journal/undo.ts'

describe('the journal', () => {
  it('writes before and after of what changed, and nothing when nothing did', () => {
    const l = lab()
    const task = makeTask(l.engine, l.tobias, { title: 'Post', due: '2026-11-25' }).result
    editTask(l.engine, l.tobias, task.id, { patch: { due: '2026-11-26' }, seen: null })
    const last = l.rows<{ before: string; after: string; actorId: number }>(
      "select before, after, actorId from journal where entity = 'tasks' order by id desc limit 1",
    )[0]!
    expect(JSON.parse(last.before)).toEqual({ due: '2026-11-25', postponed: 0, version: 1 })
    expect(JSON.parse(last.after)).toEqual({ due: '2026-11-26', postponed: 1, version: 2 })
    expect(last.actorId).toBe(l.tobias.id)
    const count = l.rows('select 1 from journal').length
    l.engine.journal.change(ENGINE, (write) => write.update('tasks', task.id, { title: 'Post' }))
    expect(l.rows('select 1 from journal')).toHaveLength(count)
  })
  it('leaves nothing of a change that fails, and tells nobody', () => {
    const l = lab()
    const heard: number[] = []
    l.engine.journal.subscribe((entries) => heard.push(entries.length))
    expect(
      () =>
        l.engine.journal.change(ENGINE, (write) => {
          write.insert('clients', { name: 'Half', short: 'Half' })
          throw new Error('no')
        }).result,
    ).toThrow('no')
    expect(() =>
      l.engine.journal.together(
        () => (
          l.engine.journal.change(ENGINE, (w) => w.insert('clients', { name: 'H', short: 'H' }))
            .result,
          l.engine.journal.change(ENGINE, () => Number.parseInt('x').toFixed(101)).result
        ),
      ),
    ).toThrow()
    expect(l.rows("select 1 from clients where name like 'H%'")).toEqual([])
    expect(heard).toEqual([])
    l.engine.journal.change(ENGINE, (write) =>
      write.insert('clients', { name: 'Whole', short: 'Whole' }),
    )
    expect(heard).toEqual([1])
  })
  it('keeps no password in its record', () => {
    const l = lab()
    l.engine.journal.change(ENGINE, (write) =>
      write.update('people', l.tobias.id, { passwordHash: 'scrypt$secret' }),
    )
    expect(l.rows("select 1 from journal where after like '%secret%'")).toEqual([])
  })
  it('undo restores every row of the last change, once, and not over somebody else', () => {
    const l = lab()
    const task = makeTask(l.engine, l.tobias, {
      title: 'Post',
      due: '2026-11-25',
      assignees: [l.tobias.id],
      checklist: ['Cash'],
    }).result
    const before = l.rows('select title, state, due, closedAt from tasks where id = ?', task.id)
    editTask(l.engine, l.tobias, task.id, {
      patch: { state: 'done', assignees: [l.devika.id] },
      seen: null,
    })
    undoChange(l.engine, l.tobias, l.latest()).whole()
    expect(l.rows('select title, state, due, closedAt from tasks where id = ?', task.id)).toEqual(
      before,
    )
    expect(taskSheet(l.engine, l.tobias, task.id).assignees.map((a) => a.id)).toEqual([l.tobias.id])
    editTask(l.engine, l.tobias, task.id, { patch: { title: 'Post it' }, seen: null })
    const mine = l.latest()
    addComment(l.engine, l.devika, task.id, 'Wait')
    editTask(l.engine, l.devika, task.id, { patch: { title: 'Post them' }, seen: null })
    expect(() => undoChange(l.engine, l.tobias, mine).whole().result).toThrow(
      /changed again afterwards/,
    )
    expect(() => undoChange(l.engine, l.tobias, l.latest()).whole().result).toThrow(
      /Only who made a change/,
    )
  })
})
