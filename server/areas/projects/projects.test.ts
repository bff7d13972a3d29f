import { addItem } from '../tasks/checklist.ts'
import { closedProjects, listProjects, projectSheet } from './sheet.ts'
import { addPost, editPost } from './posts.ts'
import { cloneProject, joinProjects, splitProject } from './copy.ts'
import { editMilestone, makeMilestone } from './milestones.ts'
import { describe, expect, it } from 'vitest'
import { ENGINE, lab, type Lab } from '../../test/lab.ts'
import type { ViewDefinition } from '#contract/query.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { undoChange } from '../journal/undo.ts'
import { editTask, makeTask, taskSheet } from '../tasks/service.ts'
import { editProject, makeProject, savePhases } from './service.ts'

function room() {
  const l = lab()
  const p = makeProject(l.engine, l.tobias, {
    name: 'Books',
    clientId: l.client,
    anchor: '2026-12-18',
    phases: ['Gather', 'Close'],
  }).result
  const task = (title: string, more: object = {}) =>
    makeTask(l.engine, l.imogen, { title, projectId: p.id, phaseId: p.phases[0]!.id, ...more })
      .result.id
  return { l, id: p.id, phases: p.phases, task }
}
const health = (l: Lab, id: number) => projectSheet(l.engine, l.imogen, id).health
const tasksOf = (l: Lab, id: number) => l.tasksIn(id)

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
    }).result.milestones[0]!
    expect(m.late).toBe(true)
    expect(health(l, id).reason).toBe('The milestone “Signed” was missed.')
    // Its owner may say it is reached, and nothing else about it.
    expect(
      () =>
        editMilestone(l.engine, l.devika, { project: id, id: m.id }, { date: '2026-12-20' }).result,
    ).toThrow(/lead or a manager/)
    expect(
      editMilestone(l.engine, l.devika, { project: id, id: m.id }, { done: true }).result.health
        .value,
    ).toBe('steady')
    expect(
      editMilestone(l.engine, l.tobias, { project: id, id: m.id }, { name: 'Signed, at last' })
        .result.milestones[0],
    ).toMatchObject({
      name: 'Signed, at last',
      date: '2026-11-20',
      owner: { id: l.devika.id },
      doneAt: l.clock.now(),
    })
    expect(
      () =>
        editProject(l.engine, l.devika, id, { patch: { health: 'trouble' }, seen: null }).result,
    ).toThrow(/Say in a few words why/)
    expect(
      editProject(l.engine, l.devika, id, {
        patch: { health: 'trouble', healthReason: 'The bank is closed' },
        seen: null,
      }).result.health,
    ).toEqual({
      value: 'trouble',
      reason: 'The bank is closed',
      byHand: true,
    })
    expect(
      addPost(l.engine, l.devika, id, {
        body: '<p>Open again</p><script>x</script>',
        health: 'steady',
      }).result,
    ).toMatchObject({
      health: { value: 'steady', byHand: true },
      posts: [{ body: '<p>Open again</p>', health: 'steady' }],
    })
    expect(
      editProject(l.engine, l.devika, id, { patch: { health: null }, seen: null }).result.health
        .byHand,
    ).toBe(false)
    addPost(l.engine, l.devika, id, {
      body:
        `<p><span data-person="${l.tobias.id}">@Tobias</span> <span ` +
        `data-person="${l.corrie.id}">@Corrie</span></p>`,
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
    }).result.posts
    expect(projectSheet(l.engine, l.devika, id).posts[0]!.mine).toBe(true)
    expect(projectSheet(l.engine, l.tobias, id).posts[0]!.mine).toBe(false)
    expect(
      () => editPost(l.engine, l.imogen, { project: id, id: post!.id }, '<p>Mine now</p>').result,
    ).toThrow(/Only who wrote/)
    expect(
      () => editPost(l.engine, l.corrie, { project: id, id: post!.id }, '<p>Mine now</p>').result,
    ).toThrow()
    expect(
      editPost(
        l.engine,
        l.devika,
        { project: id, id: post!.id },
        `<p>${mention} Good day</p><script>x</script>`,
      ).result.posts[0]!.body,
    ).toBe(`<p>${mention} Good day</p>`)
    expect(l.rows("select 1 from notices where kind = 'mention'")).toHaveLength(1)
    expect(
      editPost(l.engine, l.devika, { project: id, id: post!.id }, '<p> </p>').result.posts,
    ).toEqual([])
    expect(
      () => editPost(l.engine, l.devika, { project: id, id: post!.id }, '<p>Again</p>').result,
    ).toThrow(/gone/)
  })
  it('progress goes by effort, phase by phase; dropped work and parents do not count', () => {
    const { l, id, phases, task } = room()
    const parent = task('Parent', { estimate: 500 })
    task('Child', { parentId: parent, estimate: 60, state: 'done' })
    task('Other', { estimate: 60 })
    task('Never', { estimate: 600, state: 'dropped' })
    task('Unestimated', { phaseId: phases[1]!.id })
    expect(projectSheet(l.engine, l.imogen, id)).toMatchObject({
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
      () => editProject(l.engine, l.devika, id, { patch: { name: 'Mine' }, seen: null }).result,
      () => savePhases(l.engine, l.devika, id, { phases: [] }).result,
      () =>
        makeMilestone(l.engine, l.devika, id, {
          name: 'M',
          ownerId: null,
          date: null,
          done: false,
        }).result,
      () => splitProject(l.engine, l.devika, id, { name: 'S', ids: [] }).whole().result,
    ])
      expect(attempt).toThrow(/lead or a manager/)
    expect(
      editProject(l.engine, l.devika, id, { patch: { description: '<p>Hm</p>' }, seen: null })
        .result.description,
    ).toBe('<p>Hm</p>')
    expect(
      editProject(l.engine, l.tobias, id, { patch: { name: 'Books, again' }, seen: null }).result
        .name,
    ).toBe('Books, again')
    expect(
      () => editProject(l.engine, l.tobias, id, { patch: { name: 'Old' }, seen: 1 }).result,
    ).toThrow(/while you were editing/)
    expect(() => projectSheet(l.engine, l.corrie, id)).toThrow(/not shared/)
    expect(phases).toHaveLength(2)
  })
  it('tasks of a removed phase stay, in none; one undo brings the phase back with them', () => {
    const { l, id, phases, task } = room()
    const one = task('One')
    savePhases(l.engine, l.tobias, id, {
      phases: [{ name: 'First' }, { id: phases[1]!.id, name: 'Last' }],
    })
    expect(projectSheet(l.engine, l.tobias, id).phases.map((p) => p.name)).toEqual([
      'First',
      'Last',
    ])
    expect(taskSheet(l.engine, l.tobias, one).phaseId).toBeNull()
    undoChange(l.engine, l.tobias, l.latest()).whole()
    expect(taskSheet(l.engine, l.tobias, one).phaseId).toBe(phases[0]!.id)
  })
  it('archived and brought back, with everything in it', () => {
    const { l, id, task } = room()
    task('One')
    expect(
      editProject(l.engine, l.tobias, id, { patch: { archived: true, closed: true }, seen: null })
        .result,
    ).toMatchObject({ archivedAt: l.clock.now(), closedAt: l.clock.now() })
    expect(
      editProject(l.engine, l.tobias, id, { patch: { archived: false, closed: false }, seen: null })
        .result,
    ).toMatchObject({ archivedAt: null, closedAt: null, open: 1 })
  })
})

describe('copying, splitting, merging', () => {
  it('has a view of its own that its lead or a manager sets, kept by a copy but for its phases', () => {
    const { l, id, phases } = room()
    const view: ViewDefinition = {
      ...{ kind: 'board', scope: { of: 'firm' }, sort: [], group: 'state', columns: [] },
      filter: { match: 'all', of: [{ field: 'tag', op: 'in', value: [1] }] },
      ...{ colour: null, tree: true, step: 'fit' },
    }
    const set = (viewer: Viewer, to: ViewDefinition | null) =>
      editProject(l.engine, viewer, id, { patch: { view: to }, seen: null })
    const copied = () =>
      cloneProject(l.engine, l.imogen, id, { name: 'C', take: [], anchor: null }).whole().result
    expect(() => set(l.devika, view)).toThrow(/lead or a manager/)
    // It shows this project, whatever was looked at as it was chosen.
    expect(set(l.tobias, view).result.view).toEqual({ ...view, scope: { of: 'project', id } })
    const copy = copied()
    expect(copy.view).toMatchObject({ ...view, scope: { of: 'project', id: copy.id } })
    set(l.imogen, {
      ...view,
      filter: { match: 'all', of: [{ field: 'phase', op: 'in', value: [phases[0]!.id] }] },
    })
    expect(copied().view).toMatchObject({ kind: 'board', filter: { match: 'all', of: [] } })
    expect(set(l.imogen, null).result.view).toBeNull()
    undoChange(l.engine, l.imogen, l.latest()).whole()
    expect(projectSheet(l.engine, l.imogen, id).view?.kind).toBe('board')
  })
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
    }).whole().result
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
    const part = splitProject(l.engine, l.tobias, id, { name: 'Part', ids: [b, c] }).whole().result
    expect(part.phases.map((p) => [p.name, p.open])).toEqual([
      ['Close', 1],
      ['Gather', 1],
    ])
    expect(tasksOf(l, id).map((t) => t.id)).toEqual([a])
    expect(
      () => splitProject(l.engine, l.tobias, id, { name: 'X', ids: [b] }).whole().result,
    ).toThrow(/not in this project any more/)
    const whole = joinProjects(l.engine, l.tobias, part.id, id).whole().result
    expect(whole.phases.map((p) => [p.name, p.open])).toEqual([
      ['Gather', 2],
      ['Close', 1],
    ])
    expect(listProjects(l.engine, l.imogen).map((p) => p.id)).not.toContain(part.id)
    const archived = closedProjects(l.engine, l.imogen, { part: 'archived' })
    expect(archived.projects.map((p) => p.id)).toEqual([part.id])
    undoChange(l.engine, l.tobias, l.latest()).whole()
    expect(tasksOf(l, part.id)).toHaveLength(2)
    expect(() => joinProjects(l.engine, l.tobias, id, id).whole().result).toThrow(/another project/)
  })
  it('moved to another project, a task keeps its client and loses a phase that is not there', () => {
    const { l, task } = room()
    const other = makeProject(l.engine, l.imogen, { name: 'Other', clientId: null }).result
    const one = task('One')
    const kid = task('Kid', { parentId: one })
    expect(
      editTask(l.engine, l.imogen, one, { patch: { projectId: other.id }, seen: null }).result,
    ).toMatchObject({
      project: { name: 'Other' },
      phaseId: null,
    })
    expect(taskSheet(l.engine, l.imogen, kid).project?.name).toBe('Other')
  })
})

describe('closed projects', () => {
  /** A firm with as many finished projects, several of them finished at the same moment. */
  function closed(count: number) {
    const l = lab()
    l.engine.journal.change(ENGINE, (write) => {
      for (let i = 0; i < count; i++)
        write.insert('projects', {
          ...{ name: `Project ${i}`, clientId: i % 2 ? l.client : null },
          ...{ createdAt: 1, closedAt: 1000 + Math.floor(i / 7) },
        })
    })
    return l
  }
  const pages = (l: ReturnType<typeof lab>, words?: string) => {
    const names: string[] = []
    let cursor: string | null = null
    let count = 0
    do {
      const page = closedProjects(l.engine, l.imogen, {
        part: 'finished',
        ...(cursor !== null && { cursor }),
        ...(words !== undefined && { words }),
      })
      names.push(...page.projects.map((p) => p.name))
      cursor = page.next
      count += 1
    } while (cursor !== null)
    return { names, count }
  }
  it('come newest first in pages, each once, also where many closed at one moment', () => {
    const { names, count } = pages(closed(173))
    expect(count).toBe(4)
    expect(names).toEqual(Array.from({ length: 173 }, (_, i) => `Project ${172 - i}`))
  })
  it('are narrowed by words, which are taken as they stand; none is an answer', () => {
    const l = closed(60)
    expect(pages(l, 'mossgate').names).toHaveLength(30)
    expect(pages(l, 'project 5').names).toHaveLength(11)
    expect(pages(l, '%').names).toEqual([])
    expect(pages(lab()).names).toEqual([])
  })
  it.each(['x', '', '1', '-1-1', '1-2-3', '99999999999999999-1', "1-1' or 1"])(
    'a cursor that this list did not give (%s) is refused',
    (cursor) => {
      const ask = () => closedProjects(lab().engine, lab().imogen, { part: 'archived', cursor })
      expect(ask).toThrow('The cursor is not one that this list gave.')
    },
  )
})

it('guests see how a project of theirs stands, not why', () => {
  const l = lab()
  const id = makeProject(l.engine, l.imogen, { name: 'Books', clientId: null }).result.id
  makeTask(l.engine, l.imogen, { title: 'Theirs', projectId: id, assignees: [l.corrie.id] })
  const patch = { health: 'trouble', healthReason: 'They have not paid' } as const
  editProject(l.engine, l.imogen, id, { patch, seen: null })
  expect(projectSheet(l.engine, l.tobias, id).health).toMatchObject({
    reason: 'They have not paid',
  })
  expect(projectSheet(l.engine, l.corrie, id).health).toEqual({
    ...{ value: 'trouble', reason: '', byHand: true },
  })
})
