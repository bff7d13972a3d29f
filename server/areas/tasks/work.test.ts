import { addComment, editComment } from './comments.ts'
import { addItem } from './checklist.ts'
import { describe, expect, it } from 'vitest'
import { ENGINE, lab, london, type Lab } from '../../test/lab.ts'
import { makeField, makeTag, removeTag, saveField, hideField } from '../fields/service.ts'
import { listChanges } from '../journal/changes.ts'
import { undoChange } from '../journal/undo.ts'
import { chooseSet, listSets, removeSet, saveSet } from '../states/service.ts'
import { makeProject } from '../projects/service.ts'
import { bulkEdit, editEach } from './bulk.ts'
import { duplicateTask, mergeTask } from './copy.ts'
import { orderTask } from './order.ts'
import { editTask, makeTask, taskSheet } from './service.ts'

const task = (l: Lab, title: string, more: object = {}) =>
  makeTask(l.engine, l.imogen, { title, ...more }).result.id
const sheet = (l: Lab, id: number) => taskSheet(l.engine, l.imogen, id)
const notices = (l: Lab, who: { id: number }) =>
  l
    .rows<{ body: string }>('select body from notices where personId = ? order by id', who.id)
    .map((n) => n.body)
/** Everything a change could touch, as it stands. */
const whole = (l: Lab) =>
  [
    'tasks',
    'taskAssignees',
    'taskTags',
    'taskFollowers',
    'fieldValues',
    'checklistItems',
    'comments',
    'attachments',
    'projects',
    'phases',
    'milestones',
  ].map((table) =>
    l.rows(`select * from ${table} order by id`).map(({ version: _, ...row }) => row),
  )

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
    expect(notices(l, l.tobias)).toEqual(['Imogen gave you “T1”; Imogen gave you “T2”'])
    expect(notices(l, l.devika)).toEqual([
      '“T1” is now due Tue 1 Dec; “T2” is now due Tue 1 Dec',
      'You were given 5 tasks',
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

describe('states', () => {
  const firm = (l: Lab) => listSets(l.engine, l.imogen)[0]!
  const body = (l: Lab) => ({
    name: firm(l).name,
    states: firm(l).states.map(({ id, name, kind, colour, only }) => ({
      id,
      name,
      kind,
      colour,
      only,
    })),
  })

  it('a removed state asks where its tasks go; undo brings it and them back', () => {
    const l = lab()
    const id = task(l, 'T', { state: 'waiting' })
    const gone = firm(l).states.find((s) => s.kind === 'waiting')!
    const less = { ...body(l), states: body(l).states.filter((s) => s.id !== gone.id) }
    expect(() => saveSet(l.engine, l.imogen, 1, { body: less, seen: null }).whole().result).toThrow(
      'One task stands in “Waiting”; say where it goes.',
    )
    saveSet(l.engine, l.imogen, 1, {
      body: { ...less, moveTo: { [gone.id]: 'Under way' } },
      seen: null,
    }).whole()
    expect(sheet(l, id)).toMatchObject({ state: 'under-way', stateName: 'Under way' })
    // Someone who drags a card into it meanwhile is told, and the card stays where it was.
    expect(
      () => editTask(l.engine, l.tobias, id, { patch: { stateId: gone.id }, seen: null }).result,
    ).toThrow(/removed in the meantime/)
    undoChange(l.engine, l.imogen, l.latest()).whole()
    expect(sheet(l, id)).toMatchObject({ state: 'waiting', stateId: gone.id })
  })
  it('a set needs a beginning and an end, and each name once', () => {
    const l = lab()
    expect(
      () =>
        saveSet(l.engine, l.imogen, 1, {
          body: { ...body(l), states: body(l).states.filter((s) => s.kind !== 'done') },
          seen: null,
        }).whole().result,
    ).toThrow(/where it is done/)
    expect(
      () =>
        saveSet(l.engine, l.imogen, 1, {
          body: {
            ...body(l),
            states: [
              ...body(l).states,
              { name: 'WAITING', kind: 'waiting', colour: null, only: 'anyone' },
            ],
          },
          seen: null,
        }).whole().result,
    ).toThrow(/stands here twice/)
    expect(
      () => saveSet(l.engine, l.tobias, 1, { body: body(l), seen: null }).whole().result,
    ).toThrow(/Only a manager/)
    expect(
      () => saveSet(l.engine, l.imogen, 1, { body: body(l), seen: 99 }).whole().result,
    ).toThrow(/while you were editing/)
  })
  it('some are only for managers or the project’s lead', () => {
    const l = lab()
    saveSet(l.engine, l.imogen, 1, {
      body: {
        ...body(l),
        states: body(l).states.map((s) =>
          s.kind === 'done'
            ? { ...s, only: 'lead' as const }
            : s.kind === 'dropped'
              ? { ...s, only: 'manager' as const }
              : s,
        ),
      },
      seen: null,
    }).whole()
    const project = makeProject(l.engine, l.tobias, { name: 'P', clientId: null }).result
    const id = task(l, 'T', { projectId: project.id })
    expect(
      () => editTask(l.engine, l.devika, id, { patch: { state: 'done' }, seen: null }).result,
    ).toThrow(/Only the project’s lead or a manager may set “Done”/)
    expect(
      () => editTask(l.engine, l.tobias, id, { patch: { state: 'dropped' }, seen: null }).result,
    ).toThrow(/Only a manager may set “Dropped”/)
    expect(
      editTask(l.engine, l.tobias, id, { patch: { state: 'done' }, seen: null }).result.state,
    ).toBe('done')
    expect(
      editTask(l.engine, l.imogen, id, { patch: { state: 'dropped' }, seen: null }).result.state,
    ).toBe('dropped')
  })
  it('a project takes a copy of a set; its tasks go to the namesakes, or the first of their kind', () => {
    const l = lab()
    const project = makeProject(l.engine, l.imogen, { name: 'P', clientId: null }).result
    const [a, b] = [
      task(l, 'A', { projectId: project.id, state: 'waiting' }),
      task(l, 'B', { projectId: project.id, state: 'in-review' }),
    ]
    chooseSet(l.engine, l.imogen, project.id, { setId: 1, copy: true }).whole()
    const own = listSets(l.engine, l.imogen)[1]!
    expect(own.projects.map((p) => p.name)).toEqual(['P'])
    expect(sheet(l, a).states.map((s) => s.setId)).toEqual(own.states.map(() => own.id))
    const review = own.states.find((s) => s.kind === 'in-review')!
    saveSet(l.engine, l.imogen, own.id, {
      body: {
        name: 'P',
        states: own.states
          .filter((s) => s.id !== review.id)
          .map(({ id, name, kind, colour, only }) => ({
            id,
            name: name === 'Waiting' ? 'With the clinic' : name,
            kind,
            colour,
            only,
          })),
        moveTo: { [review.id]: 'Under way' },
      },
      seen: null,
    }).whole()
    expect([sheet(l, a).stateName, sheet(l, b).stateName]).toEqual(['With the clinic', 'Under way'])
    expect(
      editTask(l.engine, l.imogen, a, { patch: { projectId: null }, seen: null }).result.stateName,
    ).toBe('Waiting')
    expect(
      () => editTask(l.engine, l.imogen, b, { patch: { state: 'in-review' }, seen: null }).result,
    ).toThrow(/none of the kind “In review”/)
    // A set goes when nothing uses it any more.
    expect(() => removeSet(l.engine, l.imogen, own.id).result).toThrow(/still used/)
    expect(() => removeSet(l.engine, l.imogen, 1).result).toThrow(/firm’s own set stays/)
    chooseSet(l.engine, l.imogen, project.id, { setId: 1, copy: false }).whole()
    expect(removeSet(l.engine, l.imogen, own.id).result.map((s) => s.id)).toEqual([1])
    undoChange(l.engine, l.imogen, l.latest()).whole()
    expect(listSets(l.engine, l.imogen)).toHaveLength(2)
  })
})

describe('fields and tags', () => {
  it('hold what their type allows, and say what would be right', () => {
    const l = lab()
    const make = (name: string, kind: string, options = {}) =>
      makeField(l.engine, l.imogen, {
        name,
        kind: kind as 'text',
        options,
        projectId: null,
        templateId: null,
        hidden: false,
      }).result.at(-1)!.id
    const [n, m, d, c, p, y, u] = [
      make('N', 'number'),
      make('M', 'money', { currency: 'GBP' }),
      make('D', 'date'),
      make('C', 'choice', { choices: [{ key: 'a', name: 'A', colour: 'teal' }] }),
      make('P', 'person'),
      make('Y', 'yes-no'),
      make('U', 'link'),
    ]
    const id = task(l, 'T')
    const set = (fields: object) =>
      editTask(l.engine, l.imogen, id, { patch: { fields: fields as never }, seen: null }).result
        .fields
    expect(
      set({
        [n]: 1.5,
        [m]: 1250,
        [d]: '2026-12-03',
        [c]: 'a',
        [p]: l.tobias.id,
        [y]: true,
        [u]: 'https://example.org',
      }),
    ).toEqual({
      [n]: 1.5,
      [m]: 1250,
      [d]: '2026-12-03',
      [c]: 'a',
      [p]: l.tobias.id,
      [y]: 1,
      [u]: 'https://example.org',
    })
    for (const [field, value, want] of [
      [n, 'x', 'a number'],
      [m, 1.5, 'minor units'],
      [d, '2026-02-30', 'not “2026-02-30”'],
      [c, 'z', 'one of its choices'],
      [p, 999, 'a person'],
      [u, 'javascript:alert(1)', 'http://'],
    ] as const)
      expect(() => set({ [field]: value }), want).toThrow(new RegExp(want))
    expect(set({ [n]: null })).not.toHaveProperty(String(n))
    expect(
      () =>
        saveField(l.engine, l.imogen, n, {
          name: 'N',
          kind: 'text',
          options: {},
          projectId: null,
          templateId: null,
          hidden: false,
        }).result,
    ).toThrow(/type of a field stays/)
    expect(
      () =>
        saveField(l.engine, l.imogen, c, {
          name: 'C',
          kind: 'choice',
          options: { choices: [{ key: 'b', name: 'B', colour: 'teal' }] },
          projectId: null,
          templateId: null,
          hidden: false,
        }).result,
    ).toThrow(/One task has “A”/)
  })
  it('hidden in a project, a field keeps its values', () => {
    const l = lab()
    const field = makeField(l.engine, l.imogen, {
      name: 'Ref',
      kind: 'text',
      options: {},
      projectId: null,
      templateId: null,
      hidden: false,
    }).result[0]!.id
    const project = makeProject(l.engine, l.imogen, { name: 'P', clientId: null }).result
    const id = task(l, 'T', { projectId: project.id, fields: { [field]: 'A-17' } })
    hideField(l.engine, l.imogen, field, { projectId: project.id, hidden: true })
    expect(sheet(l, id).customFields).toEqual([])
    expect(
      () =>
        editTask(l.engine, l.imogen, id, { patch: { fields: { [field]: 'B' } }, seen: null })
          .result,
    ).toThrow(/not shown here/)
    hideField(l.engine, l.imogen, field, { projectId: project.id, hidden: false })
    expect(sheet(l, id).fields).toEqual({ [field]: 'A-17' })
  })
  it('a tag taken away comes off every task, and back with one undo', () => {
    const l = lab()
    const tag = makeTag(l.engine, l.tobias, { name: 'records', colour: 'teal' }).result
    expect(() => makeTag(l.engine, l.tobias, { name: 'Records', colour: 'rose' }).result).toThrow(
      /already/,
    )
    const id = task(l, 'T', { tags: [tag.id] })
    removeTag(l.engine, l.imogen, tag.id)
    expect(sheet(l, id).tags).toEqual([])
    undoChange(l.engine, l.imogen, l.latest()).whole()
    expect(sheet(l, id).tags.map((t) => t.name)).toEqual(['records'])
  })
})

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
    ).toThrow(/“Begun”: The start .* Nothing was changed/)
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
      lines: ['A: priority Normal → High', 'B: priority Normal → High'],
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
})

describe('copying, merging, order', () => {
  it('a copy takes what is chosen, and never comments, state or ticks', () => {
    const l = lab()
    const id = task(l, 'T', {
      description: '<p>Why</p>',
      assignees: [l.tobias.id],
      due: '2026-12-01',
      checklist: ['a'],
      state: 'waiting',
      estimate: 15,
    })
    task(l, 'Sub', { parentId: id, assignees: [l.devika.id] })
    addComment(l.engine, l.tobias, id, '<p>Hm</p>')
    const some = duplicateTask(l.engine, l.imogen, id, {
      title: 'T2',
      take: ['checklist', 'subtasks'],
    }).whole().result
    expect(some).toMatchObject({
      title: 'T2',
      description: '',
      due: null,
      state: 'not-started',
      assignees: [],
      estimate: 15,
      discussion: [],
      children: [{ title: 'Sub', assignees: [] }],
    })
    expect(some.checklist.map((i) => [i.title, i.done])).toEqual([['a', false]])
    expect(
      duplicateTask(l.engine, l.imogen, id, {
        title: 'T3',
        take: ['description', 'assignees', 'dates'],
      }).whole().result,
    ).toMatchObject({
      description: '<p>Why</p>',
      due: '2026-12-01',
      assignees: [{ name: 'Tobias' }],
      children: [],
    })
  })
  it('merged, everything of one stands with the other, and one undo parts them', () => {
    const l = lab()
    const [a, b] = [
      task(l, 'A', { description: '<p>of A</p>', checklist: ['a'], followers: [l.devika.id] }),
      task(l, 'B', { description: '<p>of B</p>', checklist: ['b'] }),
    ]
    task(l, 'Sub', { parentId: a })
    addComment(l.engine, l.tobias, a, '<p>said</p>')
    const before = whole(l)
    const { change } = mergeTask(l.engine, l.imogen, a, b).whole().result
    expect(sheet(l, b)).toMatchObject({
      description: '<p>of B</p><p>of A</p>',
      discussion: [{ body: '<p>said</p>' }],
      children: [{ title: 'Sub' }],
      followers: [{ name: 'Devika' }],
    })
    expect(sheet(l, b).checklist.map((i) => i.title)).toEqual(['b', 'a'])
    expect(sheet(l, a)).toMatchObject({ mergedInto: b })
    undoChange(l.engine, l.imogen, change!).whole()
    expect(whole(l)).toEqual(before)
    expect(() => mergeTask(l.engine, l.imogen, a, a).whole().result).toThrow(/another task/)
  })
  it('rows keep the order they are put in, without end', () => {
    const l = lab()
    const project = makeProject(l.engine, l.imogen, { name: 'P', clientId: null }).result
    const ids = ['a', 'b', 'c', 'd'].map((t) => task(l, t, { projectId: project.id }))
    const order = () =>
      l
        .tasksIn(project.id)
        .map((t) => t.title)
        .join('')
    orderTask(l.engine, l.imogen, ids[3]!, ids[0]!)
    expect(order()).toBe('adbc')
    orderTask(l.engine, l.imogen, ids[2]!, null)
    expect(order()).toBe('cadb')
    for (let i = 0; i < 40; i++) orderTask(l.engine, l.imogen, ids[i % 2 ? 1 : 3]!, ids[0]!)
    expect(order()).toBe('cabd')
    expect(() => orderTask(l.engine, l.imogen, task(l, 'loose'), null).result).toThrow(
      /tasks of a project/,
    )
  })
  it('an archived late task climbs no ladder', () => {
    const l = lab()
    const id = task(l, 'T', { due: '2026-11-24', assignees: [l.tobias.id] })
    const other = task(l, 'Not archived', { due: '2026-11-24', assignees: [l.tobias.id] })
    l.engine.journal.change(ENGINE, (write) =>
      write.insert('rules', {
        name: 'Late',
        on: true,
        ownerId: l.imogen.id,
        definition: {
          trigger: { kind: 'late' },
          conditions: { match: 'all', of: [] },
          rungs: [
            {
              key: 'a',
              delay: { days: 1, unit: 'working', time: '09:00' },
              actions: [{ kind: 'set-priority', to: 'urgent' }],
            },
          ],
        },
        updatedAt: london('2026-11-23T08:00'),
      }),
    )
    editTask(l.engine, l.imogen, id, { patch: { archived: true }, seen: null })
    l.until('2026-11-27T12:00')
    expect([sheet(l, id).priority, sheet(l, other).priority]).toEqual(['normal', 'urgent'])
    addItem(l.engine, l.imogen, id, 'still here')
    expect(sheet(l, id).checklist).toHaveLength(1)
  })
})
