import { expect, it } from 'vitest'
import type { Entry } from './journal.ts'
import { moved } from './tally.ts'

const entry = (entity: Entry['entity'], before: Entry['before'], after: Entry['after']): Entry => ({
  ...{ id: 1, change: 1, at: 0, actor: { kind: 'engine', id: null }, depth: 0, undoes: null },
  ...{ entityId: 1, action: 'changed', item: null, projectId: null },
  ...{ entity, before, after },
})

it('what is made counts for one, what goes counts against, what moves counts at both ends', () => {
  const entries = [
    entry('tasks', null, { stateId: 1 }),
    entry('tasks', null, { stateId: 1 }),
    entry('tasks', { stateId: 1 }, { stateId: 2 }),
    entry('tasks', { stateId: 3 }, null),
  ]
  expect([...moved(entries, 'tasks', 'stateId')]).toEqual([
    [1, 1],
    [2, 1],
    [3, -1],
  ])
})

it('what comes and goes in one change, other tables and other columns move nothing', () => {
  const entries = [
    entry('tasks', null, { stateId: 4 }),
    entry('tasks', { stateId: 4 }, null),
    entry('projects', null, { stateId: 5 }),
    entry('tasks', { title: 'a' }, { title: 'b' }),
    entry('tasks', { stateId: null }, { stateId: null }),
  ]
  expect([...moved(entries, 'tasks', 'stateId')]).toEqual([])
})
