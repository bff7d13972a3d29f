import { describe, expect, it } from 'vitest'
import { lab, type Lab } from '../../test/lab.ts'
import { undoChange } from '../journal/undo.ts'
import { addItem, editTask, makeTask, taskSheet } from '../tasks/service.ts'
import { selectTasks } from '../tasks/queries.ts'
import { listProjects, projectView } from './queries.ts'
import {
  addPost,
  cloneProject,
  editMilestone,
  editPost,
  editProject,
  joinProjects,
  makeMilestone,
  makeProject,
  savePhases,
  splitProject,
} from './service.ts'

function room() {
  const l = lab()
  const p = makeProject(l.engine, l.tobias, {
    name: 'Books',
    clientId: l.client,
    anchor: '2026-12-18',
    phases: ['Gather', 'Close'],
  })
  const task = (title: string, more: object = {}) =>
    makeTask(l.engine, l.imogen, { title, projectId: p.id, phaseId: p.phases[0]!.id, ...more }).id
  return { l, id: p.id, phases: p.phases, task }
}
const health = (l: Lab, id: number) => projectView(l.engine, l.imogen, id).health
const tasksOf = (l: Lab, id: number) =>
  selectTasks(
    l.engine,
    l.imogen,
    't.projectId = ? and t.archivedAt is null',
    [id],
    't.position, t.id',
  )

describe('how a project stands', () => {
  it('by its dates: steady, then to be watched, then in trouble, each with its reason', () => {
    const { l, id, task } = room()
    expect(health(l, id)).toEqual({ value: 'steady', reason: 'Everything is done.', byHand: false })
    task('A', { due: '2026-11-24' })
    expect(health(l, id).reason).toBe('Nothing is late.')
    l.clock.set(l.clock.now() + 2 * 86_400_000)
    expect(health(l, id)).toMatchObject({ value: 'watch', reason: '1 task late.' })
    l.clock.set(l.clock.now() + 6 * 86_400_000)
    expect(health(l, id)).toMatchObject({
      value: 'trouble',
      reason: '1 task late, the oldest by 5 working days.',
    })
  })
  it('a missed milestone or a passed date is trouble; by hand it needs a reason', () => {
    const { l, id, task } = room()
    task('A')
    const m = makeMilestone(l.engine, l.tobias, id, {
      name: 'Signed',
      ownerId: l.devika.id,
      date: '2026-11-20',
      done: false,
    }).milestones[0]!
    expect(m.late).toBe(true)
    expect(health(l, id).reason).toBe('The milestone “Signed” was missed.')
    // Its owner may say it is reached, and nothing else about it.
    expect(() => editMilestone(l.engine, l.devika, id, m.id, { date: '2026-12-20' })).toThrow(
      /lead or a manager/,
    )
    expect(editMilestone(l.engine, l.devika, id, m.id, { done: true }).health.value).toBe('steady')
    expect(
      editMilestone(l.engine, l.tobias, id, m.id, { name: 'Signed, at last' }).milestones[0],
    ).toMatchObject({
      name: 'Signed, at last',
      date: '2026-11-20',
      owner: { id: l.devika.id },
      doneAt: l.clock.now(),
    })
    expect(() => editProject(l.engine, l.devika, id, { health: 'trouble' }, null)).toThrow(
      /Say in a few words why/,
    )
    expect(
      editProject(
        l.engine,
        l.devika,
        id,
        { health: 'trouble', healthReason: 'The bank is closed' },
        null,
      ).health,
    ).toEqual({
      value: 'trouble',
      reason: 'The bank is closed',
      byHand: true,
    })
    expect(
      addPost(l.engine, l.devika, id, {
        body: '<p>Open again</p><script>x</script>',
        health: 'steady',
      }),
    ).toMatchObject({
      health: { value: 'steady', byHand: true },
      posts: [{ body: '<p>Open again</p>', health: 'steady' }],
    })
    expect(editProject(l.engine, l.devika, id, { health: null }, null).health.byHand).toBe(false)
    addPost(l.engine, l.devika, id, {
      body: `<p><span data-person="${l.tobias.id}">@Tobias</span> <span data-person="${l.corrie.id}">@Corrie</span></p>`,
      health: null,
    })
    expect(l.rows("select personId, body from notices where kind = 'mention'")).toEqual([
      { personId: l.tobias.id, body: 'Devika mentioned you on the project “Books”' },
    ])
  })
  it('who wrote a post may reword it, or empty it away; nobody is told twice', () => {
    const { l, id } = room()
    const mention = `<span data-person="${l.tobias.id}">@Tobias</span>`
    const [post] = addPost(l.engine, l.devika, id, {
      body: `<p>${mention} Hello</p>`,
      health: null,
    }).posts
    expect(projectView(l.engine, l.devika, id).posts[0]!.mine).toBe(true)
    expect(projectView(l.engine, l.tobias, id).posts[0]!.mine).toBe(false)
    expect(() => editPost(l.engine, l.imogen, id, post!.id, '<p>Mine now</p>')).toThrow(
      /Only who wrote/,
    )
    expect(() => editPost(l.engine, l.corrie, id, post!.id, '<p>Mine now</p>')).toThrow()
    expect(
      editPost(l.engine, l.devika, id, post!.id, `<p>${mention} Good day</p><script>x</script>`)
        .posts[0]!.body,
    ).toBe(`<p>${mention} Good day</p>`)
    expect(l.rows("select 1 from notices where kind = 'mention'")).toHaveLength(1)
    expect(editPost(l.engine, l.devika, id, post!.id, '<p> </p>').posts).toEqual([])
    expect(() => editPost(l.engine, l.devika, id, post!.id, '<p>Again</p>')).toThrow(/gone/)
  })
  it('progress goes by effort, phase by phase; dropped work and parents do not count', () => {
    const { l, id, phases, task } = room()
    const parent = task('Parent', { estimate: 500 })
    task('Child', { parentId: parent, estimate: 60, state: 'done' })
    task('Other', { estimate: 60 })
    task('Never', { estimate: 600, state: 'dropped' })
    task('Unestimated', { phaseId: phases[1]!.id })
    expect(projectView(l.engine, l.imogen, id)).toMatchObject({
      progress: 60 / 150,
      phases: [
        { effort: 120, effortDone: 60 },
        { effort: 30, effortDone: 0 },
      ],
    })
  })
})

describe('the shape of a project', () => {
  it('is its lead’s and managers’; members change content', () => {
    const { l, id, phases } = room()
    for (const attempt of [
      () => editProject(l.engine, l.devika, id, { name: 'Mine' }, null),
      () => savePhases(l.engine, l.devika, id, { phases: [] }),
      () =>
        makeMilestone(l.engine, l.devika, id, {
          name: 'M',
          ownerId: null,
          date: null,
          done: false,
        }),
      () => splitProject(l.engine, l.devika, id, { name: 'S', ids: [] }),
    ])
      expect(attempt).toThrow(/lead or a manager/)
    expect(
      editProject(l.engine, l.devika, id, { description: '<p>Hm</p>' }, null).description,
    ).toBe('<p>Hm</p>')
    expect(editProject(l.engine, l.tobias, id, { name: 'Books, again' }, null).name).toBe(
      'Books, again',
    )
    expect(() => editProject(l.engine, l.tobias, id, { name: 'Old' }, 1)).toThrow(
      /while you were editing/,
    )
    expect(() => projectView(l.engine, l.corrie, id)).toThrow(/not shared/)
    expect(phases).toHaveLength(2)
  })
  it('tasks of a removed phase stay, in none; one undo brings the phase back with them', () => {
    const { l, id, phases, task } = room()
    const one = task('One')
    savePhases(l.engine, l.tobias, id, {
      phases: [{ name: 'First' }, { id: phases[1]!.id, name: 'Last' }],
    })
    expect(projectView(l.engine, l.tobias, id).phases.map((p) => p.name)).toEqual(['First', 'Last'])
    expect(taskSheet(l.engine, l.tobias, one).phaseId).toBeNull()
    undoChange(l.engine, l.tobias, l.engine.journal.latest())
    expect(taskSheet(l.engine, l.tobias, one).phaseId).toBe(phases[0]!.id)
  })
  it('archived and brought back, with everything in it', () => {
    const { l, id, task } = room()
    task('One')
    expect(
      editProject(l.engine, l.tobias, id, { archived: true, closed: true }, null),
    ).toMatchObject({ archivedAt: l.clock.now(), closedAt: l.clock.now() })
    expect(
      editProject(l.engine, l.tobias, id, { archived: false, closed: false }, null),
    ).toMatchObject({ archivedAt: null, closedAt: null, open: 1 })
  })
})

describe('copying, splitting, merging', () => {
  it('a copy keeps its distances in working days and takes what is chosen', () => {
    const { l, id, task } = room()
    const top = task('Top', { due: '2026-12-18', assignees: [l.devika.id] })
    task('Under', { parentId: top, due: '2026-12-17' })
    addItem(l.engine, l.imogen, top, 'step')
    makeMilestone(l.engine, l.tobias, id, {
      name: 'Handed over',
      ownerId: null,
      date: '2026-12-18',
      done: true,
    })
    // Three working days on from Fri 18 Dec is Wed 23 Dec.
    const copy = cloneProject(l.engine, l.imogen, id, {
      name: 'Books 2',
      take: ['dates', 'checklist', 'subtasks', 'milestones'],
      anchor: '2026-12-23',
    })
    expect(copy).toMatchObject({
      anchor: '2026-12-23',
      client: { id: l.client },
      milestones: [{ name: 'Handed over', date: '2026-12-23', doneAt: null }],
    })
    expect(
      tasksOf(l, copy.id).map((t) => [
        t.title,
        t.due,
        t.parentId === null,
        t.assignees.length,
        t.checklist.length,
      ]),
    ).toEqual([
      ['Top', '2026-12-23', true, 0, 1],
      ['Under', '2026-12-22', false, 0, 0],
    ])
    expect(copy.phases.map((p) => [p.name, p.open])).toEqual([
      ['Gather', 2],
      ['Close', 0],
    ])
  })
  it('split off, tasks take their phases along; merged back, phases of a name are one', () => {
    const { l, id, phases, task } = room()
    const [a, b, c] = [task('A'), task('B', { phaseId: phases[1]!.id }), task('C')]
    const part = splitProject(l.engine, l.tobias, id, { name: 'Part', ids: [b, c] })
    expect(part.phases.map((p) => [p.name, p.open])).toEqual([
      ['Close', 1],
      ['Gather', 1],
    ])
    expect(tasksOf(l, id).map((t) => t.id)).toEqual([a])
    expect(() => splitProject(l.engine, l.tobias, id, { name: 'X', ids: [b] })).toThrow(
      /not in this project any more/,
    )
    const whole = joinProjects(l.engine, l.tobias, part.id, id)
    expect(whole.phases.map((p) => [p.name, p.open])).toEqual([
      ['Gather', 2],
      ['Close', 1],
    ])
    expect(
      listProjects(l.engine, l.imogen).find((p) => p.id === part.id)!.archivedAt,
    ).not.toBeNull()
    undoChange(l.engine, l.tobias, l.engine.journal.latest())
    expect(tasksOf(l, part.id)).toHaveLength(2)
    expect(() => joinProjects(l.engine, l.tobias, id, id)).toThrow(/another project/)
  })
  it('moved to another project, a task keeps its client and loses a phase that is not there', () => {
    const { l, task } = room()
    const other = makeProject(l.engine, l.imogen, { name: 'Other', clientId: null })
    const one = task('One')
    const kid = task('Kid', { parentId: one })
    expect(editTask(l.engine, l.imogen, one, { projectId: other.id }, null)).toMatchObject({
      project: { name: 'Other' },
      phaseId: null,
    })
    expect(taskSheet(l.engine, l.imogen, kid).project?.name).toBe('Other')
  })
})
