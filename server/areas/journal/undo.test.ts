import { joinProjects, splitProject } from '../projects/copy.ts'
import { addComment } from '../tasks/comments.ts'
import { addItem } from '../tasks/checklist.ts'
import fc from 'fast-check'
import { expect, it } from 'vitest'
import { expectDerived } from '../../test/derived.ts'
import { lab, type Lab } from '../../test/lab.ts'
import { makeField, makeTag } from '../fields/service.ts'
import { makeProject, savePhases } from '../projects/service.ts'
import { bulkEdit } from '../tasks/bulk.ts'
import { duplicateTask, mergeTask } from '../tasks/copy.ts'
import { orderTask } from '../tasks/order.ts'
import { editTask, makeTask } from '../tasks/service.ts'
import { listChanges } from './changes.ts'
import { undoChange } from './undo.ts'

const TABLES = [
  'tasks',
  'taskAssignees',
  'taskTags',
  'taskFollowers',
  'fieldValues',
  'checklistItems',
  'comments',
  'projects',
  'phases',
  'milestones',
]
/**
 * Every row as it stands, without the counters that only go forward; link rows by what they say,
 * since they may come back under another number.
 */
const snapshot = (l: Lab) =>
  TABLES.map((table) =>
    l
      .rows(`select * from ${table}`)
      .map(({ version: _, id, ...row }) =>
        JSON.stringify(
          table.startsWith('task') && table !== 'tasks'
            ? row
            : table === 'fieldValues'
              ? row
              : { id, ...row },
        ),
      )
      .sort(),
  )

type Step = (
  l: Lab,
  pick: (n: number) => number,
  ids: number[],
  extra: { tag: number; field: number; projects: number[] },
) => void
const STEPS: Record<string, Step> = {
  rename: (l, pick, ids) =>
    editTask(l.engine, l.imogen, ids[pick(ids.length)]!, {
      patch: { title: `T${pick(99)}` },
      seen: null,
    }).result,
  close: (l, pick, ids) =>
    editTask(l.engine, l.imogen, ids[pick(ids.length)]!, { patch: { state: 'done' }, seen: null })
      .result,
  wait: (l, pick, ids) =>
    editTask(l.engine, l.imogen, ids[pick(ids.length)]!, {
      patch: { state: 'waiting', priority: 'high' },
      seen: null,
    }).result,
  people: (l, pick, ids) =>
    editTask(l.engine, l.imogen, ids[pick(ids.length)]!, {
      patch: {
        assignees: [l.tobias.id, l.devika.id].slice(pick(3)),
        followers: [l.imogen.id].slice(pick(2)),
      },
      seen: null,
    }).result,
  tags: (l, pick, ids, { tag }) =>
    editTask(l.engine, l.imogen, ids[pick(ids.length)]!, {
      patch: { tags: [tag].slice(pick(2)) },
      seen: null,
    }).result,
  field: (l, pick, ids, { field }) =>
    editTask(l.engine, l.imogen, ids[pick(ids.length)]!, {
      patch: { fields: { [field]: pick(3) ? `v${pick(9)}` : null } },
      seen: null,
    }).result,
  under: (l, pick, ids) =>
    editTask(l.engine, l.imogen, ids[pick(ids.length)]!, {
      patch: { parentId: ids[pick(ids.length)]!, datesFollow: pick(2) === 1 },
      seen: null,
    }).result,
  bulk: (l, pick, ids) =>
    bulkEdit(l.engine, l.imogen, {
      ids: [...new Set([ids[pick(ids.length)]!, ids[pick(ids.length)]!])],
      shift: { days: pick(9) - 4 || 1, working: true },
      addAssignees: [l.devika.id],
    }).whole().result,
  move: (l, pick, ids, { projects }) =>
    editTask(l.engine, l.imogen, ids[pick(ids.length)]!, {
      patch: { projectId: projects[pick(projects.length)]! },
      seen: null,
    }).result,
  order: (l, pick, ids) => orderTask(l.engine, l.imogen, ids[pick(ids.length)]!, null).result,
  item: (l, pick, ids) =>
    addItem(l.engine, l.imogen, ids[pick(ids.length)]!, `step ${pick(9)}`).result,
  comment: (l, pick, ids) =>
    addComment(
      l.engine,
      l.imogen,
      ids[pick(ids.length)]!,
      `<p>word ${pick(9)} <span data-person="${l.tobias.id}">@Tobias</span></p>`,
    ).result,
  copy: (l, pick, ids) =>
    duplicateTask(l.engine, l.imogen, ids[pick(ids.length)]!, {
      title: 'Copy',
      take: ['assignees', 'tags', 'fields', 'checklist', 'subtasks', 'dates'],
    }).whole().result,
  merge: (l, pick, ids) =>
    mergeTask(l.engine, l.imogen, ids[pick(ids.length)]!, ids[pick(ids.length)]!).whole().result,
  phases: (l, pick, _, { projects }) =>
    savePhases(l.engine, l.imogen, projects[0]!, { phases: [{ name: `P${pick(9)}` }] }).result,
  split: (l, pick, ids, { projects }) =>
    void projects.push(
      splitProject(l.engine, l.imogen, projects[0]!, {
        name: 'Part',
        ids: [ids[pick(ids.length)]!],
      }).whole().result.id,
    ),
  join: (l, pick, _, { projects }) =>
    joinProjects(l.engine, l.imogen, projects[pick(projects.length)]!, projects[0]!).whole().result,
}

/** A firm of two projects and five tasks, to be changed. */
function beginning() {
  const l = lab()
  const tag = makeTag(l.engine, l.imogen, { name: 'x', colour: 'teal' }).result.id
  const field = makeField(l.engine, l.imogen, {
    name: 'F',
    kind: 'text',
    options: {},
    projectId: null,
    templateId: null,
    hidden: false,
  }).result[0]!.id
  const projects = ['One', 'Two'].map(
    (name) =>
      makeProject(l.engine, l.imogen, { name, clientId: l.client, phases: ['Gather', 'Close'] })
        .result.id,
  )
  const ids = Array.from(
    { length: 5 },
    (_, i) =>
      makeTask(l.engine, l.imogen, {
        title: `T${i}`,
        projectId: projects[i % 2]!,
        due: '2026-12-01',
        checklist: ['a'],
        estimate: 30,
      }).result.id,
  )
  return { l, ids, extra: { tag, field, projects } }
}

type Choices = readonly (readonly [string, readonly number[]])[]
const choices = (most: number) =>
  fc.array(
    fc.tuple(
      fc.constantFrom(...Object.keys(STEPS)),
      fc.array(fc.nat(1_000), { minLength: 6, maxLength: 6 }),
    ),
    { minLength: 1, maxLength: most },
  )

/** Changes the firm as chosen; answers the numbers of the changes that wrote something. */
function changed({ l, ids, extra }: ReturnType<typeof beginning>, steps: Choices): number[] {
  const changes: number[] = []
  for (const [name, numbers] of steps) {
    let turn = 0
    const last = l.latest()
    const stood = snapshot(l)
    try {
      STEPS[name]!(l, (n) => numbers[turn++ % 6]! % n, ids, extra)
    } catch {
      // Refused: then nothing at all was changed.
      expect(snapshot(l)).toEqual(stood)
      continue
    }
    if (l.latest() > last) changes.push(l.latest())
  }
  return changes
}

it('any run of changes, taken back from the last to the first, leaves every row as it was', () => {
  fc.assert(
    fc.property(choices(14), (steps) => {
      const firm = beginning()
      const before = snapshot(firm.l)
      const changes = changed(firm, steps)
      expectDerived(firm.l.db.sqlite)
      for (const change of changes.reverse())
        expect(undoChange(firm.l.engine, firm.l.imogen, change).whole().result.left).toEqual([])
      expect(snapshot(firm.l)).toEqual(before)
      expectDerived(firm.l.db.sqlite)
    }),
    { numRuns: 40 },
  )
})

it('changes taken back in any order leave every row as if they had never been', () => {
  fc.assert(
    fc.property(
      choices(10),
      fc.array(fc.nat(), { minLength: 10, maxLength: 10 }),
      (steps, order) => {
        const firm = beginning()
        const { l } = firm
        const before = snapshot(l)
        let waiting = changed(firm, steps)
          .map((change, i) => ({ change, at: order[i % order.length]! }))
          .sort((a, b) => a.at - b.at)
          .map(({ change }) => change)
        // What nothing stands of now is asked for again when more has gone.
        for (let left = waiting.length + 1; waiting.length && waiting.length < left;) {
          left = waiting.length
          waiting = waiting.filter((change) => {
            try {
              undoChange(l.engine, l.imogen, change).whole()
              return false
            } catch (error) {
              expect(error).toMatchObject({ code: 'changed-since' })
              return true
            }
          })
        }
        expect(snapshot(l)).toEqual(before)
        expectDerived(l.db.sqlite)
      },
    ),
    { numRuns: 60 },
  )
})

it('a link that came back under another number is taken away again', () => {
  const l = lab()
  const make = (title: string) => makeTask(l.engine, l.imogen, { title }).result.id
  const assign = (id: number, assignees: number[]) =>
    editTask(l.engine, l.imogen, id, { patch: { assignees }, seen: null }).change!
  const [other, own] = [make('Post takings'), make('Review')]
  const given = assign(own, [l.tobias.id, l.devika.id])
  const taken = assign(own, [])
  // Takes the number that the first link had.
  const between = assign(other, [l.devika.id])
  for (const change of [taken, between, given]) undoChange(l.engine, l.imogen, change).whole()
  expect(l.rows('select * from taskAssignees')).toEqual([])
})

it('a change that nothing stands of is noted as taken back, and is in the way of nothing', () => {
  const l = lab()
  const { id } = makeTask(l.engine, l.imogen, { title: 'Review' }).result
  const edit = (patch: { priority?: 'high' | 'normal'; estimate?: number }) =>
    editTask(l.engine, l.imogen, id, { patch, seen: null }).change!
  const first = edit({ priority: 'high', estimate: 30 })
  const back = edit({ priority: 'normal' })
  // The estimate goes; the priority stays, since it was written over.
  expect(undoChange(l.engine, l.imogen, first).whole().result.left).toHaveLength(1)
  expect(undoChange(l.engine, l.imogen, back).whole().result).toMatchObject({ count: 1, left: [] })
  expect(listChanges(l.engine, l.imogen, {}).changes[0]).toMatchObject({
    undoes: back,
    lines: ['what had been written over already'],
  })
  expect(() => undoChange(l.engine, l.imogen, back).whole()).toThrow('taken back already')
})

it('a number is never given a second time, also after it was taken back', () => {
  const l = lab()
  const make = (name: string) => makeProject(l.engine, l.imogen, { name, clientId: null })
  const first = make('One')
  const second = make('Two')
  undoChange(l.engine, l.imogen, second.change!).whole()
  undoChange(l.engine, l.imogen, first.change!).whole()
  const third = make('Three')
  expect(third.result.id).toBe(second.result.id + 1)
  expect(make('Four').result.id).toBe(second.result.id + 2)
  // Taken back and put back, a thing has its own number again.
  const gone = undoChange(l.engine, l.imogen, third.change!).whole()
  undoChange(l.engine, l.imogen, gone.change!).whole()
  expect(l.rows<{ id: number }>("select id from projects where name = 'Three'")).toEqual([
    { id: third.result.id },
  ])
})

it('how the firm began is not taken back', () => {
  const l = lab()
  expect(() => undoChange(l.engine, l.imogen, 1).whole()).toThrow(/how the firm began/)
  expect(l.rows('select name from firm')).toEqual([{ name: 'Quillhaven' }])
})
