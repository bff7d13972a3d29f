import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import Koa from 'koa'
import { isoDate } from '#core/calendar/dates.ts'
import { TIERS } from '#contract/words.ts'
import type { TaskQuery } from '#contract/query.ts'
import { find, findFirst } from '#server/areas/search/service.ts'
import { taskPage } from '#server/areas/tasks/page.ts'
import { createApp } from '#server/http/app.ts'
import { createLive } from '#server/http/live.ts'
import { openSession } from '#server/http/sessions.ts'
import { ENGINE, house, recorded, NOW, race, report } from './house.ts'

const TASKS = 100_000
const VERBS = ['Ask', 'Chase', 'Post', 'Check', 'Send', 'File', 'Agree', 'Count', 'Review', 'Order']
const THINGS = [
  'statements',
  'takings',
  'payroll',
  'registers',
  'invoices',
  'rota',
  'claims',
  'certificates',
  'fees',
  'stock',
]
const RARE = ['autoclave', 'microchip', 'dispensary', 'quarantine', 'anaesthetic']

const h = house()
const viewer = { id: h.people[0]!, name: 'P0', access: 'manager' as const, clientId: null }
h.engine.journal.change(ENGINE, (write) => {
  const clients = Array.from({ length: 200 }, (_, i) =>
    write.insert('clients', {
      name: `Clinic ${i}`,
      short: `C${i}`,
      tier: TIERS[i % 3]!,
    }),
  )
  const projects = clients.flatMap((clientId, i) =>
    [0, 1].map((n) =>
      write.insert('projects', { name: `Project ${i}-${n}`, clientId, createdAt: NOW }),
    ),
  )
  for (let i = 0; i < TASKS; i++) {
    const id = write.insert('tasks', {
      title: `${VERBS[i % 10]} ${THINGS[Math.floor(i / 10) % 10]} ${i % 997 === 0 ? RARE[i % 5] : ''}`,
      description: `<p>For the ${THINGS[(i * 7) % 10]} of this month, as agreed with the practice.</p>`,
      projectId: projects[i % projects.length]!,
      stateId: i % 5 === 0 ? 1 : 5,
      state: i % 5 === 0 ? 'not-started' : 'done',
      closedAt: i % 5 === 0 ? null : NOW - i,
      due: isoDate(new Date(NOW + ((i % 400) - 200) * 86_400_000).toISOString().slice(0, 10)),
      priority: i % 17 === 0 ? 'urgent' : 'normal',
      estimate: (i % 12) * 10,
      position: i,
      createdAt: NOW - i,
    })
    write.insert('taskAssignees', { taskId: id, personId: h.people[i % 10]! })
  }
})
h.db.sqlite.pragma('optimize')

const listen = (server: Server) =>
  new Promise<string>((done) =>
    server.listen(0, '127.0.0.1', () =>
      done(`http://127.0.0.1:${(server.address() as AddressInfo).port}`),
    ),
  )

{
  const q: TaskQuery = {
    scope: { of: 'firm' },
    filter: {
      match: 'all',
      of: [
        { field: 'open', op: 'is', value: true },
        { field: 'assignee', op: 'in', value: [h.people[3]!, h.people[5]!] },
        { field: 'due', op: 'after', value: { days: 0 } },
      ],
    },
    sort: [
      { field: 'priority', down: false },
      { field: 'due', down: false },
    ],
    group: null,
    tree: false,
    sums: [],
    every: false,
  }
  // The statements that find the tasks and read their rows, as the API runs them, behind nothing else.
  const run = recorded(h, () => taskPage(h.engine, viewer, q, { limit: 100, cursor: null }))
  const bare = new Koa()
  bare.use((ctx) => {
    ctx.body = run.map(({ statement, params }) => statement.all(...params)).at(-1)
  })
  // Made once, as the server makes it.
  const [plain, whole] = [
    bare.callback(),
    createApp(h.engine, { live: createLive(h.engine) }).callback(),
  ]
  const [one, two] = [
    createServer((a, b) => void plain(a, b)),
    createServer((a, b) => void whole(a, b)),
  ]
  const [bareUrl, url] = [await listen(one), await listen(two)]
  const cookie = `fernwick=${openSession(h.engine, viewer.id)}`
  const path = `/api/v1/tasks?q=${encodeURIComponent(JSON.stringify(q))}`
  const get = async (address: string) => {
    const answer = await fetch(address, { headers: { Cookie: cookie } })
    const body = await answer.text()
    if (answer.status !== 200 || body.length < 10_000) throw new Error(body.slice(0, 200))
  }
  const [a, b] = await race(
    60,
    () => get(bareUrl),
    () => get(`${url}${path}`),
  )
  report(
    'first page of a filtered, sorted list of 100,000 tasks through the API, ' +
      'against the same SQL behind a bare Koa route',
    b / a,
    1.5,
    `${b.toFixed(1)} ms against ${a.toFixed(1)} ms`,
  )
  one.close()
  two.close()
}
for (const words of ['statements', 'chase payroll', 'practice', 'autocl']) {
  const hits = recorded(h, () => find(h.engine, viewer, words)).find(({ statement }) =>
    /match/.test(statement.source),
  )!
  // A rare word is found in a tenth of a millisecond: many rounds, or the clock measures itself.
  const [a, b] = await race(
    300,
    () => hits.statement.all(...hits.params),
    () => find(h.engine, viewer, words),
  )
  report(
    `full-text search for “${words}” over 100,000 tasks, against the bare FTS5 query`,
    b / a,
    2,
    `${b.toFixed(2)} ms against ${a.toFixed(2)} ms`,
  )
}
for (const words of ['st', 'statem', 'statements', 'practice', 'chase payroll', 'autocl']) {
  // A look-up by index: as many of the tasks of one project.
  const byIndex = h.db.sqlite.prepare(
    `select t.id, t.title, t.state, s.name, s.colour, t.due, c.short from tasks t
      left join states s on s.id = t.stateId left join projects p on p.id = t.projectId
      left join clients c on c.id = coalesce(t.clientId, p.clientId)
      where t.projectId = ? order by t.id desc limit 12`,
  )
  const project = h.db.sqlite.prepare('select max(projectId) from tasks').pluck().get()
  const [a, b] = await race(
    600,
    () => byIndex.all(project),
    () => findFirst(h.engine, viewer, words),
  )
  report(
    `first hits of “${words}” over 100,000 tasks, against a look-up of twelve by index`,
    b / a,
    3,
    `${b.toFixed(3)} ms against ${a.toFixed(3)} ms`,
  )
}
h.end()
