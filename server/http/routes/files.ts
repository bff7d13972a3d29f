import Joi from 'joi'
import * as shapes from '#contract/tasks.ts'
import { LARGEST, SHOWN } from '../../areas/attachments/kinds.ts'
import {
  addFile,
  addLink,
  readFile,
  removeAttachment,
  showOnBoard,
} from '../../areas/attachments/service.ts'
import { Download } from '../download.ts'
import { read, upload, write, type Route } from '../route.ts'

const fileName: Joi.ObjectSchema<{ name: string }> = Joi.object({
  name: Joi.string().max(1_000).required(),
})

/** Files and links on tasks and projects. */
export const FILES: readonly Route[] = [
  upload({
    path: '/tasks/:id/files',
    who: 'everybody',
    about: 'Add a file',
    query: fileName,
    raw: { limit: LARGEST },
    status: 201,
    handle: ({ engine, viewer, param, query: { name }, body: bytes }) =>
      addFile(engine, viewer, { taskId: param('id') }, { name, bytes }),
  }),
  write('post', {
    path: '/tasks/:id/links',
    who: 'everybody',
    about: 'Add a link',
    body: shapes.newLink,
    status: 201,
    handle: ({ engine, viewer, param, body }) =>
      addLink(engine, viewer, { taskId: param('id') }, body),
  }),
  upload({
    path: '/projects/:id/files',
    about: 'File something with a project',
    query: fileName,
    raw: { limit: LARGEST },
    status: 201,
    handle: ({ engine, viewer, param, query: { name }, body: bytes }) =>
      addFile(engine, viewer, { projectId: param('id') }, { name, bytes }),
  }),
  write('post', {
    path: '/projects/:id/links',
    about: 'File a link with a project',
    body: shapes.newLink,
    status: 201,
    handle: ({ engine, viewer, param, body }) =>
      addLink(engine, viewer, { projectId: param('id') }, body),
  }),
  read<{ save?: string }>({
    path: '/files/:id',
    who: 'everybody',
    about: 'A file',
    query: Joi.object({ save: Joi.string().allow('') }),
    handle: async ({ engine, viewer, param, query }) => {
      const { name, type, bytes } = await readFile(engine, viewer, param('id'))
      return new Download(name, type, bytes, SHOWN.has(type) && query.save === undefined)
    },
  }),
  write('patch', {
    path: '/files/:id',
    about: 'Show a file or link on the slip of its task, or no more',
    body: shapes.filePatch,
    handle: ({ engine, viewer, param, body }) =>
      showOnBoard(engine, viewer, param('id'), body.onBoard),
  }),
  write('delete', {
    path: '/files/:id',
    who: 'everybody',
    about: 'Take a file or link off',
    handle: ({ engine, viewer, param }) => removeAttachment(engine, viewer, param('id')),
  }),
]
