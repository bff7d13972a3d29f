import Joi from 'joi'
import type { ImportMapping } from '#core/formats/template-rows.ts'
import type { Template } from '#core/templates/template.ts'
import * as shapes from '#contract/clockwork.ts'
import { id } from '#contract/common.ts'
import { ruleBody, type RuleBody } from '#contract/rules.ts'
import { projectView } from '../../areas/projects/queries.ts'
import {
  listRules,
  listRuns,
  makeRule,
  ruleView,
  saveRule,
  switchRule,
} from '../../areas/rules/service.ts'
import {
  listSeries,
  makeSeries,
  nextDates,
  saveSeries,
  seriesView,
  switchSeries,
} from '../../areas/series/service.ts'
import {
  importTemplate,
  listTemplates,
  makeTemplate,
  saveTemplate,
  startProject,
  templateView,
  tryTemplate,
} from '../../areas/templates/service.ts'
import { readTable } from '../../areas/templates/table.ts'
import { needMember, needStructure } from '../../engine/viewer.ts'
import { route, type Route } from '../route.ts'

const on = Joi.object({ on: Joi.boolean().required() })

/** Templates, series, rules and what they did. */
export const CLOCKWORK: readonly Route[] = [
  route({
    method: 'get',
    path: '/templates',
    about: 'Templates',
    handle: ({ engine, viewer }) => listTemplates(engine, viewer),
  }),
  route<{ definition: Template }>({
    method: 'post',
    path: '/templates',
    about: 'Make a template',
    body: shapes.templateBody,
    status: 201,
    handle: ({ engine, viewer, body }) => makeTemplate(engine, viewer, body.definition),
  }),
  route<Buffer>({
    method: 'post',
    path: '/templates/read',
    about: 'Read a CSV into a table',
    raw: { limit: 4 * 1024 * 1024 },
    handle: ({ viewer, body }) => (needStructure(viewer, 'bring in templates'), readTable(body)),
  }),
  route<{ name: string; anchor: Template['anchor']; rows: string[][]; mapping: ImportMapping }>({
    method: 'post',
    path: '/templates/import',
    about: 'Make a template of a table',
    body: shapes.importBody,
    status: 201,
    handle: ({ engine, viewer, body }) => importTemplate(engine, viewer, body),
  }),
  route({
    method: 'get',
    path: '/templates/:id',
    about: 'One template',
    handle: ({ engine, viewer, params }) => templateView(engine, viewer, params['id']!),
  }),
  route<{ definition: Template }>({
    method: 'put',
    path: '/templates/:id',
    about: 'Save a new version',
    body: shapes.templateBody,
    handle: ({ engine, viewer, params, body, seen }) =>
      saveTemplate(engine, viewer, params['id']!, body.definition, seen),
  }),
  route<shapes.StartBody>({
    method: 'post',
    path: '/templates/:id/try',
    about: 'Lay a template on real dates',
    body: shapes.tryBody,
    handle: ({ engine, viewer, params, body }) => tryTemplate(engine, viewer, params['id']!, body),
  }),
  route<shapes.StartBody & { name: string }>({
    method: 'post',
    path: '/templates/:id/start',
    about: 'Start a project',
    body: shapes.startBody,
    status: 201,
    handle: ({ engine, viewer, params, body }) =>
      projectView(engine, viewer, startProject(engine, viewer, params['id']!, body)),
  }),

  route({
    method: 'get',
    path: '/series',
    about: 'Series',
    handle: ({ engine, viewer }) => listSeries(engine, viewer),
  }),
  route<shapes.SeriesBody>({
    method: 'post',
    path: '/series',
    about: 'Make a series',
    body: shapes.seriesBody,
    status: 201,
    handle: ({ engine, viewer, body }) => makeSeries(engine, viewer, body),
  }),
  route<{ schedule: shapes.ScheduleBody; leadDays: number }>({
    method: 'post',
    path: '/series/dates',
    about: 'The next twelve dates of a schedule',
    body: Joi.object({
      schedule: shapes.scheduleBody.required(),
      leadDays: Joi.number().integer().min(0).max(200).required(),
    }),
    handle: ({ engine, viewer, body }) => (
      needMember(viewer, 'see schedules'),
      nextDates(engine, body)
    ),
  }),
  route({
    method: 'get',
    path: '/series/:id',
    about: 'One series',
    handle: ({ engine, viewer, params }) => seriesView(engine, viewer, params['id']!),
  }),
  route<shapes.SeriesBody>({
    method: 'put',
    path: '/series/:id',
    about: 'Save a series',
    body: shapes.seriesBody,
    handle: ({ engine, viewer, params, body, seen }) =>
      saveSeries(engine, viewer, params['id']!, body, seen),
  }),
  route<{ on: boolean }>({
    method: 'post',
    path: '/series/:id/switch',
    about: 'Pause or resume',
    body: on,
    handle: ({ engine, viewer, params, body }) =>
      switchSeries(engine, viewer, params['id']!, body.on),
  }),

  route({
    method: 'get',
    path: '/rules',
    about: 'Rules',
    handle: ({ engine, viewer }) => listRules(engine, viewer),
  }),
  route<RuleBody>({
    method: 'post',
    path: '/rules',
    about: 'Make a rule',
    body: ruleBody,
    status: 201,
    handle: ({ engine, viewer, body }) => makeRule(engine, viewer, body),
  }),
  route({
    method: 'get',
    path: '/rules/:id',
    about: 'One rule',
    handle: ({ engine, viewer, params }) => ruleView(engine, viewer, params['id']!),
  }),
  route<RuleBody>({
    method: 'put',
    path: '/rules/:id',
    about: 'Save the next version',
    body: ruleBody,
    handle: ({ engine, viewer, params, body, seen }) =>
      saveRule(engine, viewer, params['id']!, body, seen),
  }),
  route<{ on: boolean }>({
    method: 'post',
    path: '/rules/:id/switch',
    about: 'On or off',
    body: on,
    handle: ({ engine, viewer, params, body }) =>
      switchRule(engine, viewer, params['id']!, body.on),
  }),
  route<undefined, { ruleId?: number; taskId?: number; outcome?: string; before?: number }>({
    method: 'get',
    path: '/runs',
    about: 'The run log',
    query: Joi.object({
      ruleId: id,
      taskId: id,
      outcome: Joi.valid('done', 'skipped', 'failed'),
      before: id,
    }),
    handle: ({ engine, viewer, query }) => listRuns(engine, viewer, query),
  }),
]
