import { addComment, editComment } from './comments.ts'
import { describe, expect, it } from 'vitest'
import { lab } from '../../test/lab.ts'
import { undoChange } from '../journal/undo.ts'
import { bulkEdit } from './bulk.ts'
import { mergeTask } from './copy.ts'
import { editTask } from './service.ts'
import { task, sheet, notices } from '../../test/work.ts'

describe('people on a task', () => {
  it('where all must finish, each says so, and the last one closes it', () => {
    const l = lab()
    const id = task(l, 'Count', {
      assignees: [l.tobias.id, l.devika.id],
      doneBy: 'all',
      estimates: { [l.tobias.id]: 30, [l.devika.id]: 60 },
    })
    expect(sheet(l, id).assignees.map((a) => [a.name, a.estimate])).toEqual([
      ['Tobias', 30],
      ['Devika', 60],
    ])
    expect(
      editTask(l.engine, l.tobias, id, { patch: { state: 'done' }, seen: null }).result,
    ).toMatchObject({
      state: 'under-way',
      closedAt: null,
    })
    expect(sheet(l, id).assignees.map((a) => a.doneAt !== null)).toEqual([true, false])
    expect(
      editTask(l.engine, l.devika, id, { patch: { state: 'done' }, seen: null }).result.state,
    ).toBe('done')
    expect(
      editTask(l.engine, l.devika, id, {
        patch: { state: 'under-way' },
        seen: null,
      }).result.assignees.every((a) => a.doneAt === null),
    ).toBe(true)
  })
  it('where any may finish, the first closes it; a manager who is not on it closes for all', () => {
    const l = lab()
    const any = task(l, 'Any', { assignees: [l.tobias.id, l.devika.id] })
    expect(
      editTask(l.engine, l.tobias, any, { patch: { state: 'done' }, seen: null }).result.state,
    ).toBe('done')
    const all = task(l, 'All', { assignees: [l.tobias.id, l.devika.id], doneBy: 'all' })
    expect(
      editTask(l.engine, l.imogen, all, {
        patch: { state: 'done' },
        seen: null,
      }).result.assignees.every((a) => a.doneAt !== null),
    ).toBe(true)
  })
  it('parts of the estimate add up to the task’s', () => {
    const l = lab()
    const id = task(l, 'Shared', { assignees: [l.tobias.id, l.devika.id] })
    expect(
      editTask(l.engine, l.imogen, id, {
        patch: { estimates: { [l.tobias.id]: 20, [l.devika.id]: 25 } },
        seen: null,
      }).result.estimate,
    ).toBe(45)
  })
  it('followers hear of states and dates; never of their own doing; of many at once in one notice', () => {
    const l = lab()
    const ids = [1, 2, 3, 4].map((n) =>
      task(l, `T${n}`, { followers: [l.devika.id], due: '2026-12-01' }),
    )
    editTask(l.engine, l.tobias, ids[0]!, { patch: { state: 'waiting' }, seen: null })
    editTask(l.engine, l.tobias, ids[0]!, { patch: { due: '2026-12-02' }, seen: null })
    editTask(l.engine, l.devika, ids[0]!, { patch: { due: '2026-12-03' }, seen: null })
    bulkEdit(l.engine, l.imogen, { ids, shift: { days: 1, working: true } }).whole()
    l.runner.tick()
    expect(notices(l, l.devika)).toEqual([
      '“T1” is now “Waiting”',
      '“T1” is now due Wed 2 Dec',
      '4 tasks you follow changed at once',
    ])
  })
  it('what one change has to tell somebody is one notice of each kind, however many tasks it is', () => {
    const l = lab()
    const ids = [1, 2, 3, 4, 5].map((n) => task(l, `T${n}`, { followers: [l.devika.id] }))
    l.runner.tick()
    bulkEdit(l.engine, l.imogen, {
      ...{ ids: ids.slice(0, 2), addAssignees: [l.tobias.id] },
      set: { due: '2026-12-01' },
    }).whole()
    bulkEdit(l.engine, l.imogen, { ids, addAssignees: [l.devika.id] }).whole()
    l.runner.tick()
    expect(notices(l, l.tobias)).toEqual(['Imogen put you on “T1”; Imogen put you on “T2”'])
    expect(notices(l, l.devika)).toEqual([
      '“T1” is now due Tue 1 Dec; “T2” is now due Tue 1 Dec',
      'You were put on 5 tasks',
    ])
  })
  it('who works on a task, made or follows it hears what is said, guests too; who is named, once', () => {
    const l = lab()
    const id = task(l, 'T', { assignees: [l.tobias.id, l.corrie.id], followers: [l.devika.id] })
    l.runner.tick()
    l.runner.tick()
    const before = [l.tobias, l.corrie, l.imogen, l.devika].map((p) => notices(l, p).length)
    addComment(
      l.engine,
      l.tobias,
      id,
      `<p>Hello <strong>all</strong> &amp; <span class="mention" data-person="${l.devika.id}">@Devika</span></p>`,
    )
    l.runner.tick()
    l.runner.tick()
    const said = ['Tobias on “T”: Hello all & @Devika']
    expect(
      [l.tobias, l.corrie, l.imogen, l.devika].map((p, n) => notices(l, p).slice(before[n])),
    ).toEqual([[], said, said, ['Tobias mentioned you on “T”']])
  })
  it('a mention tells once and makes a follower; guests hear only of what is theirs', () => {
    const l = lab()
    const id = task(l, 'T', {
      description: `<p>Ask <span class="mention" data-person="${l.devika.id}">@Devika</span></p>`,
    })
    editTask(l.engine, l.imogen, id, {
      patch: {
        description:
          `<p>Ask <span class="mention" data-person="${l.devika.id}">@Devika</span> and <span ` +
          `data-person="${l.corrie.id}">@Corrie</span></p>`,
      },
      seen: null,
    })
    expect(notices(l, l.devika)).toEqual(['Imogen mentioned you on “T”'])
    expect(notices(l, l.corrie)).toEqual([])
    expect(sheet(l, id).followers.map((f) => f.name)).toEqual(['Devika'])
  })
})

describe('what people write', () => {
  it('is made safe on the server: no scripts, events, styles or odd addresses', () => {
    const l = lab()
    const id = task(l, 'T', {
      description:
        '<p onclick="x()" style="position:fixed">Hi<script>alert(1)</script><img src=x ' +
        'onerror=alert(1)> <a href="javascript:alert(1)">a</a><a ' +
        'href="https://example.org">b</a><iframe src="//x"></iframe></p>',
    })
    const { description } = sheet(l, id)
    expect(description).not.toMatch(/script|onclick|onerror|style|iframe|img|javascript/)
    expect(description).toContain('href="https://example.org"')
    expect(() => addComment(l.engine, l.tobias, id, '<p> <br></p>').result).toThrow(
      /nothing in this comment/,
    )
  })
  it('a comment is reworded by who wrote it, emptied it goes', () => {
    const l = lab()
    const id = task(l, 'T')
    const comment = addComment(l.engine, l.tobias, id, '<p>Won</p>').result.discussion[0]!
    expect(
      () => editComment(l.engine, l.devika, { taskId: id, id: comment.id }, '<p>Lost</p>').result,
    ).toThrow(/Only who wrote/)
    expect(
      editComment(l.engine, l.tobias, { taskId: id, id: comment.id }, '<p>One</p>').result
        .discussion[0]!.body,
    ).toBe('<p>One</p>')
    expect(
      editComment(l.engine, l.tobias, { taskId: id, id: comment.id }, '').result.discussion,
    ).toEqual([])
  })
})

describe('subtasks', () => {
  it('lead their parent’s dates and state where it follows, as deep as they go', () => {
    const l = lab()
    const top = task(l, 'Top', { datesFollow: true, stateFollows: true })
    const mid = task(l, 'Mid', { parentId: top, datesFollow: true, stateFollows: true })
    const a = task(l, 'A', { parentId: mid, start: '2026-11-24', due: '2026-11-26' })
    const b = task(l, 'B', { parentId: mid, due: '2026-12-04' })
    expect(sheet(l, top)).toMatchObject({
      start: '2026-11-24',
      due: '2026-12-04',
      state: 'not-started',
      subtasks: { done: 0, of: 1 },
    })
    editTask(l.engine, l.imogen, a, { patch: { state: 'done' }, seen: null })
    expect(sheet(l, top).state).toBe('under-way')
    editTask(l.engine, l.imogen, b, { patch: { due: '2026-12-08', state: 'dropped' }, seen: null })
    expect(sheet(l, top)).toMatchObject({ due: '2026-11-26', state: 'done' })
    expect(
      () => editTask(l.engine, l.imogen, top, { patch: { due: '2027-01-01' }, seen: null }).result,
    ).toThrow(/follow its subtasks/)
    // One undo takes the parents along.
    undoChange(l.engine, l.imogen, l.latest()).whole()
    expect(sheet(l, top)).toMatchObject({ due: '2026-12-04', state: 'under-way' })
  })
  it('never stand under themselves', () => {
    const l = lab()
    const top = task(l, 'Top')
    const low = task(l, 'Low', { parentId: top })
    expect(
      () => editTask(l.engine, l.imogen, top, { patch: { parentId: low }, seen: null }).result,
    ).toThrow(/under itself/)
    expect(() => mergeTask(l.engine, l.imogen, top, low).whole().result).toThrow(/its own subtasks/)
  })
})
