import { addComment } from './comments.ts'
import { describe, expect, it } from 'vitest'
import { lab } from '../../test/lab.ts'
import { makeTag } from '../fields/service.ts'
import { listChanges } from '../journal/changes.ts'
import { undoChange } from '../journal/undo.ts'
import { bulkEdit, editEach } from './bulk.ts'
import { editTask } from './service.ts'
import { task, sheet, whole } from '../../test/work.ts'

describe('many at once', () => {
  it('one change, one undo, whatever it touched', () => {
    const l = lab()
    const tag = makeTag(l.engine, l.tobias, { name: 'x', colour: 'teal' }).result
    const ids = Array.from({ length: 30 }, (_, i) =>
      task(l, `T${i}`, {
        due: '2026-11-27',
        start: '2026-11-26',
        assignees: i % 2 ? [l.tobias.id] : [],
      }),
    )
    const before = whole(l)
    const done = bulkEdit(l.engine, l.imogen, {
      ids,
      set: { priority: 'high', state: 'under-way' },
      addAssignees: [l.devika.id],
      removeAssignees: [l.tobias.id],
      addTags: [tag.id],
      addFollowers: [l.tobias.id],
      shift: { days: 2, working: true },
    }).whole().result
    expect(done.count).toBe(30)
    expect(sheet(l, ids[1]!)).toMatchObject({
      priority: 'high',
      state: 'under-way',
      due: '2026-12-01',
      start: '2026-11-30',
      assignees: [{ name: 'Devika' }],
      tags: [{ name: 'x' }],
    })
    expect(undoChange(l.engine, l.imogen, done.change!).whole().result.count).toBe(30)
    expect(whole(l)).toEqual(before)
    expect(() => undoChange(l.engine, l.imogen, done.change!).whole().result).toThrow(
      /taken back already/,
    )
    // Taken back, the taking back can itself be taken back.
    undoChange(l.engine, l.imogen, l.latest()).whole()
    expect(sheet(l, ids[1]!).due).toBe('2026-12-01')
  })
  it('what slipped comes to today; the rest stays', () => {
    const l = lab({ now: '2026-11-23T12:00' })
    const ids = [
      task(l, 'a', { due: '2026-11-18', dueTime: '09:00', start: '2026-11-17' }),
      task(l, 'b', { due: '2026-11-25' }),
      task(l, 'c', { due: '2026-11-10', state: 'done' }),
    ]
    expect(bulkEdit(l.engine, l.imogen, { ids, slipped: true }).whole().result.count).toBe(1)
    expect(sheet(l, ids[0]!)).toMatchObject({
      due: '2026-11-23',
      dueTime: null,
      start: '2026-11-17',
    })
  })
  it('a parent that follows its subtasks moves with them, not by itself', () => {
    const l = lab()
    const top = task(l, 'Top', { datesFollow: true })
    const kids = [
      task(l, 'A', { parentId: top, due: '2026-11-27' }),
      task(l, 'B', { parentId: top, due: '2026-12-01' }),
    ]
    bulkEdit(l.engine, l.imogen, { ids: [top, ...kids], shift: { days: 2, working: true } }).whole()
    expect([top, ...kids].map((id) => sheet(l, id).due)).toEqual([
      '2026-12-03',
      '2026-12-01',
      '2026-12-03',
    ])
    // A dropped part holds no date.
    editTask(l.engine, l.imogen, kids[1]!, { patch: { state: 'dropped' }, seen: null })
    expect(sheet(l, top).due).toBe('2026-12-01')
  })
  it('one task in the way, and nothing is changed; it is named', () => {
    const l = lab()
    const ids = [
      task(l, 'Fine', { due: '2026-12-01' }),
      task(l, 'Begun', { due: '2026-12-10', start: '2026-12-05' }),
    ]
    const before = whole(l)
    expect(
      () => bulkEdit(l.engine, l.imogen, { ids, set: { due: '2026-12-02' } }).whole().result,
    ).toThrow(/“Begun”: Start .* Nothing was changed/)
    expect(whole(l)).toEqual(before)
    expect(
      () => bulkEdit(l.engine, l.corrie, { ids, set: { priority: 'low' } }).whole().result,
    ).toThrow(/Guests/)
  })
  it('undo takes back what stands, names what stays, and is refused where nothing stands', () => {
    const l = lab()
    const ids = [task(l, 'A'), task(l, 'B')]
    const { change } = bulkEdit(l.engine, l.imogen, { ids, set: { priority: 'high' } }).whole()
      .result
    editTask(l.engine, l.tobias, ids[1]!, { patch: { priority: 'low' }, seen: null })
    const undone = undoChange(l.engine, l.imogen, change!).whole().result
    expect(undone.left).toEqual(['“B” was changed again afterwards: priority.'])
    expect(ids.map((id) => sheet(l, id).priority)).toEqual(['normal', 'low'])
    const before = whole(l)
    expect(() => undoChange(l.engine, l.imogen, change!).whole().result).toThrow(
      /taken back already/,
    )
    expect(whole(l)).toEqual(before)
    const one = bulkEdit(l.engine, l.imogen, { ids: [ids[1]!], set: { priority: 'high' } }).whole()
      .result
    editTask(l.engine, l.tobias, ids[1]!, { patch: { priority: 'urgent' }, seen: null })
    expect(() => undoChange(l.engine, l.imogen, one.change!).whole().result).toThrow(
      '“B” was changed again afterwards: priority. Undoing would lose that.',
    )
  })
  it('what was made goes while nothing was done to it since', () => {
    const l = lab()
    const id = task(l, 'New', { checklist: ['a'], assignees: [l.tobias.id] })
    const change = l.latest()
    addComment(l.engine, l.tobias, id, '<p>Hm</p>')
    expect(() => undoChange(l.engine, l.imogen, change).whole().result).toThrow(
      /worked on afterwards/,
    )
    undoChange(l.engine, l.tobias, l.latest()).whole()
    const other = task(l, 'Newer', { checklist: ['a'] })
    undoChange(l.engine, l.imogen, l.latest()).whole()
    expect(() => sheet(l, other)).toThrow(/no task/)
  })
  it('a new task names a phase of a project that is there, or nothing is made', () => {
    const l = lab()
    const make = [{ title: 'One', projectId: 999, phaseName: 'Gather' }]
    expect(() => editEach(l.engine, l.imogen, { edits: [], make }).whole()).toThrow(/no project/i)
    expect(l.rows('select 1 from phases')).toEqual([])
  })
  it('pasted edits and new tasks, in a new project with its phases, are one change', () => {
    const l = lab()
    const id = task(l, 'Old')
    const before = whole(l)
    const done = editEach(l.engine, l.imogen, {
      edits: [{ id, patch: { title: 'Older' } }],
      make: [
        { title: 'One', phaseName: 'Gather' },
        { title: 'Two', phaseName: 'gather' },
        { title: 'Three', phaseName: 'Close' },
      ],
      project: { name: 'Brought in', clientId: l.client },
    }).whole().result
    expect(done.count).toBe(4)
    expect(
      l.rows(
        'select ph.name, count(*) as n from tasks t join phases ph on ph.id = t.phaseId ' +
          'group by ph.id order by ph.position',
      ),
    ).toEqual([
      { name: 'Gather', n: 2 },
      { name: 'Close', n: 1 },
    ])
    expect(
      () =>
        editEach(l.engine, l.imogen, {
          edits: [],
          make: [{ title: 'Bad', start: '2026-12-02', due: '2026-12-01' }],
          project: { name: 'Never', clientId: null },
        }).whole().result,
    ).toThrow(/New task 1, “Bad”/)
    expect(l.rows("select 1 from projects where name = 'Never'")).toEqual([])
    // Somebody worked in it meanwhile: then what was made stays, whole; what was changed goes back.
    const projectId = l.rows<{ id: number }>('select max(id) as id from projects')[0]!.id
    const theirs = task(l, 'Theirs', { projectId })
    const added = l.latest()
    const undone = undoChange(l.engine, l.imogen, done.change!).whole().result
    expect(undone.left).toEqual(['Something here was worked on afterwards.'])
    expect(sheet(l, id).title).toBe('Old')
    expect(sheet(l, theirs).project?.name).toBe('Brought in')
    expect(l.rows('select 1 from tasks where projectId = ?', projectId)).toHaveLength(4)
    // What was left for its sake goes with it.
    undoChange(l.engine, l.imogen, added).whole()
    undoChange(l.engine, l.imogen, done.change!).whole()
    expect(whole(l)).toEqual(before)
  })
  it('the journal tells each change in a line, and who may take it back', () => {
    const l = lab()
    const ids = [task(l, 'A'), task(l, 'B')]
    const { change } = bulkEdit(l.engine, l.tobias, { ids, set: { priority: 'high' } }).whole()
      .result
    const mine = (who: typeof l.tobias) =>
      listChanges(l.engine, who, {}).changes.find((c) => c.change === change)!
    expect(mine(l.tobias)).toMatchObject({
      who: 'Tobias',
      tasks: 2,
      lines: ['“A”: priority Normal → High', '“B”: priority Normal → High'],
      mayUndo: true,
      undone: false,
    })
    expect(mine(l.devika).mayUndo).toBe(false)
    expect(() => undoChange(l.engine, l.devika, change!).whole().result).toThrow(
      /Only who made a change, or a manager/,
    )
    undoChange(l.engine, l.imogen, change!).whole()
    expect(mine(l.tobias)).toMatchObject({ undone: true, mayUndo: false })
  })
  it('the journal is narrowed by who, by what, and to what came by itself; each task is named once', () => {
    const l = lab()
    const id = task(l, 'A')
    editTask(l.engine, l.tobias, id, { patch: { priority: 'high', estimate: 30 }, seen: null })
    addComment(l.engine, l.devika, id, '<p>Seen</p>')
    const found = (filter: Parameters<typeof listChanges>[2]) =>
      listChanges(l.engine, l.imogen, filter).changes.flatMap(({ lines }) => lines)
    expect(found({ personId: l.tobias.id })).toEqual([
      '“A”: priority Normal → High; estimate none → 30m',
    ])
    expect(found({ kind: 'talk' })).toEqual(['“A”: commented'])
    expect(found({ kind: 'talk', personId: l.tobias.id })).toEqual([])
    expect(found({ kind: 'clockwork' })).toEqual([])
    expect(found({ itself: true }).join()).not.toContain('priority')
  })
})
