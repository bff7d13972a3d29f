import Joi from 'joi'
import type { IsoDate } from '#core/brands.ts'
import { isoDate } from '#core/calendar/dates.ts'
import type { ImportMapping } from '#core/formats/template-rows.ts'
import type { Template } from '#core/templates/template.ts'
import * as shapes from '#contract/clockwork.ts'
import { id, isoDay, line } from '#contract/common.ts'
import { ruleBody, type RuleBody } from '#contract/rules.ts'
import { itemPatch, newComment, newItem, newTask, taskPatch, type NewTask, type TaskPatch } from '#contract/tasks.ts'
import type { Directory, Me } from '#contract/views.ts'
import { undoChange } from '../areas/journal/undo.ts'
import { listNotices, markRead, unread } from '../areas/notices/service.ts'
import { listProjects, projectView } from '../areas/projects/service.ts'
import { listRules, listRuns, makeRule, ruleView, saveRule, switchRule } from '../areas/rules/service.ts'
import { listSeries, makeSeries, nextDates, saveSeries, seriesView, switchSeries } from '../areas/series/service.ts'
import { activity } from '../areas/tasks/activity.ts'
import { addComment, addItem, editItem, editTask, makeTask, needTask, removeItem, taskSheet } from '../areas/tasks/service.ts'
import { importTemplate, listTemplates, makeTemplate, saveTemplate, startProject, templateView, tryTemplate } from '../areas/templates/service.ts'
import { readTable } from '../areas/templates/table.ts'
import { ribbon, todayView } from '../areas/today/service.ts'
import { selectTasks } from '../areas/tasks/queries.ts'
import type { Engine } from '../engine/services.ts'
import { isGuest, mayStructure, needMember, needStructure, type Viewer } from '../engine/viewer.ts'
import { route, type Route } from './route.ts'

const on = Joi.object({ on: Joi.boolean().required() })

export function me(engine: Engine, viewer: Viewer): Me {
  const row = engine.db.prepare('select title from people where id = ?').get(viewer.id) as { title: string }
  const firm = engine.db.prepare('select demo from firm where id = 1').get() as { demo: number } | undefined
  return {
    id: viewer.id,
    name: viewer.name,
    access: viewer.access,
    title: row.title,
    firm: engine.firm.name(),
    today: engine.firm.today(),
    now: engine.clock.now(),
    zone: engine.firm.zone(),
    demo: firm?.demo === 1,
    unread: unread(engine, viewer),
    may: { structure: mayStructure(viewer), member: !isGuest(viewer) },
  }
}

function directory(engine: Engine, viewer: Viewer): Directory {
  const people = engine.db
    .prepare(`select id, name, access, title, active from people ${isGuest(viewer) ? 'where id = @me' : 'where @me is not null'} order by name`)
    .all({ me: viewer.id }) as (Omit<Directory['people'][number], 'active'> & { active: number })[]
  const teams = isGuest(viewer) ? [] : (engine.db.prepare('select id, name from teams order by name').all() as { id: number; name: string }[])
  return {
    people: people.map((p) => ({ ...p, active: p.active === 1 })),
    teams: teams.map((t) => ({
      ...t,
      members: (engine.db.prepare('select personId from teamMembers where teamId = ?').all(t.id) as { personId: number }[]).map((m) => m.personId),
    })),
    clients: isGuest(viewer) ? [] : (engine.db.prepare('select id, name, short, tier from clients order by name').all() as Directory['clients']),
  }
}

/** Every address of the API that speaks JSON. */
export const ROUTES: readonly Route[] = [
  route({ method: 'get', path: '/me', about: 'Who is signed in', handle: ({ engine, viewer }) => me(engine, viewer) }),
  route({ method: 'get', path: '/directory', about: 'People, teams and clients to choose from', handle: ({ engine, viewer }) => directory(engine, viewer) }),
  route({ method: 'get', path: '/today', about: 'What needs me', handle: ({ engine, viewer }) => todayView(engine, viewer) }),
  route<undefined, { from?: string }>({
    method: 'get',
    path: '/ribbon',
    about: 'Fifteen days of load',
    query: Joi.object({ from: isoDay }),
    handle: ({ engine, viewer, query }) => ribbon(engine, viewer, query.from ? isoDate(query.from, 'from') : (engine.firm.today() as IsoDate)),
  }),

  route<undefined, { due: string }>({
    method: 'get',
    path: '/tasks',
    about: 'Tasks due on a day',
    query: Joi.object({ due: isoDay.required() }),
    handle: ({ engine, viewer, query }) => selectTasks(engine, viewer, 't.closedAt is null and t.due = ?', [query.due]),
  }),
  route<NewTask>({ method: 'post', path: '/tasks', about: 'Make a task', body: newTask, status: 201, handle: ({ engine, viewer, body }) => makeTask(engine, viewer, body) }),
  route({ method: 'get', path: '/tasks/:id', about: 'One task', handle: ({ engine, viewer, params }) => taskSheet(engine, viewer, params['id']!) }),
  route<TaskPatch>({
    method: 'patch',
    path: '/tasks/:id',
    about: 'Change a task',
    body: taskPatch,
    handle: ({ engine, viewer, params, body, seen }) => editTask(engine, viewer, params['id']!, body, seen),
  }),
  route({
    method: 'get',
    path: '/tasks/:id/activity',
    about: 'What happened to a task',
    handle: ({ engine, viewer, params }) => (needTask(engine, viewer, params['id']!), activity(engine, params['id']!)),
  }),
  route<{ body: string }>({
    method: 'post',
    path: '/tasks/:id/comments',
    about: 'Comment',
    body: newComment,
    status: 201,
    handle: ({ engine, viewer, params, body }) => addComment(engine, viewer, params['id']!, body.body),
  }),
  route<{ title: string }>({
    method: 'post',
    path: '/tasks/:id/items',
    about: 'Add to the checklist',
    body: newItem,
    status: 201,
    handle: ({ engine, viewer, params, body }) => addItem(engine, viewer, params['id']!, body.title),
  }),
  route<{ title?: string; done?: boolean }>({
    method: 'patch',
    path: '/tasks/:id/items/:item',
    about: 'Tick or reword',
    body: itemPatch,
    handle: ({ engine, viewer, params, body }) => editItem(engine, viewer, params['id']!, params['item']!, body),
  }),
  route({
    method: 'delete',
    path: '/tasks/:id/items/:item',
    about: 'Remove from the checklist',
    handle: ({ engine, viewer, params }) => removeItem(engine, viewer, params['id']!, params['item']!),
  }),
  route({
    method: 'post',
    path: '/tasks/:id/undo',
    about: 'Take back the last change I made to a task',
    handle: ({ engine, viewer, params }) => undoChange(engine, viewer, params['id']!),
  }),

  route({ method: 'get', path: '/projects', about: 'Projects', handle: ({ engine, viewer }) => listProjects(engine, viewer) }),
  route({ method: 'get', path: '/projects/:id', about: 'One project', handle: ({ engine, viewer, params }) => projectView(engine, viewer, params['id']!) }),

  route({ method: 'get', path: '/templates', about: 'Templates', handle: ({ engine, viewer }) => listTemplates(engine, viewer) }),
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
  route({ method: 'get', path: '/templates/:id', about: 'One template', handle: ({ engine, viewer, params }) => templateView(engine, viewer, params['id']!) }),
  route<{ definition: Template }>({
    method: 'put',
    path: '/templates/:id',
    about: 'Save a new version',
    body: shapes.templateBody,
    handle: ({ engine, viewer, params, body, seen }) => saveTemplate(engine, viewer, params['id']!, body.definition, seen),
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
    handle: ({ engine, viewer, params, body }) => projectView(engine, viewer, startProject(engine, viewer, params['id']!, body)),
  }),

  route({ method: 'get', path: '/series', about: 'Series', handle: ({ engine, viewer }) => listSeries(engine, viewer) }),
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
    body: Joi.object({ schedule: shapes.scheduleBody.required(), leadDays: Joi.number().integer().min(0).max(200).required() }),
    handle: ({ engine, viewer, body }) => (needMember(viewer, 'see schedules'), nextDates(engine, body)),
  }),
  route({ method: 'get', path: '/series/:id', about: 'One series', handle: ({ engine, viewer, params }) => seriesView(engine, viewer, params['id']!) }),
  route<shapes.SeriesBody>({
    method: 'put',
    path: '/series/:id',
    about: 'Save a series',
    body: shapes.seriesBody,
    handle: ({ engine, viewer, params, body, seen }) => saveSeries(engine, viewer, params['id']!, body, seen),
  }),
  route<{ on: boolean }>({
    method: 'post',
    path: '/series/:id/switch',
    about: 'Pause or resume',
    body: on,
    handle: ({ engine, viewer, params, body }) => switchSeries(engine, viewer, params['id']!, body.on),
  }),

  route({ method: 'get', path: '/rules', about: 'Rules', handle: ({ engine, viewer }) => listRules(engine, viewer) }),
  route<RuleBody>({ method: 'post', path: '/rules', about: 'Make a rule', body: ruleBody, status: 201, handle: ({ engine, viewer, body }) => makeRule(engine, viewer, body) }),
  route({ method: 'get', path: '/rules/:id', about: 'One rule', handle: ({ engine, viewer, params }) => ruleView(engine, viewer, params['id']!) }),
  route<RuleBody>({
    method: 'put',
    path: '/rules/:id',
    about: 'Save the next version',
    body: ruleBody,
    handle: ({ engine, viewer, params, body, seen }) => saveRule(engine, viewer, params['id']!, body, seen),
  }),
  route<{ on: boolean }>({
    method: 'post',
    path: '/rules/:id/switch',
    about: 'On or off',
    body: on,
    handle: ({ engine, viewer, params, body }) => switchRule(engine, viewer, params['id']!, body.on),
  }),
  route<undefined, { ruleId?: number; taskId?: number; outcome?: string; before?: number }>({
    method: 'get',
    path: '/runs',
    about: 'The run log',
    query: Joi.object({ ruleId: id, taskId: id, outcome: Joi.valid('done', 'skipped', 'failed'), before: id }),
    handle: ({ engine, viewer, query }) => listRuns(engine, viewer, query),
  }),

  route({ method: 'get', path: '/notices', about: 'What Fernwick told me', handle: ({ engine, viewer }) => listNotices(engine, viewer) }),
  route<{ id: number | null }>({
    method: 'post',
    path: '/notices/read',
    about: 'Mark as read',
    body: Joi.object({ id: id.allow(null).required() }),
    handle: ({ engine, viewer, body }) => markRead(engine, viewer, body.id),
  }),
]

export const credentials = Joi.object({ email: line(200).required(), password: Joi.string().min(1).max(200).required() })
export const demoWho = Joi.object({ who: Joi.valid('manager', 'member', 'contractor', 'client').required() })
