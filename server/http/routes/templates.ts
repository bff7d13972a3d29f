import * as shapes from '#contract/clockwork.ts'
import { switchBody } from '#contract/common.ts'
import {
  archiveTemplate,
  copyTemplate,
  importTemplate,
  listTemplates,
  makeTemplate,
  removeTemplate,
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
    about: 'Read a CSV, a workbook or what was pasted into a table',
    raw: { limit: 4 * 1024 * 1024 },
    apart: 'work',
    handle: async ({ viewer, body }) => {
      needStructure(viewer, 'bring in templates')
      return unchanged(await readTable(body))
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
    path: '/templates/:id/copy',
    who: 'managers',
    about: 'Make another of a template',
    status: 201,
    handle: ({ engine, viewer, param }) => copyTemplate(engine, viewer, param('id')),
  }),
  write('post', {
    path: '/templates/:id/archive',
    who: 'managers',
    about: 'Put a template aside, or back',
    body: switchBody,
    handle: ({ engine, viewer, param, body }) =>
      archiveTemplate(engine, viewer, param('id'), body.on),
  }),
  write('delete', {
    path: '/templates/:id',
    who: 'managers',
    about: 'Remove a template that nothing was started from',
    handle: ({ engine, viewer, param }) => removeTemplate(engine, viewer, param('id')),
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
