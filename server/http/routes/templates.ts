import * as shapes from '#contract/clockwork.ts'
import {
  importTemplate,
  listTemplates,
  makeTemplate,
  saveTemplate,
  templateSheet,
} from '../../areas/templates/service.ts'
import { startProject, tryTemplate } from '../../areas/templates/start.ts'
import { readTable } from '../../areas/templates/table.ts'
import { needStructure } from '../../engine/viewer.ts'
import { read, unchanged, upload, write, type Route } from '../route.ts'

/** Templates, and projects started from them. */
export const TEMPLATES: readonly Route[] = [
  read({
    path: '/templates',
    about: 'Templates',
    handle: ({ engine, viewer }) => listTemplates(engine, viewer),
  }),
  write('post', {
    path: '/templates',
    who: 'managers',
    about: 'Make a template',
    body: shapes.templateBody,
    status: 201,
    handle: ({ engine, viewer, body }) => makeTemplate(engine, viewer, body.definition),
  }),
  upload({
    path: '/templates/read',
    who: 'managers',
    about: 'Read a CSV into a table',
    raw: { limit: 4 * 1024 * 1024 },
    apart: 'work',
    handle: ({ viewer, body }) => {
      needStructure(viewer, 'bring in templates')
      return unchanged(readTable(body))
    },
  }),
  write('post', {
    path: '/templates/import',
    who: 'managers',
    about: 'Make a template of a table',
    body: shapes.importBody,
    status: 201,
    handle: ({ engine, viewer, body }) => importTemplate(engine, viewer, body),
  }),
  read({
    path: '/templates/:id',
    about: 'One template',
    handle: ({ engine, viewer, param }) => templateSheet(engine, viewer, param('id')),
  }),
  write('put', {
    path: '/templates/:id',
    who: 'managers',
    about: 'Save a new version',
    body: shapes.templateBody,
    handle: ({ engine, viewer, param, body: { definition }, seen }) =>
      saveTemplate(engine, viewer, param('id'), { definition, seen }),
  }),
  write('post', {
    path: '/templates/:id/try',
    about: 'Lay a template on real dates',
    body: shapes.tryBody,
    apart: 'work',
    handle: ({ engine, viewer, param, body }) =>
      unchanged(tryTemplate(engine, viewer, param('id'), body)),
  }),
  write('post', {
    path: '/templates/:id/start',
    about: 'Start a project',
    body: shapes.startBody,
    status: 201,
    handle: ({ engine, viewer, param, body }) => startProject(engine, viewer, param('id'), body),
  }),
]
