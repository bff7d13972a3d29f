import { describe, expect, it } from 'vitest'
import type { Group } from '#core/conditions/condition.ts'
import { ruleBody, type Trigger } from '#contract/rules.ts'
import { triggerKinds } from '#contract/triggers/index.ts'
import { lab, type Lab } from '../../test/lab.ts'
import { addLink } from '../attachments/service.ts'
import { editClient, makeClients } from '../clients/service.ts'
import { makeField } from '../fields/service.ts'
import { listNotices } from '../notices/service.ts'
import { editProject, makeProject } from '../projects/service.ts'
import { bulkEdit } from '../tasks/bulk.ts'
import { editItem } from '../tasks/checklist.ts'
import { addComment } from '../tasks/comments.ts'
import { editTask, makeTask } from '../tasks/service.ts'
import { makeRule, switchRule } from './service.ts'

/** What a trigger is tried with: what wakes it, and what is near it and does not. */
interface Case {
  readonly trigger: (l: Lab) => Trigger
  /** What there is before the rule is. */
  readonly before?: (l: Lab) => void
  readonly wakes: (l: Lab) => unknown
  readonly not: (l: Lab) => unknown
  /** What the rule names of what it was woken for. */
  readonly text?: string
  readonly says: string
  readonly conditions?: Group
}
const edit = (l: Lab, id: number, patch: object) =>
  editTask(l.engine, l.tobias, id, { patch, seen: null })
const make = (l: Lab, title: string, more: object = {}) =>
  makeTask(l.engine, l.tobias, { title, ...more }).result
const done = (l: Lab, ...ids: number[]) =>
  bulkEdit(l.engine, l.imogen, { ids, set: { state: 'done' } }).whole()
const kind = (of: Trigger['kind']) => () => ({ kind: of }) as Trigger
const project = (l: Lab, id: number, patch: object) =>
  editProject(l.engine, l.imogen, id, { patch, seen: null })
/** Two tasks, numbers 1 and 2, in the only phase of a project, and two subtasks of the first. */
function books(l: Lab): void {
  const { id, phases } = makeProject(l.engine, l.imogen, {
    ...{ name: 'Books', clientId: l.client, phases: ['Gather', 'Close'] },
  }).result
  const place = { projectId: id, phaseId: phases[0]!.id }
  make(l, 'One', { ...place, checklist: ['a', 'b'] })
  make(l, 'Two', place)
  make(l, 'Three', { ...place, phaseId: phases[1]!.id })
  for (const title of ['Sub 1', 'Sub 2']) make(l, title, { parentId: 3 })
}
const step = (l: Lab, id: number, ticked: boolean) =>
  editItem(l.engine, l.tobias, { taskId: 1, id }, { done: ticked })

const CASES: Readonly<Record<Exclude<Trigger['kind'], 'late' | 'dated'>, Case>> = {
  made: {
    ...{ trigger: kind('made'), before: books, says: 'Four' },
    wakes: (l) => make(l, 'Four'),
    not: (l) => edit(l, 1, { title: 'x' }),
  },
  'becomes-true': {
    ...{ trigger: kind('becomes-true'), before: books, says: 'One' },
    conditions: { match: 'all', of: [{ field: 'priority', op: 'in', value: ['high'] }] },
    wakes: (l) => edit(l, 1, { priority: 'high' }),
    not: (l) => edit(l, 1, { priority: 'low' }),
  },
  changed: {
    trigger: () => ({ kind: 'changed', field: 'priority', from: ['normal'], to: ['high'] }),
    ...{ before: books, says: 'One' },
    wakes: (l) => edit(l, 1, { priority: 'high' }),
    not(l) {
      edit(l, 2, { priority: 'low' })
      edit(l, 2, { priority: 'high' })
    },
  },
  given: {
    ...{ trigger: kind('given'), before: books, says: 'One' },
    wakes: (l) => edit(l, 1, { assignees: [l.tobias.id, l.devika.id] }),
    not: (l) => edit(l, 1, { followers: [l.tobias.id] }),
  },
  commented: {
    ...{ trigger: kind('commented'), before: books, says: 'One' },
    wakes: (l) => addComment(l.engine, l.tobias, 1, '<p>Hm</p>'),
    not: (l) => edit(l, 1, { description: 'Hm' }),
  },
  'file-added': {
    ...{ trigger: kind('file-added'), before: books, says: 'One' },
    wakes: (l) =>
      addLink(l.engine, l.tobias, { taskId: 1 }, { url: 'https://example.org/', name: 'x' }),
    not: (l) =>
      addLink(l.engine, l.tobias, { projectId: 1 }, { url: 'https://example.org/', name: 'x' }),
  },
  'steps-done': {
    ...{ trigger: kind('steps-done'), before: books, says: 'One' },
    wakes: (l) => step(l, 2, true),
    not: (l) => step(l, 1, true),
  },
  'subtasks-done': {
    ...{ trigger: kind('subtasks-done'), before: books, says: 'Three' },
    wakes: (l) => done(l, 4, 5),
    not: (l) => (done(l, 4), edit(l, 4, { state: 'under-way' })),
  },
  'phase-done': {
    ...{
      trigger: kind('phase-done'),
      before: books,
      text: '{task} of {project}',
      says: 'One of Books',
    },
    wakes: (l) => done(l, 1, 2),
    not: (l) => (done(l, 2), edit(l, 2, { state: 'under-way' })),
  },
  'work-done': {
    ...{ trigger: kind('work-done'), before: books, text: '{project}', says: 'Books' },
    wakes: (l) => done(l, 1, 2, 3, 4, 5),
    not: (l) => (done(l, 1, 2), edit(l, 1, { state: 'under-way' })),
  },
  'project-made': {
    ...{ trigger: kind('project-made'), before: books, text: '{project}', says: 'New' },
    wakes: (l) => makeProject(l.engine, l.imogen, { name: 'New', clientId: null }),
    not: (l) => project(l, 1, { category: 'x' }),
  },
  'project-changed': {
    trigger: () => ({ kind: 'project-changed', field: 'project.state', from: [], to: ['hold'] }),
    ...{ before: books, text: '{project} for {client}', says: 'Books for Mossgate' },
    wakes: (l) => project(l, 1, { state: 'hold' }),
    not: (l) => project(l, 1, { state: 'proposed' }),
  },
  'project-finished': {
    ...{ trigger: kind('project-finished'), before: books, text: '{project}', says: 'Books' },
    wakes: (l) => project(l, 1, { closed: true }),
    not: (l) => project(l, 1, { archived: true }),
  },
  'client-made': {
    ...{ trigger: kind('client-made'), text: '{client}', says: 'Larkmoor' },
    wakes: (l) => makeClients(l.engine, l.imogen, [{ name: 'Larkmoor' }]),
    not: (l) => editClient(l.engine, l.imogen, l.client, { notes: 'x' }),
  },
  'client-changed': {
    trigger: () => ({ kind: 'client-changed', field: 'client.tier', from: ['gold'], to: [] }),
    ...{ text: '{client}', says: 'Mossgate' },
    wakes: (l) => editClient(l.engine, l.imogen, l.client, { tier: 'silver' }),
    not: (l) => editClient(l.engine, l.imogen, l.client, { notes: 'x' }),
  },
}

describe('every trigger wakes its rule once for what it is about, and nothing near it does', () => {
  it('none is left out', () =>
    expect([...Object.keys(CASES), 'late', 'dated'].sort()).toEqual(
      triggerKinds()
        .map((each) => each.kind)
        .sort(),
    ))
  it.each(Object.entries(CASES))('%s', (_, tried) => {
    const l = lab()
    tried.before?.(l)
    l.runner.tick()
    const body = {
      ...{ name: 'R', ownerId: l.imogen.id },
      definition: {
        ...{
          trigger: tried.trigger(l),
          conditions: tried.conditions ?? { match: 'all' as const, of: [] },
        },
        actions: [
          {
            ...{ kind: 'tell' as const, mail: false, text: tried.text ?? '{task}' },
            who: { is: 'person' as const, id: l.imogen.id },
          },
        ],
      },
    }
    expect(ruleBody.validate(body, { convert: false }).error).toBeUndefined()
    const { id } = makeRule(l.engine, l.imogen, body).result
    switchRule(l.engine, l.imogen, id, { on: true })
    l.runner.tick()
    const told = () =>
      listNotices(l.engine, l.imogen)
        .filter((notice) => notice.kind === 'escalation')
        .map((notice) => notice.body)
    tried.not(l)
    l.runner.tick()
    expect(told()).toEqual([])
    tried.wakes(l)
    l.runner.tick()
    expect(told()).toEqual([tried.says])
  })
  it('a field of the firm’s own of a project and of a client can be waited for, and asked', () => {
    const l = lab()
    books(l)
    const own = (of: 'project' | 'client') =>
      makeField(l.engine, l.imogen, {
        ...{ of, name: `Risk of ${of}`, kind: 'number', options: {} },
        ...{ projectId: null, templateId: null, hidden: false },
      }).result.at(-1)!.id
    const [ofProject, ofClient] = [own('project'), own('client')]
    const body = {
      ...{ name: 'R', ownerId: l.imogen.id },
      definition: {
        trigger: { kind: 'project-changed' as const, field: `project.field:${ofProject}`, to: [] },
        conditions: {
          match: 'all' as const,
          of: [
            { field: `project.field:${ofProject}`, op: 'above' as const, value: 3 },
            { field: `client.field:${ofClient}`, op: 'is' as const, value: 7 },
          ],
        },
        actions: [
          {
            ...{ kind: 'tell' as const, mail: false, text: '{project}' },
            who: { is: 'owner' as const },
          },
        ],
      },
    }
    const { id } = makeRule(l.engine, l.imogen, body).result
    switchRule(l.engine, l.imogen, id, { on: true })
    editClient(l.engine, l.imogen, l.client, { fields: { [ofClient]: 7 } })
    for (const value of [2, 5]) {
      project(l, 1, { fields: { [ofProject]: value } })
      l.runner.tick()
    }
    expect(l.rows('select outcome, reasons from runs order by id')).toEqual([
      {
        outcome: 'skipped',
        reasons: expect.stringContaining(
          'First to fail: project’s risk of project is more than 3: it was 2',
        ),
      },
      {
        outcome: 'done',
        reasons: expect.stringContaining('Held: client’s risk of client is 7: it was 7'),
      },
    ])
  })
})
