import { describe, expect, it } from 'vitest'
import { eventsOf, type Entered, type Stored } from './events.ts'

let next = 1
const entry = (
  entity: string,
  action: Entered['action'],
  {
    before = null,
    after = null,
    item = { kind: 'task', id: 7 },
    id = 7,
  }: {
    before?: Stored | null
    after?: Stored | null
    item?: Entered['item']
    id?: number
  },
): Entered => ({
  ...{ id: next++, change: 1, at: 1000, actor: { kind: 'person', id: 1 }, depth: 0, undoes: null },
  ...{ entity, entityId: id, action, item, projectId: 3, before, after },
})
const told = (...entries: Entered[]) =>
  eventsOf(entries).map(({ kind, ...event }) => [
    kind,
    'fields' in event ? event.fields : 'person' in event ? event.person : event.rows,
  ])

describe('events', () => {
  it('what a change does to one task is one event, by its fields, however many rows it wrote', () => {
    expect(
      told(
        entry('taskTags', 'removed', { before: { taskId: 7, tagId: 4 } }),
        entry('tasks', 'changed', {
          before: {
            due: '2026-11-20',
            dueTime: null,
            stateId: 1,
            state: 'not-started',
            version: 1,
          },
          after: { due: '2026-11-23', dueTime: '10:00', stateId: 3, state: 'waiting', version: 2 },
        }),
        entry('fieldValues', 'changed', {
          before: { fieldId: 5, number: 1 },
          after: { fieldId: 5, number: 2 },
        }),
        entry('fieldValues', 'made', { after: { taskId: 7, fieldId: 6, text: 'a', number: null } }),
        entry('taskTags', 'made', { after: { taskId: 7, tagId: 2 } }),
      ),
    ).toEqual([
      [
        'task.changed',
        {
          tag: { from: [4], to: [2] },
          due: { from: '2026-11-20', to: '2026-11-23' },
          'due.time': { from: null, to: '10:00' },
          state: { from: 1, to: 3 },
          kind: { from: 'not-started', to: 'waiting' },
          'field:5': { from: 1, to: 2 },
          'field:6': { from: null, to: 'a' },
        },
      ],
    ])
  })
  it('what a task is made with belongs to its making; work given is told by itself', () => {
    expect(
      told(
        entry('tasks', 'made', { after: { title: 'Post' } }),
        entry('taskAssignees', 'made', { after: { taskId: 7, personId: 2 } }),
        entry('taskTags', 'made', { after: { taskId: 7, tagId: 2 } }),
      ),
    ).toEqual([
      ['task.made', ['tasks']],
      ['task.given', 2],
      ['other', ['taskTags']],
    ])
    expect(told(entry('taskAssignees', 'made', { after: { taskId: 7, personId: 2 } }))).toEqual([
      ['task.given', 2],
      ['task.changed', { assignee: { from: [], to: [2] } }],
    ])
  })
  it('a field written twice in one change goes from what it was to what it is', () => {
    const write = (from: string, to: string) =>
      entry('tasks', 'changed', { before: { priority: from }, after: { priority: to } })
    expect(told(write('low', 'high'), write('high', 'urgent'))).toEqual([
      ['task.changed', { priority: { from: 'low', to: 'urgent' } }],
    ])
  })
  it('comments, files, projects that begin and finish, and all else', () => {
    const project = { item: { kind: 'project', id: 3 }, id: 3 }
    expect(
      told(
        entry('comments', 'made', { after: { taskId: 7, body: '<p>Hm</p>' } }),
        entry('attachments', 'made', { after: { name: 'a.pdf' } }),
        entry('projects', 'made', { after: { name: 'Books', closedAt: null }, ...project }),
        entry('projects', 'changed', {
          before: { closedAt: null },
          after: { closedAt: 9 },
          ...project,
        }),
        entry('projects', 'changed', {
          before: { closedAt: 9 },
          after: { closedAt: null },
          ...project,
        }),
        entry('phases', 'changed', { before: { name: 'A' }, after: { name: 'B' }, ...project }),
        entry('tasks', 'removed', { before: { title: 'Post' } }),
      ).map(([kind]) => kind),
    ).toEqual([
      ...['comment.made', 'file.added', 'project.made', 'project.finished', 'project.changed'],
      ...['project.changed', 'other', 'task.removed'],
    ])
  })
})
