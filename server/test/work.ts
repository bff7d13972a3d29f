import type { Lab } from './lab.ts'
import { makeTask, taskSheet } from '../areas/tasks/service.ts'

export const task = (l: Lab, title: string, more: object = {}) =>
  makeTask(l.engine, l.imogen, { title, ...more }).result.id

export const sheet = (l: Lab, id: number) => taskSheet(l.engine, l.imogen, id)

export const notices = (l: Lab, who: { id: number }) =>
  l
    .rows<{ body: string }>('select body from notices where personId = ? order by id', who.id)
    .map((n) => n.body)

/** Everything a change could touch, as it stands. */
export const whole = (l: Lab) =>
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
