import Joi from 'joi'
import { reminderBody } from '#contract/reminders.ts'
import { idList, line } from '#contract/common.ts'
import { queryText, type TaskQuery } from '#contract/query.ts'
import * as shapes from '#contract/tasks.ts'
import { readRows } from '../../areas/imports/rows.ts'
import { activity } from '../../areas/tasks/activity.ts'
import { bulkEdit, editEach } from '../../areas/tasks/bulk.ts'
import { addReminder, changeReminder, removeReminder } from '../../areas/reminders/service.ts'
import { addItem, editItem, removeItem } from '../../areas/tasks/checklist.ts'
import { addComment, editComment } from '../../areas/tasks/comments.ts'
import { duplicateTask, mergeTask } from '../../areas/tasks/copy.ts'
import { orderTask } from '../../areas/tasks/order.ts'
import { outline } from '../../areas/tasks/outline.ts'
import { taskPage } from '../../areas/tasks/page.ts'
import { taskRows } from '../../areas/tasks/rows.ts'
import { editTask, makeTask, taskSheet } from '../../areas/tasks/service.ts'
import { needMember } from '../../engine/viewer.ts'
import { read, unchanged, upload, write, type Route } from '../route.ts'

/** Everything in the firm: what is asked where nothing is said. */
export const ANYTHING: TaskQuery = {
  scope: { of: 'firm' },
  filter: { match: 'all', of: [] },
  sort: [],
  group: null,
  tree: false,
  sums: [],
  every: false,
}

/** Tasks, and what is asked about them. */
export const TASKS: readonly Route[] = [
  read<{ q?: TaskQuery; ids?: string; cursor?: string; limit?: number }>({
    path: '/tasks',
    who: 'everybody',
    about: 'Tasks that a query finds, in pages; or some by number',
    query: Joi.object({
      q: queryText,
      ids: idList,
      cursor: line(400),
      limit: Joi.number().integer().min(1).max(500),
    }),
    apart: 'read',
    handle: ({ engine, viewer, query: { ids, q, limit = 100, cursor = null } }) =>
      ids
        ? { tasks: taskRows(engine, viewer, ids.split(',').map(Number)), next: null }
        : taskPage(engine, viewer, q ?? ANYTHING, { limit, cursor }),
  }),
  read<{ q?: TaskQuery }>({
    path: '/tasks/outline',
    who: 'everybody',
    about: 'The order and grouping of what a query finds',
    query: Joi.object({ q: queryText }),
    apart: 'read',
    handle: ({ engine, viewer, query }) => outline(engine, viewer, query.q ?? ANYTHING),
  }),
  write('post', {
    path: '/tasks',
    who: 'everybody',
    about: 'Make a task',
    body: shapes.newTask,
    status: 201,
    handle: ({ engine, viewer, body }) => makeTask(engine, viewer, body),
  }),
  write('post', {
    path: '/tasks/bulk',
    about: 'Change many tasks at once',
    body: shapes.bulkBody,
    handle: ({ engine, viewer, body }) => bulkEdit(engine, viewer, body),
  }),
  upload({
    path: '/tasks/read',
    about: 'Read a CSV file or a workbook into rows, to bring tasks in',
    raw: { limit: 12 * 1024 * 1024 },
    apart: 'work',
    handle: async ({ viewer, body }) => {
      needMember(viewer, 'bring in tasks')
      return unchanged(await readRows(body, { most: 5_000, what: 'one file brings in' }))
    },
  }),
  write('post', {
    path: '/tasks/edits',
    about: 'Change each of some tasks, and make some',
    body: shapes.editsBody,
    handle: ({ engine, viewer, body }) => editEach(engine, viewer, body),
  }),
  read({
    path: '/tasks/:id',
    who: 'everybody',
    about: 'One task',
    handle: ({ engine, viewer, param }) => taskSheet(engine, viewer, param('id')),
  }),
  write('patch', {
    path: '/tasks/:id',
    who: 'everybody',
    about: 'Change a task',
    body: shapes.taskPatch,
    handle: ({ engine, viewer, param, body: patch, seen }) =>
      editTask(engine, viewer, param('id'), { patch, seen }),
  }),
  read({
    path: '/tasks/:id/activity',
    who: 'everybody',
    about: 'What happened to a task',
    handle: ({ engine, viewer, param }) => activity(engine, viewer, param('id')),
  }),
  write('put', {
    path: '/tasks/:id/order',
    about: 'Put a task in its place by hand',
    body: shapes.orderBody,
    handle: ({ engine, viewer, param, body }) => orderTask(engine, viewer, param('id'), body.after),
  }),
  write('post', {
    path: '/tasks/:id/copy',
    about: 'Copy a task',
    body: shapes.duplicateBody,
    status: 201,
    handle: ({ engine, viewer, param, body }) => duplicateTask(engine, viewer, param('id'), body),
  }),
  write('post', {
    path: '/tasks/:id/merge',
    about: 'Merge a task into another',
    body: shapes.mergeBody,
    handle: ({ engine, viewer, param, body }) => mergeTask(engine, viewer, param('id'), body.into),
  }),
  write('post', {
    path: '/tasks/:id/comments',
    who: 'everybody',
    about: 'Comment',
    body: shapes.newComment,
    status: 201,
    handle: ({ engine, viewer, param, body }) => addComment(engine, viewer, param('id'), body.body),
  }),
  write('put', {
    path: '/tasks/:id/comments/:comment',
    who: 'everybody',
    about: 'Reword a comment',
    body: shapes.commentEdit,
    handle: ({ engine, viewer, param, body }) =>
      editComment(engine, viewer, { taskId: param('id'), id: param('comment') }, body.body),
  }),
  write('post', {
    path: '/tasks/:id/reminders',
    who: 'everybody',
    about: 'Set a reminder of a task',
    body: reminderBody,
    handle: ({ engine, viewer, param, body }) => addReminder(engine, viewer, param('id'), body),
  }),
  write('put', {
    path: '/tasks/:id/reminders/:reminder',
    who: 'everybody',
    about: 'Change a reminder',
    body: reminderBody,
    handle: ({ engine, viewer, param, body }) =>
      changeReminder(engine, viewer, { taskId: param('id'), id: param('reminder') }, body),
  }),
  write('delete', {
    path: '/tasks/:id/reminders/:reminder',
    who: 'everybody',
    about: 'Take a reminder off',
    handle: ({ engine, viewer, param }) =>
      removeReminder(engine, viewer, { taskId: param('id'), id: param('reminder') }),
  }),
  write('post', {
    path: '/tasks/:id/items',
    who: 'everybody',
    about: 'Add to the checklist',
    body: shapes.newItem,
    status: 201,
    handle: ({ engine, viewer, param, body }) =>
      addItem(engine, viewer, param('id'), ...(body.titles ?? [body.title ?? ''])),
  }),
  write('patch', {
    path: '/tasks/:id/items/:item',
    who: 'everybody',
    about: 'Tick or reword',
    body: shapes.itemPatch,
    handle: ({ engine, viewer, param, body }) =>
      editItem(engine, viewer, { taskId: param('id'), id: param('item') }, body),
  }),
  write('delete', {
    path: '/tasks/:id/items/:item',
    who: 'everybody',
    about: 'Remove from the checklist',
    handle: ({ engine, viewer, param }) =>
      removeItem(engine, viewer, { taskId: param('id'), id: param('item') }),
  }),
]
