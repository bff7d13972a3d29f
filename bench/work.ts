import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import Koa from 'koa'
import type { TaskQuery } from '#contract/query.ts'
import { find, HITS } from '#server/areas/search/service.ts'
import { matchWords } from '#server/areas/search/words.ts'
import { compile } from '#server/areas/tasks/outline.ts'
import { SELECT } from '#server/areas/tasks/queries.ts'
import { createApp } from '#server/http/app.ts'
import { openSession } from '#server/http/sessions.ts'
import { ENGINE, house, NOW, race, report } from './house.ts'

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
      tier: ['gold', 'silver', 'bronze'][i % 3]!,
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
      due: new Date(NOW + ((i % 400) - 200) * 86_400_000).toISOString().slice(0, 10),
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
  const c = compile(h.engine, viewer, q)
  const bare = new Koa()
  bare.use((ctx) => {
    const ids = h.db
      .prepare(`select t.id ${c.from} order by ${c.order} limit ? offset ?`)
      .pluck()
      .all(...c.args, 101, 0) as number[]
    ctx.body = h.db
      .prepare(`${SELECT} where t.id in (select value from json_each(?)) order by t.id`)
      .all(JSON.stringify(ids.slice(0, 100)))
  })
  const [one, two] = [
    createServer((a, b) => void bare.callback()(a, b)),
    createServer((a, b) => void createApp(h.engine).callback()(a, b)),
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
    'first page of a filtered, sorted list of 100,000 tasks through the API, against the same SQL behind a bare Koa route',
    b / a,
    2.5,
    `${b.toFixed(1)} ms against ${a.toFixed(1)} ms`,
  )
  one.close()
  two.close()
}
for (const words of ['statements', 'chase payroll', 'practice', 'autocl']) {
  const bare = h.db.prepare(HITS)
  const [a, b] = await race(
    40,
    () => bare.all(matchWords(words)),
    () => find(h.engine, viewer, words),
  )
  report(
    `full-text search for “${words}” over 100,000 tasks, against the bare FTS5 query`,
    b / a,
    2,
    `${b.toFixed(2)} ms against ${a.toFixed(2)} ms`,
  )
}
h.end()
