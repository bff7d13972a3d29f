import Joi from 'joi'
import { id, line } from '#contract/common.ts'
import { queryText, viewBody, type TaskQuery, type ViewBody } from '#contract/query.ts'
import * as shapes from '#contract/tasks.ts'
import type { Copies } from '#contract/words.ts'
import { addFile, addLink, readFile, removeAttachment } from '../../areas/attachments/service.ts'
import { LARGEST, SHOWN } from '../../areas/attachments/kinds.ts'
import { toCsv, toIcs, toXlsx } from '../../areas/exports/formats.ts'
import { sheetData } from '../../areas/exports/sheet.ts'
import { listChanges } from '../../areas/journal/changes.ts'
import { undoChange } from '../../areas/journal/undo.ts'
import { find } from '../../areas/search/service.ts'
import { activity } from '../../areas/tasks/activity.ts'
import { bulkEdit, editEach } from '../../areas/tasks/bulk.ts'
import { duplicateTask, mergeTask } from '../../areas/tasks/copy.ts'
import { orderTask } from '../../areas/tasks/order.ts'
import { outline } from '../../areas/tasks/outline.ts'
import { taskPage } from '../../areas/tasks/page.ts'
import { taskRows } from '../../areas/tasks/queries.ts'
import {
  addComment,
  addItem,
  editComment,
  editItem,
  editTask,
  makeTask,
  needTask,
  removeItem,
  taskSheet,
} from '../../areas/tasks/service.ts'
import { listViews, makeView, pinView, removeView, saveView } from '../../areas/views/service.ts'
import { Download } from '../download.ts'
import { readRows } from '../../areas/imports/rows.ts'
import { needMember } from '../../engine/viewer.ts'
import { route, type Route } from '../route.ts'

const anything: TaskQuery = {
  scope: { of: 'firm' },
  filter: { match: 'all', of: [] },
  sort: [],
  group: null,
  tree: false,
  sums: [],
  every: false,
}
const idList = Joi.string()
  .pattern(/^\d{1,15}(,\d{1,15}){0,499}$/)
  .messages({
    'string.pattern.base': '{{#label}} must be up to 500 numbers with commas between them',
  })
const fileName = Joi.object({ name: Joi.string().max(1_000).required() })

/** Tasks and what is asked about them. */
export const TASKS: readonly Route[] = [
  route<undefined, { q?: TaskQuery; ids?: string; cursor?: string; limit?: number }>({
    method: 'get',
    path: '/tasks',
    about: 'Tasks that a query finds, in pages; or some by number',
    query: Joi.object({
      q: queryText,
      ids: idList,
      cursor: line(400),
      limit: Joi.number().integer().min(1).max(500),
    }),
    handle: ({ engine, viewer, query }) =>
      query.ids
        ? { tasks: taskRows(engine, viewer, query.ids.split(',').map(Number)), next: null }
        : taskPage(engine, viewer, query.q ?? anything, query.limit ?? 100, query.cursor ?? null),
  }),
  route<undefined, { q?: TaskQuery }>({
    method: 'get',
    path: '/tasks/outline',
    about: 'The order and grouping of what a query finds',
    query: Joi.object({ q: queryText }),
    handle: ({ engine, viewer, query }) => outline(engine, viewer, query.q ?? anything),
  }),
  route<
    undefined,
    { q?: TaskQuery; format: 'csv' | 'xlsx' | 'ics'; columns?: string; name?: string }
  >({
    method: 'get',
    path: '/tasks/export',
    about: 'What a query finds, as a file: CSV, XLSX or iCalendar',
    query: Joi.object({
      q: queryText,
      format: Joi.valid('csv', 'xlsx', 'ics').required(),
      columns: Joi.string().max(2_000),
      name: line(100),
    }),
    handle: async ({ engine, viewer, query }) => {
      const [q, name, fields] = [
        query.q ?? anything,
        query.name ?? 'Work',
        (query.columns ?? '').split(',').filter(Boolean),
      ]
      if (query.format === 'ics')
        return new Download(
          `${name}.ics`,
          'text/calendar; charset=utf-8',
          toIcs(engine, viewer, name, q),
        )
      const data = sheetData(engine, viewer, q, fields)
      if (query.format === 'csv')
        return new Download(`${name}.csv`, 'text/csv; charset=utf-8', toCsv(data))
      return new Download(
        `${name}.xlsx`,
        'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
        await toXlsx(name, data, engine.clock.now()),
      )
    },
  }),
  route<shapes.NewTask>({
    method: 'post',
    path: '/tasks',
    about: 'Make a task',
    body: shapes.newTask,
    status: 201,
    handle: ({ engine, viewer, body }) => makeTask(engine, viewer, body),
  }),
  route<shapes.BulkBody>({
    method: 'post',
    path: '/tasks/bulk',
    about: 'Change many tasks at once',
    body: shapes.bulkBody,
    handle: ({ engine, viewer, body }) => bulkEdit(engine, viewer, body),
  }),
  route<Buffer>({
    method: 'post',
    path: '/tasks/read',
    about: 'Read a CSV file or a workbook into rows, to bring tasks in',
    raw: { limit: 12 * 1024 * 1024 },
    handle: ({ viewer, body }) => (
      needMember(viewer, 'bring in tasks'),
      readRows(body, 5_000, 'one file brings in')
    ),
  }),
  route<shapes.EditsBody>({
    method: 'post',
    path: '/tasks/edits',
    about: 'Change each of some tasks, and make some',
    body: shapes.editsBody,
    handle: ({ engine, viewer, body }) => editEach(engine, viewer, body),
  }),
  route({
    method: 'get',
    path: '/tasks/:id',
    about: 'One task',
    handle: ({ engine, viewer, params }) => taskSheet(engine, viewer, params['id']!),
  }),
  route<shapes.TaskPatch>({
    method: 'patch',
    path: '/tasks/:id',
    about: 'Change a task',
    body: shapes.taskPatch,
    handle: ({ engine, viewer, params, body, seen }) =>
      editTask(engine, viewer, params['id']!, body, seen),
  }),
  route({
    method: 'get',
    path: '/tasks/:id/activity',
    about: 'What happened to a task',
    handle: ({ engine, viewer, params }) => (
      needTask(engine, viewer, params['id']!),
      activity(engine, params['id']!)
    ),
  }),
  route<{ after: number | null }>({
    method: 'put',
    path: '/tasks/:id/order',
    about: 'Put a task in its place by hand',
    body: shapes.orderBody,
    handle: ({ engine, viewer, params, body }) =>
      orderTask(engine, viewer, params['id']!, body.after),
  }),
  route<{ title: string; take: Copies[] }>({
    method: 'post',
    path: '/tasks/:id/copy',
    about: 'Copy a task',
    body: shapes.duplicateBody,
    status: 201,
    handle: ({ engine, viewer, params, body }) =>
      duplicateTask(engine, viewer, params['id']!, body),
  }),
  route<{ into: number }>({
    method: 'post',
    path: '/tasks/:id/merge',
    about: 'Merge a task into another',
    body: shapes.mergeBody,
    handle: ({ engine, viewer, params, body }) =>
      mergeTask(engine, viewer, params['id']!, body.into),
  }),
  route<{ body: string }>({
    method: 'post',
    path: '/tasks/:id/comments',
    about: 'Comment',
    body: shapes.newComment,
    status: 201,
    handle: ({ engine, viewer, params, body }) =>
      addComment(engine, viewer, params['id']!, body.body),
  }),
  route<{ body: string }>({
    method: 'put',
    path: '/tasks/:id/comments/:comment',
    about: 'Reword a comment',
    body: Joi.object({ body: Joi.string().allow('').max(100_000).required() }),
    handle: ({ engine, viewer, params, body }) =>
      editComment(engine, viewer, params['id']!, params['comment']!, body.body),
  }),
  route<{ title: string }>({
    method: 'post',
    path: '/tasks/:id/items',
    about: 'Add to the checklist',
    body: shapes.newItem,
    status: 201,
    handle: ({ engine, viewer, params, body }) =>
      addItem(engine, viewer, params['id']!, body.title),
  }),
  route<{ title?: string; done?: boolean }>({
    method: 'patch',
    path: '/tasks/:id/items/:item',
    about: 'Tick or reword',
    body: shapes.itemPatch,
    handle: ({ engine, viewer, params, body }) =>
      editItem(engine, viewer, params['id']!, params['item']!, body),
  }),
  route({
    method: 'delete',
    path: '/tasks/:id/items/:item',
    about: 'Remove from the checklist',
    handle: ({ engine, viewer, params }) =>
      removeItem(engine, viewer, params['id']!, params['item']!),
  }),
  route<Buffer, { name: string }>({
    method: 'post',
    path: '/tasks/:id/files',
    about: 'Add a file',
    query: fileName,
    raw: { limit: LARGEST },
    status: 201,
    handle: ({ engine, viewer, params, query, body }) =>
      addFile(engine, viewer, { taskId: params['id']! }, query.name, body),
  }),
  route<{ name: string; url: string }>({
    method: 'post',
    path: '/tasks/:id/links',
    about: 'Add a link',
    body: shapes.newLink,
    status: 201,
    handle: ({ engine, viewer, params, body }) =>
      addLink(engine, viewer, { taskId: params['id']! }, body),
  }),
  route<Buffer, { name: string }>({
    method: 'post',
    path: '/projects/:id/files',
    about: 'File something with a project',
    query: fileName,
    raw: { limit: LARGEST },
    status: 201,
    handle: ({ engine, viewer, params, query, body }) =>
      addFile(engine, viewer, { projectId: params['id']! }, query.name, body),
  }),
  route<{ name: string; url: string }>({
    method: 'post',
    path: '/projects/:id/links',
    about: 'File a link with a project',
    body: shapes.newLink,
    status: 201,
    handle: ({ engine, viewer, params, body }) =>
      addLink(engine, viewer, { projectId: params['id']! }, body),
  }),
  route<undefined, { save?: string }>({
    method: 'get',
    path: '/files/:id',
    about: 'A file',
    query: Joi.object({ save: Joi.string().allow('') }),
    handle: ({ engine, viewer, params, query }) => {
      const file = readFile(engine, viewer, params['id']!)
      return new Download(
        file.name,
        file.type,
        file.bytes,
        SHOWN.has(file.type) && query.save === undefined,
      )
    },
  }),
  route({
    method: 'delete',
    path: '/files/:id',
    about: 'Take a file or link off',
    handle: ({ engine, viewer, params }) => removeAttachment(engine, viewer, params['id']!),
  }),

  route({
    method: 'get',
    path: '/views',
    about: 'Saved views',
    handle: ({ engine, viewer }) => listViews(engine, viewer),
  }),
  route<ViewBody>({
    method: 'post',
    path: '/views',
    about: 'Save a view',
    body: viewBody,
    status: 201,
    handle: ({ engine, viewer, body }) => makeView(engine, viewer, body),
  }),
  route<ViewBody>({
    method: 'put',
    path: '/views/:id',
    about: 'Change a saved view',
    body: viewBody,
    handle: ({ engine, viewer, params, body, seen }) =>
      saveView(engine, viewer, params['id']!, body, seen),
  }),
  route({
    method: 'delete',
    path: '/views/:id',
    about: 'Remove a saved view',
    handle: ({ engine, viewer, params }) => removeView(engine, viewer, params['id']!),
  }),
  route<{ on: boolean }>({
    method: 'post',
    path: '/views/:id/pin',
    about: 'Keep a view at hand',
    body: Joi.object({ on: Joi.boolean().required() }),
    handle: ({ engine, viewer, params, body }) => pinView(engine, viewer, params['id']!, body.on),
  }),

  route<undefined, { words: string }>({
    method: 'get',
    path: '/find',
    about: 'Find by words or number',
    query: Joi.object({ words: line(200).required() }),
    handle: ({ engine, viewer, query }) => find(engine, viewer, query.words),
  }),
  route<undefined, { projectId?: number; before?: number }>({
    method: 'get',
    path: '/changes',
    about: 'The journal, change by change, newest first',
    query: Joi.object({ projectId: id, before: id }),
    handle: ({ engine, viewer, query }) => listChanges(engine, viewer, query),
  }),
  route({
    method: 'post',
    path: '/changes/:id/undo',
    about: 'Take a whole change back',
    handle: ({ engine, viewer, params }) => undoChange(engine, viewer, params['id']!),
  }),
]
