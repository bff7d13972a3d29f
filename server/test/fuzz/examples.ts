import { BOOKS, LADDER } from '../lab.ts'

/** Bodies that each address takes, by its name: what chance begins with, and what surely is taken. */

const VIEW = {
  kind: 'table',
  scope: { of: 'firm' },
  filter: { match: 'all', of: [{ field: 'due', op: 'before', value: { days: 3 } }] },
  sort: [{ field: 'due', down: true }],
  group: 'state',
  columns: [{ field: 'title', width: 300 }],
  colour: null,
  tree: true,
  step: 'month',
}
const SCHEDULE = {
  start: '2026-11-23T09:00',
  rule: 'FREQ=MONTHLY;BYDAY=-1FR',
  roll: 'modified-following',
  exclude: ['2026-12-25'],
}
const PERIOD = { of: 'month', which: 'before' }
const SERIES = {
  name: 'Post',
  leadDays: 3,
  schedule: SCHEDULE,
  makes: {
    kind: 'task',
    title: 'Post {period: MMMM}',
    description: '',
    clientId: 1,
    projectId: null,
    assignees: [2],
    estimate: 30,
    checklist: ['Cash'],
    period: PERIOD,
  },
}
const RULE = { name: 'Late', ownerId: 1, definition: LADDER({ team: 1, boss: 1 }) }
const REMINDER = {
  when: { kind: 'dated', days: 2, unit: 'working', side: 'before', field: 'due', time: '09:00' },
  ...{ assignees: true, people: [], daily: true, text: 'Soon' },
}
const HIGH = { match: 'all', of: [{ field: 'priority', op: 'in', value: ['high'] }] }
const REACTING = {
  ...{ name: 'High work', ownerId: 1 },
  definition: {
    trigger: { kind: 'changed', field: 'priority', from: ['normal'], to: ['high'] },
    ...{ scope: { of: 'firm' }, conditions: HIGH },
    actions: [
      { kind: 'set-field', field: 'estimate', value: 90 },
      {
        ...{ kind: 'branch', conditions: HIGH },
        actions: [{ kind: 'assign', who: { is: 'team-turn', id: 1 } }, { kind: 'stop' }],
        otherwise: [
          { kind: 'tell', who: { is: 'role', role: 'Keeper' }, mail: true, text: '{task}' },
        ],
      },
      { kind: 'wait', amount: 2, unit: 'working' },
      {
        ...{ kind: 'keep-reminding', who: { is: 'lead' }, time: '09:00', unit: 'working' },
        ...{ until: HIGH, text: '{task} waits' },
      },
    ],
  },
}
const FIELD = {
  name: 'Room',
  kind: 'choice',
  options: { choices: [{ key: 'a', name: 'A', colour: 'fern' }] },
  projectId: null,
  templateId: null,
  hidden: false,
}
const START = { clientId: 1, anchor: '2026-12-31', roles: { keeper: { person: 2 } } }
const TASK = {
  title: 'Post takings',
  description: '<p>As <b>ever</b></p>',
  priority: 'high',
  start: '2026-11-30',
  due: '2026-12-03',
  dueTime: '15:00',
  estimate: 90,
  assignees: [2, 3],
  projectId: 1,
}
const STATES = {
  name: 'The firm’s',
  states: ['not-started', 'under-way', 'waiting', 'in-review', 'done', 'dropped'].map(
    (kind, i) => ({ id: i + 1, name: kind, kind, colour: null, only: 'anyone' }),
  ),
  moveTo: {},
}

export const EXAMPLES: Readonly<Record<string, unknown>> = {
  'post /notices/read': { id: null },
  'post /tasks': TASK,
  'post /tasks/bulk': { ids: [1, 2], addTags: [1], shift: { days: 2, working: true } },
  'post /tasks/edits': {
    edits: [{ id: 1, patch: { title: 'Again' } }],
    make: [{ ...TASK, phaseName: 'Gather' }],
    project: { name: 'Brought in', clientId: 1 },
  },
  'patch /tasks/:id': { state: 'under-way' },
  'put /tasks/:id/order': { after: null },
  'post /tasks/:id/copy': { title: 'A copy', take: ['dates', 'checklist', 'subtasks', 'fields'] },
  'post /tasks/:id/merge': { into: 2 },
  'post /tasks/:id/comments': { body: '<p>Said</p>' },
  'put /tasks/:id/comments/:comment': { body: '<p>Said again</p>' },
  'post /tasks/:id/items': { title: 'A step' },
  'patch /files/:id': { onBoard: true },
  'patch /tasks/:id/items/:item': { done: true },
  'post /tasks/:id/links': { name: '', url: 'https://quillhaven.example/plan' },
  'post /projects/:id/links': { name: 'Plan', url: 'mailto:imogen@quillhaven.example' },
  'post /projects': { name: 'Anew', clientId: 1, phases: ['Gather', 'Close'] },
  'patch /projects/:id': { health: 'watch', healthReason: 'Late statements' },
  'put /projects/:id/phases': { phases: [{ name: 'Gather' }, { name: 'Close' }] },
  'post /projects/:id/milestones': { name: 'Signed', ownerId: 2, date: '2026-12-18', done: false },
  'patch /projects/:id/milestones/:milestone': { done: true },
  'post /projects/:id/posts': { body: '<p>So far so good</p>', health: 'steady' },
  'put /projects/:id/posts/:post': { body: '<p>Reworded</p>' },
  'patch /firm': {
    ...{ name: 'Quillhaven', currency: 'GBP', hours: { MO: 450, TU: 450 } },
    projectNames: { proposed: 'Offered', running: 'Live', hold: 'Parked', finished: 'Over' },
  },
  'post /firm/holidays': { days: [{ date: '2026-12-31', name: 'Closed', half: true }] },
  'put /firm/place': { country: 'GB', region: 'ENG' },
  'put /firm/mail': {
    ...{ host: 'mail.example.org', port: 587, security: 'starttls', user: 'quill' },
    ...{ password: 'lichen', from: 'post@example.org' },
  },
  'put /projects/:id/audience': { audience: 'named', teamId: null },
  'post /projects/:id/shares': { people: [2, 3], may: 'comment', phaseId: null },
  'post /clients/:id/shares': { people: [2], may: 'edit' },
  'post /teams': { name: 'Reception', kind: 'ask', members: [2, 3] },
  'patch /teams/:id': { kind: 'open', members: [3] },
  'post /teams/:id/answer': { personId: 3, let: false },
  'post /projects/:id/copy': { name: 'Again', take: ['dates', 'milestones'], anchor: '2027-01-29' },
  'post /projects/:id/split': { name: 'Apart', ids: [1] },
  'post /projects/:id/merge': { into: 2 },
  'put /projects/:id/states': { setId: 1, copy: true },
  'put /templates/:id/states': { setId: 1 },
  'put /state-sets/:id': STATES,
  'post /fields': FIELD,
  'put /fields/:id': FIELD,
  'post /fields/:id/hide': { projectId: 1, hidden: true },
  'post /tags': { name: 'records', colour: 'teal' },
  'put /tags/:id': { name: 'records', colour: 'clay' },
  'post /people': {
    people: [{ name: 'Ines Corbet', email: 'ines@sallowfield.example', access: 'member' }],
    address: 'https://fernwick.example',
  },
  'patch /me': {
    ways: { zone: 'Asia/Tokyo', first: 'SA', clock: 12, theme: null },
    name: 'Ines Corbet',
  },
  'put /client-states': {
    states: [
      { id: 1, name: 'In talks', colour: 'ochre', first: false },
      { id: 2, name: 'Active', colour: 'fern', first: true },
    ],
    removed: [4],
  },
  'patch /clients/:id': {
    ...{ phone: '0123', website: 'https://x.example', address: 'Mill Lane', notes: 'Late' },
    ...{ kind: 'person', leadId: 1, usual: [{ role: 'Reviewer', personId: 2 }] },
  },
  'post /clients/bring': {
    clients: [
      {
        ...{ name: 'Beckside Dental', tier: 'gold', email: 'post@beckside.example', same: null },
        contacts: [{ name: 'Ines', title: 'Owner', email: 'ines@beckside.example' }],
      },
    ],
  },
  'post /projects/:id/resume': { shift: true },
  'patch /people/:id': { title: 'Bookkeeper', hours: { MO: 240 }, managerId: 1, standInId: 1 },
  'post /people/:id/time-off': {
    ...{ firstDay: '2026-12-01', lastDay: '2026-12-04', half: false, minutes: 90, reason: 'Away' },
  },
  'post /people/:id/leave': { to: { tasks: 1, rules: 1, views: null } },
  'post /people/:id/invite': { address: 'https://fernwick.example' },
  'post /clients': { clients: [{ name: 'Beckside Dental', short: 'Beck', tier: 'gold' }] },
  'put /dates': { first: 'SU', clock: 12 },
  'put /retention': { journal: null, runs: 365, notices: 90, mail: 90 },
  'post /templates': { definition: BOOKS },
  'post /templates/import': {
    name: 'Brought in',
    anchor: 'deadline',
    rows: [['Post', '-3']],
    mapping: { title: 0, days: 1 },
  },
  'put /templates/:id': { definition: BOOKS },
  'post /templates/:id/try': START,
  'post /templates/:id/start': { ...START, name: 'Books' },
  'post /feeds': { of: 'person' },
  'post /series': SERIES,
  'post /series/bring': { series: [SERIES] },
  'post /series/moved': { dates: [{ series: 1, scheduled: '2026-12-05' }] },
  'post /series/decide': { dates: [{ series: 1, scheduled: '2026-12-05' }], deed: 'skip' },
  'post /series/dates': { schedule: SCHEDULE, leadDays: 3 },
  'put /series/:id': SERIES,
  'post /series/:id/switch': { on: true },
  'post /series/:id/archive': { on: true },
  'post /templates/:id/archive': { on: true },
  'put /clockwork': { on: true },
  'post /tasks/:id/reminders': REMINDER,
  'put /tasks/:id/reminders/:reminder': REMINDER,
  'post /rules': REACTING,
  'post /rules/try': { ...REACTING, item: 1 },
  'post /rules/fill': { about: 'task', item: 1, text: '{task} of {people} is {days late} late' },
  'post /rules/past': REACTING,
  'put /rules/:id': RULE,
  'post /rules/:id/switch': { on: true },
  'put /projects/:id/rules/:rule': { on: false },
  'post /views': { name: 'Mine', shared: true, definition: VIEW },
  'put /views/:id': { name: 'Mine', shared: false, definition: VIEW },
  'post /views/:id/pin': { on: true },
}

/** What addresses take beside a body, where chance alone would not find it. */
export const QUERIES: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  'get /tasks/export': { format: 'csv' },
  'get /clients/export': { format: 'vcf' },
  'get /projects/closed': { part: 'finished' },
  'get /find': { words: 'post' },
  'get /series/expected': { from: '2026-11-01', to: '2026-11-30', of: 'firm' },
  'get /series/round': { from: '2026-11-01', to: '2026-11-30' },
  'get /holidays': { from: '2026-11-01', to: '2027-01-31' },
  'get /find/first': { words: 'post' },
  'get /rules/:id/why': { task: '1', at: '1000' },
  'post /tasks/:id/files': { name: 'plan.txt' },
  'post /projects/:id/files': { name: 'plan.txt' },
}
