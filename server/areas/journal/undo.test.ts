import fc from 'fast-check'
import { expect, it } from 'vitest'
import { lab, type Lab } from '../../test/lab.ts'
import { makeField, makeTag } from '../fields/service.ts'
import { joinProjects, makeProject, savePhases, splitProject } from '../projects/service.ts'
import { bulkEdit } from '../tasks/bulk.ts'
import { duplicateTask, mergeTask } from '../tasks/copy.ts'
import { orderTask } from '../tasks/order.ts'
import { addComment, addItem, editTask, makeTask } from '../tasks/service.ts'
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
    editTask(l.engine, l.imogen, ids[pick(ids.length)]!, { title: `T${pick(99)}` }, null),
  close: (l, pick, ids) =>
    editTask(l.engine, l.imogen, ids[pick(ids.length)]!, { state: 'done' }, null),
  wait: (l, pick, ids) =>
    editTask(
      l.engine,
      l.imogen,
      ids[pick(ids.length)]!,
      { state: 'waiting', priority: 'high' },
      null,
    ),
  people: (l, pick, ids) =>
    editTask(
      l.engine,
      l.imogen,
      ids[pick(ids.length)]!,
      {
        assignees: [l.tobias.id, l.devika.id].slice(pick(3)),
        followers: [l.imogen.id].slice(pick(2)),
      },
      null,
    ),
  tags: (l, pick, ids, { tag }) =>
    editTask(l.engine, l.imogen, ids[pick(ids.length)]!, { tags: [tag].slice(pick(2)) }, null),
  field: (l, pick, ids, { field }) =>
    editTask(
      l.engine,
      l.imogen,
      ids[pick(ids.length)]!,
      { fields: { [field]: pick(3) ? `v${pick(9)}` : null } },
      null,
    ),
  under: (l, pick, ids) =>
    editTask(
      l.engine,
      l.imogen,
      ids[pick(ids.length)]!,
      { parentId: ids[pick(ids.length)]!, datesFollow: pick(2) === 1 },
      null,
    ),
  bulk: (l, pick, ids) =>
    bulkEdit(l.engine, l.imogen, {
      ids: [...new Set([ids[pick(ids.length)]!, ids[pick(ids.length)]!])],
      shift: { days: pick(9) - 4 || 1, working: true },
      addAssignees: [l.devika.id],
    }),
  move: (l, pick, ids, { projects }) =>
    editTask(
      l.engine,
      l.imogen,
      ids[pick(ids.length)]!,
      { projectId: projects[pick(projects.length)]! },
      null,
    ),
  order: (l, pick, ids) => orderTask(l.engine, l.imogen, ids[pick(ids.length)]!, null),
  item: (l, pick, ids) => addItem(l.engine, l.imogen, ids[pick(ids.length)]!, `step ${pick(9)}`),
  comment: (l, pick, ids) =>
    addComment(
      l.engine,
      l.imogen,
      ids[pick(ids.length)]!,
      `<p>word ${pick(9)} <span data-person="${l.tobias.id}">@Tobias</span></p>`,
    ),
  copy: (l, pick, ids) =>
    duplicateTask(l.engine, l.imogen, ids[pick(ids.length)]!, {
      title: 'Copy',
      take: ['assignees', 'tags', 'fields', 'checklist', 'subtasks', 'dates'],
    }),
  merge: (l, pick, ids) =>
    mergeTask(l.engine, l.imogen, ids[pick(ids.length)]!, ids[pick(ids.length)]!),
  phases: (l, pick, _, { projects }) =>
    savePhases(l.engine, l.imogen, projects[0]!, { phases: [{ name: `P${pick(9)}` }] }),
  split: (l, pick, ids, { projects }) =>
    void projects.push(
      splitProject(l.engine, l.imogen, projects[0]!, {
        name: 'Part',
        ids: [ids[pick(ids.length)]!],
      }).id,
    ),
  join: (l, pick, _, { projects }) =>
    joinProjects(l.engine, l.imogen, projects[pick(projects.length)]!, projects[0]!),
}

it('any run of changes, taken back from the last to the first, leaves every row as it was', () => {
  fc.assert(
    fc.property(
      fc.array(
        fc.tuple(
          fc.constantFrom(...Object.keys(STEPS)),
          fc.array(fc.nat(1_000), { minLength: 6, maxLength: 6 }),
        ),
        { minLength: 1, maxLength: 14 },
      ),
      (steps) => {
        const l = lab()
        const tag = makeTag(l.engine, l.imogen, { name: 'x', colour: 'teal' }).id
        const field = makeField(l.engine, l.imogen, {
          name: 'F',
          kind: 'text',
          options: {},
          projectId: null,
          templateId: null,
          hidden: false,
        })[0]!.id
        const projects = ['One', 'Two'].map(
          (name) =>
            makeProject(l.engine, l.imogen, {
              name,
              clientId: l.client,
              phases: ['Gather', 'Close'],
            }).id,
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
            }).id,
        )
        const before = snapshot(l)
        const changes: number[] = []
        for (const [name, numbers] of steps) {
          let turn = 0
          const last = l.engine.journal.latest()
          const stood = snapshot(l)
          try {
            STEPS[name]!(l, (n) => numbers[turn++ % 6]! % n, ids, { tag, field, projects })
          } catch {
            // Refused: then nothing at all was changed.
            expect(snapshot(l)).toEqual(stood)
            continue
          }
          if (l.engine.journal.latest() > last) changes.push(l.engine.journal.latest())
        }
        for (const change of changes.reverse()) undoChange(l.engine, l.imogen, change)
        expect(snapshot(l)).toEqual(before)
      },
    ),
    { numRuns: 40 },
  )
}, 120_000)
