import { addPost } from '../areas/projects/posts.ts'
import { makeMilestone } from '../areas/projects/milestones.ts'
import { addComment } from '../areas/tasks/comments.ts'
import { addItem } from '../areas/tasks/checklist.ts'
import { ROUTES } from './routes/index.ts'
import { describe, expect, it } from 'vitest'
import { Refusal } from '#core/refusal.ts'
import type { RuleBody } from '#contract/rules.ts'
import { addLink } from '../areas/attachments/service.ts'
import { makeField, makeTag } from '../areas/fields/service.ts'
import { makeProject } from '../areas/projects/service.ts'
import { makeRule } from '../areas/rules/service.ts'
import { makeFeed } from '../areas/feeds/service.ts'
import { makeSeries } from '../areas/series/service.ts'
import { makeTask } from '../areas/tasks/service.ts'
import { makeTemplate } from '../areas/templates/service.ts'
import { makeView } from '../areas/views/service.ts'
import type { Viewer } from '../engine/viewer.ts'
import { BOOKS, ENGINE, lab, LADDER } from '../test/lab.ts'
import type { Route } from './route.ts'

/**
 * A firm with one thing of each kind that everybody shares out: `own` is with the guest, `other` is
 * not.
 */
function firm() {
  const l = lab()
  const project = (name: string) =>
    makeProject(l.engine, l.imogen, { name, clientId: l.client, phases: ['Gather'] }).result.id
  const thing = (name: string, assignees: number[]) => {
    const projectId = project(name)
    const task = makeTask(l.engine, l.imogen, {
      title: name,
      projectId,
      assignees,
      checklist: ['Step'],
    }).result
    const sheet = addComment(l.engine, l.imogen, task.id, '<p>Said</p>').result
    addLink(
      l.engine,
      l.imogen,
      { taskId: task.id },
      { name: 'Plan', url: 'https://quillhaven.example/plan' },
    )
    return {
      projects: projectId,
      tasks: task.id,
      comment: sheet.discussion[0]!.id,
      item: addItem(l.engine, l.imogen, task.id, 'Another').result.checklist[0]!.id,
      files: l.rows<{ id: number }>('select id from attachments where taskId = ?', task.id)[0]!.id,
      milestone: makeMilestone(l.engine, l.imogen, projectId, {
        name: 'Signed',
        ownerId: null,
        date: null,
        done: false,
      }).result.milestones[0]!.id,
      post: addPost(l.engine, l.imogen, projectId, { body: '<p>Said</p>', health: null }).result
        .posts[0]!.id,
    }
  }
  const template = makeTemplate(l.engine, l.imogen, BOOKS).result.id
  const shared = {
    templates: template,
    clients: l.client,
    series: makeSeries(l.engine, l.imogen, SERIES as never).result.id,
    feeds: makeFeed(l.engine, l.imogen, { of: 'person' }).result.id,
    rules: makeRule(l.engine, l.imogen, RULE(l.team, l.imogen.id)).result.id,
    views: makeView(l.engine, l.imogen, { name: 'Mine', shared: true, definition: VIEW as never })
      .result.id,
    fields: makeField(l.engine, l.imogen, FIELD as never).result[0]!.id,
    tags: makeTag(l.engine, l.imogen, { name: 'records', colour: 'teal' }).result.id,
    'state-sets': 1,
    changes: 3,
    runs: l.engine.journal.change(ENGINE, (write) =>
      write.insert('runs', { key: 'run', outcome: 'done', summary: '', reasons: [], at: 0 }),
    ).result,
  }
  return {
    l,
    own: { ...shared, ...thing('Theirs', [l.corrie.id]) },
    other: { ...shared, ...thing('Elsewhere', [l.tobias.id]) },
  }
}
type Ids = Record<string, number>

const VIEW = {
  kind: 'list',
  scope: { of: 'firm' },
  filter: { match: 'all', of: [] },
  sort: [],
  group: null,
  columns: [],
  colour: null,
  tree: false,
  step: 'month',
}
const SERIES = {
  name: 'Post',
  leadDays: 3,
  schedule: { start: '2026-11-23', rule: { workday: 5, of: 'month' }, roll: 'following' },
  makes: {
    kind: 'task',
    title: 'Post',
    description: '',
    clientId: null,
    projectId: null,
    assignees: [],
    estimate: null,
    checklist: [],
    period: { of: 'month', which: 'before' },
  },
}
const RULE = (team: number, boss: number): RuleBody => ({
  name: 'Late',
  ownerId: boss,
  definition: LADDER({ team, boss }),
})
const FIELD = {
  name: 'Room',
  kind: 'text',
  options: {},
  projectId: null,
  templateId: null,
  hidden: false,
}

/**
 * What guests may call at all: about themselves, and on tasks that are with them. Every other route
 * refuses them.
 */
const GUESTS = new Set([
  'get /me',
  'patch /me',
  'get /directory',
  'get /today',
  'get /ribbon',
  'get /holidays',
  'get /notices',
  'post /notices/read',
  'get /tasks',
  'get /tasks/outline',
  'get /tasks/export',
  'get /find',
  'get /find/first',
  'get /projects',
  'get /projects/:id',
  'get /projects/closed',
  'get /phases',
  'get /tasks/:id',
  'patch /tasks/:id',
  'get /tasks/:id/activity',
  'post /tasks',
  'post /tasks/:id/items',
  'post /tasks/:id/reminders',
  'put /tasks/:id/reminders/:reminder',
  'delete /tasks/:id/reminders/:reminder',
  'delete /tasks/:id/items/:item',
  'post /projects/:id/posts',
  'put /projects/:id/posts/:post',
  'post /tasks/:id/comments',
  'put /tasks/:id/comments/:comment',
  'patch /tasks/:id/items/:item',
  'post /tasks/:id/files',
  'post /tasks/:id/links',
  'get /files/:id',
  'delete /files/:id',
  'post /me/photo',
  'delete /me/photo',
  'get /people/:id/photo',
  'get /feeds',
  'post /feeds',
  'delete /feeds/:id',
  'get /feeds/:id/calendar',
  'get /series/expected',
])
/** Structure: what members may not call, with a body that would be taken. */
const MANAGERS: Readonly<Record<string, unknown>> = {
  'post /people': {
    people: [{ name: 'Ines', email: 'ines@example.org', access: 'member' }],
    address: 'https://fernwick.example',
  },
  'get /firm': undefined,
  'patch /firm': { name: 'Ours' },
  'post /firm/holidays': { days: [{ date: '2026-12-31', name: 'Closed', half: true }] },
  'get /firm/holidays': undefined,
  'delete /firm/holidays/:holiday': undefined,
  'put /firm/place': { country: 'GB', region: null },
  'put /firm/mail': {
    ...{ host: 'mail.example.org', port: 25, security: 'none', user: '', from: 'a@example.org' },
  },
  'delete /firm/mail': undefined,
  'patch /people/:id': { active: false },
  'delete /people/:id/second-factor': undefined,
  'delete /people/:id/tokens/:token': undefined,
  'get /people/:id/hand-over': undefined,
  'post /people/:id/leave': { to: {} },
  'post /people/:id/invite': { address: 'https://fernwick.example' },
  'post /clients': { clients: [{ name: 'Beckside' }] },
  'patch /clients/:id': { tier: 'bronze' },
  'put /client-states': {
    states: [{ id: 2, name: 'Active', colour: 'fern', first: true }],
    removed: [],
  },
  'post /clients/bring': { clients: [{ name: 'Beckside', contacts: [], same: null }] },
  'post /clients/:id/merge': { into: 1 },
  'put /projects/:id/audience': { audience: 'named' },
  'get /projects/:id/resume': undefined,
  'post /projects/:id/resume': { shift: true },
  'get /projects/:id/shares': undefined,
  'post /projects/:id/shares': { people: [1], may: 'view' },
  'delete /projects/:id/shares/:share': undefined,
  'get /clients/:id/shares': undefined,
  'post /clients/:id/shares': { people: [1], may: 'view' },
  'delete /clients/:id/shares/:given': undefined,
  'get /people/:id/sees': undefined,
  'post /teams': { name: 'Reception', kind: 'open' },
  'patch /teams/:id': { kind: 'closed' },
  'delete /teams/:id': undefined,
  'patch /projects/:id': { name: 'Renamed' },
  'put /projects/:id/phases': { phases: [] },
  'post /projects/:id/milestones': { name: 'Signed', ownerId: null, date: null, done: false },
  'patch /projects/:id/milestones/:milestone': { date: '2026-12-01' },
  'delete /projects/:id/milestones/:milestone': undefined,
  'put /projects/:id/posts/:post': { body: '<p>Not mine</p>' },
  'put /projects/:id/rules/:rule': { on: false },
  'put /projects/:id/states': { setId: 1, copy: true },
  'post /projects/:id/merge': { into: 1 },
  'put /templates/:id/states': { setId: 1 },
  'put /state-sets/:id': {
    name: 'The firm’s',
    states: (['not-started', 'done'] as const).map((kind) => ({
      name: kind,
      kind,
      colour: null,
      only: 'anyone',
    })),
    moveTo: {},
  },
  'delete /state-sets/:id': undefined,
  'post /fields': FIELD,
  'put /fields/:id': FIELD,
  'post /fields/:id/hide': { projectId: 1, hidden: true },
  'delete /tags/:id': undefined,
  'put /views/:id': { name: 'Theirs', shared: true, definition: VIEW },
  'delete /views/:id': undefined,
  'post /templates': { definition: BOOKS },
  'post /templates/import': {
    name: 'Books',
    anchor: 'deadline',
    rows: [['Post']],
    mapping: { title: 0 },
  },
  'put /templates/:id': { definition: BOOKS },
  'post /series': SERIES,
  'put /series/:id': SERIES,
  'post /series/moved': { dates: [{ series: 1, scheduled: '2026-12-05' }] },
  'post /series/decide': { dates: [{ series: 1, scheduled: '2026-12-05' }], deed: 'skip' },
  'post /series/:id/switch': { on: true },
  'put /clockwork': { on: true },
  'post /rules': RULE(1, 1),
  'post /rules/try': { ...RULE(1, 1), item: 1 },
  'post /rules/fill': { about: 'task', item: 1, text: '{task}' },
  'post /rules/past': RULE(1, 1),
  'post /runs/:id/again': undefined,
  'put /rules/:id': RULE(1, 1),
  'post /rules/:id/switch': { on: true },
  'put /tasks/:id/comments/:comment': { body: '<p>Not mine</p>' },
  'post /changes/:id/undo': undefined,
}
/** Bodies for guests to try with; anything does where they are refused before it is looked at. */
const BODIES: Readonly<Record<string, unknown>> = {
  ...MANAGERS,
  'patch /tasks/:id': { title: 'Mine now' },
}

const nameOf = (route: Route) => `${route.method} ${route.path}`
function paramsOf(path: string, ids: Ids): Record<string, number> {
  const kind = path.split('/')[1]!
  return Object.fromEntries(
    [...path.matchAll(/:(\w+)/g)].map(([, name]) => [
      name!,
      name === 'id' ? ids[kind]! : ids[name!]!,
    ]),
  )
}
async function refused(
  f: ReturnType<typeof firm>,
  route: Route,
  viewer: Viewer,
  ids: Ids,
): Promise<string> {
  const before = f.l.rows('select max(id) as id from journal')
  try {
    const call = {
      engine: f.l.engine,
      viewer,
      param: (name: string) => paramsOf(route.path, ids)[name]!,
      query: {},
      body: BODIES[nameOf(route)] ?? {},
      seen: null,
    }
    await route.handle(call as never)
    return 'taken'
  } catch (error) {
    if (!(error instanceof Refusal)) throw error
    // A refusal leaves nothing behind.
    expect(f.l.rows('select max(id) as id from journal')).toEqual(before)
    return error.code
  }
}

describe('who may call what', () => {
  const f = firm()
  it('the table knows every route it names, and its bodies are ones that would be taken', () => {
    const names = new Set(ROUTES.map(nameOf))
    for (const name of [...GUESTS, ...Object.keys(MANAGERS)]) expect(names, name).toContain(name)
    for (const route of ROUTES) {
      const body = MANAGERS[nameOf(route)]
      if (body !== undefined)
        expect(route.body!.validate(body).error?.message, nameOf(route)).toBeUndefined()
    }
  })
  it.each(ROUTES.filter((r) => !GUESTS.has(nameOf(r))).map((r) => [nameOf(r), r] as const))(
    'guests: %s is refused, on what is with them too',
    async (_, route) => {
      expect(await refused(f, route, f.l.corrie, f.own)).toMatch(/^(forbidden|not-found)$/)
      expect(await refused(f, route, f.l.corrie, f.other)).toMatch(/^(forbidden|not-found)$/)
    },
  )
  it.each(
    ROUTES.filter((r) => GUESTS.has(nameOf(r)) && r.path.includes(':')).map(
      (r) => [nameOf(r), r] as const,
    ),
  )('guests: %s is not there for what is not with them', async (_, route) => {
    expect(await refused(f, route, f.l.corrie, f.other)).toBe('not-found')
  })
  it.each(ROUTES.filter((r) => nameOf(r) in MANAGERS).map((r) => [nameOf(r), r] as const))(
    'members: %s is a manager’s, or its author’s',
    async (_, route) => {
      expect(await refused(f, route, f.l.tobias, f.own)).toBe('forbidden')
    },
  )
})
