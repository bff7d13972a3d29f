import Joi from 'joi'
import type { IsoDate } from '#core/brands.ts'
import { isoDate } from '#core/calendar/dates.ts'
import { id, isoDay, line } from '#contract/common.ts'
import type { Directory, Me } from '#contract/views.ts'
import { allFields } from '../areas/fields/queries.ts'
import { listTags } from '../areas/fields/service.ts'
import { listNotices, markRead, unread } from '../areas/notices/service.ts'
import { ribbon, todayView } from '../areas/today/service.ts'
import type { Engine } from '../engine/services.ts'
import { isGuest, mayStructure, type Viewer } from '../engine/viewer.ts'
import { route, type Route } from './route.ts'
import { CLOCKWORK } from './routes/clockwork.ts'
import { PROJECTS } from './routes/projects.ts'
import { TASKS } from './routes/tasks.ts'

export function me(engine: Engine, viewer: Viewer): Me {
  const row = engine.db.prepare('select title from people where id = ?').get(viewer.id) as {
    title: string
  }
  const firm = engine.db.prepare('select demo from firm where id = 1').get() as
    { demo: number } | undefined
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
    .prepare(
      `select id, name, access, title, active from people ${isGuest(viewer) ? 'where id = @me' : 'where @me is not null'} order by name`,
    )
    .all({ me: viewer.id }) as (Omit<Directory['people'][number], 'active'> & { active: number })[]
  const teams = isGuest(viewer)
    ? []
    : (engine.db.prepare('select id, name from teams order by name').all() as {
        id: number
        name: string
      }[])
  return {
    people: people.map((p) => ({ ...p, active: p.active === 1 })),
    teams: teams.map((t) => ({
      ...t,
      members: (
        engine.db.prepare('select personId from teamMembers where teamId = ?').all(t.id) as {
          personId: number
        }[]
      ).map((m) => m.personId),
    })),
    clients: isGuest(viewer)
      ? []
      : (engine.db
          .prepare('select id, name, short, tier from clients order by name')
          .all() as Directory['clients']),
    projects: isGuest(viewer)
      ? []
      : (engine.db
          .prepare(
            'select id, name, clientId, coalesce(stateSetId, 1) as stateSetId, templateId from projects where archivedAt is null order by closedAt is not null, name',
          )
          .all() as Directory['projects']),
    phases: isGuest(viewer)
      ? []
      : (engine.db
          .prepare(
            'select ph.id, ph.projectId, ph.name from phases ph join projects p on p.id = ph.projectId where p.archivedAt is null order by ph.projectId, ph.position',
          )
          .all() as Directory['phases']),
    templates: isGuest(viewer)
      ? []
      : (engine.db
          .prepare('select id, name from templates order by name')
          .all() as Directory['templates']),
    states: engine.db
      .prepare(
        'select id, setId, name, kind, colour, only from states order by setId, position, id',
      )
      .all() as Directory['states'],
    tags: isGuest(viewer) ? [] : listTags(engine),
    fields: isGuest(viewer) ? [] : allFields(engine.db),
  }
}

/** Every address of the API that speaks JSON. */
export const ROUTES: readonly Route[] = [
  route({
    method: 'get',
    path: '/me',
    about: 'Who is signed in',
    handle: ({ engine, viewer }) => me(engine, viewer),
  }),
  route({
    method: 'get',
    path: '/directory',
    about: 'People, teams and clients to choose from',
    handle: ({ engine, viewer }) => directory(engine, viewer),
  }),
  route({
    method: 'get',
    path: '/today',
    about: 'What needs me',
    handle: ({ engine, viewer }) => todayView(engine, viewer),
  }),
  route<undefined, { from?: string }>({
    method: 'get',
    path: '/ribbon',
    about: 'Fifteen days of load',
    query: Joi.object({ from: isoDay }),
    handle: ({ engine, viewer, query }) =>
      ribbon(
        engine,
        viewer,
        query.from ? isoDate(query.from, 'from') : (engine.firm.today() as IsoDate),
      ),
  }),

  ...TASKS,
  ...PROJECTS,
  ...CLOCKWORK,

  route({
    method: 'get',
    path: '/notices',
    about: 'What Fernwick told me',
    handle: ({ engine, viewer }) => listNotices(engine, viewer),
  }),
  route<{ id: number | null }>({
    method: 'post',
    path: '/notices/read',
    about: 'Mark as read',
    body: Joi.object({ id: id.allow(null).required() }),
    handle: ({ engine, viewer, body }) => markRead(engine, viewer, body.id),
  }),
]

export const credentials = Joi.object({
  email: line(200).required(),
  password: Joi.string().min(1).max(200).required(),
})
export const demoWho = Joi.object({
  who: Joi.valid('manager', 'member', 'contractor', 'client').required(),
})
