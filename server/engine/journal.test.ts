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
  it('what is done lightly is all kept, or none of it, whoever caught what failed in it', () => {
    const l = lab()
    const { journal } = l.engine
    const heard: number[] = []
    journal.subscribe((entries) => heard.push(entries.length))
    const client = (name: string, then = () => {}) =>
      journal.change(ENGINE, (write) => {
        write.insert('clients', { name, short: name })
        then()
      })
    const names = () =>
      l.rows<{ name: string }>("select name from clients where name like 'L%'").map((r) => r.name)
    const later: string[] = []
    const caught = journal.lightly(() => {
      client('L1')
      try {
        client('L2', () => {
          throw new Error('no')
        })
      } catch (error) {
        later.push(String(error))
      }
      // Nothing more is begun of what is not kept.
      expect(() => client('L3')).toThrow('no')
      return 'end'
    })
    expect([caught, later, names(), heard]).toEqual([undefined, ['Error: no'], [], []])
    expect(journal.lightly(() => Number.parseInt('x').toFixed(101))).toBeUndefined()
    expect(journal.lightly(() => [client('L4'), client('L5')].length)).toEqual({ result: 2 })
    expect([names(), heard]).toEqual([['L4', 'L5'], [2]])
    // As a part of another, it has a savepoint of its own.
    journal.together(() => {
      client('L6')
      expect(() =>
        journal.lightly(() => {
          client('L7')
          throw new Error('no')
        }),
      ).toThrow('no')
      client('L8')
    })
    expect(names()).toEqual(['L4', 'L5', 'L6', 'L8'])
  })
  it('remembers nothing of what was taken back', () => {
    const l = lab()
    const { firm, journal } = l.engine
    const zone = (work: (end: () => never) => void) => {
      const end = (): never => {
        journal.change(ENGINE, (write) => write.update('firm', 1, { zone: 'Asia/Tokyo' }))
        expect(firm.zone()).toBe('Asia/Tokyo')
        throw new Error('no')
      }
      work(end)
      return firm.zone()
    }
    const before = firm.zone()
    expect(zone((end) => expect(() => journal.together(end)).toThrow('no'))).toBe(before)
    expect(zone((end) => expect(journal.lightly(end)).toBeUndefined())).toBe(before)
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
