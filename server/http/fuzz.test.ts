import type { Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { Writable } from 'node:stream'
import pino from 'pino'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { makeDemoFirm } from '#demo/firm.ts'
import { assemble, type Assembly } from '../assembly.ts'
import { openDatabase, type Database } from '../database/open.ts'
import { handClock } from '../engine/clock.ts'
import { expectDerived } from '../test/derived.ts'
import { EXAMPLES, QUERIES } from '../test/fuzz/examples.ts'
import {
  made,
  pick,
  random,
  spoilt,
  wild,
  type Making,
  type Schema,
} from '../test/fuzz/generate.ts'
import { london } from '../test/lab.ts'
import { createApp } from './app.ts'
import { createListener } from './listener.ts'
import { createLive } from './live.ts'
import { openApi } from './openapi.ts'
import type { Who } from './route.ts'
import { ROUTES } from './routes/index.ts'

/**
 * No address answers 5xx to anything, whoever asks: bodies, queries, numbers and headers made by
 * chance of what the API says of itself (its OpenAPI document), of examples that are taken, and of
 * neither. The seed stands still, so that what is found is found again; FUZZ_SEED and FUZZ_MANY
 * look further.
 */

const SEED = Number(process.env['FUZZ_SEED'] ?? 20_261_123)
const MANY = Number(process.env['FUZZ_MANY'] ?? 6_000)
/** A request that takes longer than any should, whatever else this machine does, in milliseconds. */
const LONGEST = 3_000
const NOW = london('2026-11-23T12:00')
const KINDS = ['manager', 'member', 'contractor', 'client', 'nobody'] as const
type Kind = (typeof KINDS)[number]

interface Operation {
  readonly name: string
  readonly method: string
  readonly path: string
  readonly who: Who
  readonly query: Readonly<Record<string, Schema>>
  readonly body: Schema | null
  readonly raw: boolean
}
/** What the document says can be asked. */
function operations(): Operation[] {
  const document = openApi(ROUTES) as unknown as {
    paths: Record<string, Record<string, Record<string, unknown>>>
  }
  return Object.entries(document.paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, operation]): Operation => {
      const parameters = operation['parameters'] as { name: string; in: string; schema: Schema }[]
      const request = operation['requestBody'] as
        { content: Record<string, { schema: Schema }> } | undefined
      const plain = path.replace(/\{(\w+)\}/g, ':$1')
      return {
        ...{ name: `${method} ${plain}`, method: method.toUpperCase(), path: plain },
        who: operation['x-who'] as Who,
        query: Object.fromEntries(
          parameters.filter((p) => p.in === 'query').map((p) => [p.name, p.schema]),
        ),
        body: request?.content['application/json']?.schema ?? null,
        raw: request !== undefined && !request.content['application/json'],
      }
    }),
  )
}
const OPERATIONS = operations()
const allowed = ({ who }: Operation): Kind[] =>
  who === 'owners'
    ? []
    : who === 'managers'
      ? ['manager']
      : KINDS.slice(0, who === 'members' ? 2 : 4)

let db: Database
let firm: Assembly
let server: Server
let base = ''
const cookies: Partial<Record<Kind, string>> = {}
const people: Partial<Record<Kind, number>> = {}
const logged: string[] = []
const clock = handClock(NOW)

beforeAll(async () => {
  db = openDatabase(':memory:')
  await makeDemoFirm(db, NOW)
  const sink = new Writable({
    write(line: Buffer, _, done) {
      logged.push(line.toString())
      done()
    },
  })
  firm = assemble(db, clock, { log: pino({ level: 'error' }, sink) })
  const app = createApp(firm.engine, { live: createLive(firm.engine) })
  server = createListener(app)
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready))
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
  for (const kind of KINDS.slice(0, 4)) people[kind] = await signIn(kind)
})
afterAll(() => server.close())

async function signIn(kind: Kind): Promise<number> {
  const { headers, body } = await send({ path: '/session/demo', body: { who: kind } }, 'nobody')
  cookies[kind] = headers.get('set-cookie')!.split(';')[0]!
  return (body as { id: number }).id
}
/** Whoever was made to leave, or signed out, by chance is here again. */
async function letBackIn(kind: Kind): Promise<void> {
  const access = kind
  db.sqlite
    .prepare('update people set active = 1, access = ? where id = ?')
    .run(access, people[kind])
  firm.engine.forget(new Set(['people']))
  await signIn(kind)
}

/** The smallest picture there is. */
const PIXEL = Uint8Array.from(
  atob(
    'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==',
  ),
  (letter) => letter.charCodeAt(0),
)
const FILE = new TextEncoder().encode('Task,Days,Client\nPost,-3,Beckside\n')

interface Sent {
  readonly path: string
  readonly method?: string
  readonly query?: Readonly<Record<string, string>>
  readonly body?: unknown
  readonly headers?: Readonly<Record<string, string>>
}
async function send({ path, method = 'POST', query = {}, body, headers = {} }: Sent, kind: Kind) {
  const asked = new URLSearchParams(query).toString()
  const bytes = body instanceof Uint8Array
  const response = await fetch(`${base}/api/v1${path}${asked && `?${asked}`}`, {
    method,
    headers: {
      ...{ Origin: base, Cookie: cookies[kind] ?? '' },
      ...(body !== undefined && { 'Content-Type': bytes ? 'text/csv' : 'application/json' }),
      ...headers,
    },
    ...(body !== undefined && {
      body: bytes ? (body as Uint8Array<ArrayBuffer>) : JSON.stringify(body),
    }),
  })
  const text = await response.text()
  let answer: unknown = text
  try {
    answer = JSON.parse(text)
  } catch {
    // A file, or nothing.
  }
  return { status: response.status, headers: response.headers, body: answer }
}

/** One of each thing that addresses speak of, made anew, and handed to whoever is to try. */
async function furnished(kind: Kind) {
  const by = async (
    who: Kind,
    path: string,
    body: unknown,
    method = 'POST',
  ): Promise<Record<string, unknown>> => {
    const answer = await send({ path, body, method }, who)
    expect(answer.status, `${path} ${JSON.stringify(answer.body)}`).toBeLessThan(300)
    return {
      ...(answer.body as Record<string, never>),
      change: answer.headers.get('fernwick-change'),
    }
  }
  const boss = (path: string, body: unknown, method = 'POST') => by('manager', path, body, method)
  const guest = kind === 'contractor' || kind === 'client'
  const writer = guest ? 'manager' : kind
  const name = (what: string) => EXAMPLES[what]
  const led = {
    name: 'Anew',
    clientId: guest ? null : 1,
    leadId: guest ? people.manager : people[kind],
  }
  const own = (await boss('/projects', led))['id']
  const into = (await boss('/projects', led))['id']
  const shared = { people: [people[kind]], may: 'edit' }
  await boss(`/projects/${own}/shares`, shared)
  const task = async () =>
    (await boss('/tasks', { title: 'Try', projectId: own, assignees: [people[kind]] }))['id']
  const [id, other] = [await task(), await task()]
  const field = (n: number) => ({ ...(EXAMPLES['post /fields'] as object), name: `F${id}/${n}` })
  const tag = (n: number) => ({ name: `T${id}/${n}`, colour: 'teal' })
  const said = await by(kind, `/tasks/${id}/comments`, { body: '<p>x</p>' })
  const steps = await boss(`/tasks/${id}/items`, { title: 'Step' })
  const reminders = await boss(`/tasks/${id}/reminders`, name('post /tasks/:id/reminders'))
  const milestone = await boss(`/projects/${own}/milestones`, name('post /projects/:id/milestones'))
  const post = await by(kind, `/projects/${own}/posts`, name('post /projects/:id/posts'))
  await boss(`/projects/${into}/states`, { setId: 1, copy: true }, 'PUT')
  const sets = (await send({ path: '/state-sets', method: 'GET' }, 'manager')).body as {
    id: number
  }[]
  await boss(`/projects/${into}/states`, { setId: 1, copy: false }, 'PUT')
  const several = async (path: string, body: unknown) =>
    (await boss(path, body)) as unknown as Record<string, { id: number }>
  const fields = await several('/fields', field(1))
  const invited = { name: 'Ines', email: `ines.${id}@example.org`, access: 'member' }
  const address = 'https://fernwick.example'
  const last = (list: Record<string, { id: number }>) =>
    Math.max(...Object.values(list).flatMap((row) => row?.id ?? []))
  const newcomer = last(await several('/people', { people: [invited], address }))
  // Members ask about themselves alone.
  const person = kind === 'manager' ? newcomer : people[kind]
  const away = await boss(`/people/${person}/time-off`, name('post /people/:id/time-off'))
  const tags = (await boss('/tags', tag(1)))['id']
  const lastShare = async (path: string, may: string) => {
    const body = { people: [people.member], may }
    const answer = await boss(path, body)
    const { change: _, ...rows } = { ...(answer['shares'] ? Object(answer['shares']) : answer) }
    return last(rows)
  }
  const client = async (of: string) =>
    last(await several('/clients', { clients: [{ name: `${of} ${id}` }] }))
  const clients = await client('Client')
  // Whoever looks after a client changes it.
  if (!guest) await boss(`/clients/${clients}`, { leadId: people[kind] }, 'PATCH')
  const members = { kind: 'ask', members: [people.manager, people.member] }
  const team = (await boss('/teams', { ...members, name: `Team ${id}` }))['id']
  const asking = [1, 2, 3].find((each) => !members.members.includes(each))
  db.sqlite
    .prepare('insert into teamAsks (teamId, personId, at) values (?, ?, 0)')
    .run(team, asking)
  const change = (await by(writer, '/tasks', { title: 'Take back' }))['change']
  // What is on hold can be resumed, and takes all else besides.
  await boss(`/projects/${own}`, { state: 'hold' }, 'PATCH')
  await send({ path: '/me/photo', body: PIXEL }, kind)
  db.sqlite
    .prepare('update people set photo = (select photo from people where id = ?) where id = ?')
    .run(people[kind], person)
  const token = db.sqlite
    .prepare(
      "insert into tokens (personId, name, digest, scopes, createdAt, endsAt) values (?, 'Sync', ?, '[]', 0, 1e15)",
    )
    .run(person, `digest ${id}`).lastInsertRowid
  const acting = (await boss('/rules', name('post /rules')))['id']
  db.sqlite
    .prepare(
      `update rules set "on" = 1, definition = json_set(definition, '$.conditions.of', json('[]'))
       where id = ?`,
    )
    .run(acting)
  const ran = db.sqlite
    .prepare(
      `insert into runs (key, ruleId, itemKind, itemId, outcome, summary, reasons, at)
       values (?, ?, 'task', ?, 'done', '', '[]', 0)`,
    )
    .run(`run ${id}`, acting, (await boss('/tasks', { title: 'Ran' }))['id']).lastInsertRowid
  const repeating = await boss('/series', name('post /series'))
  const [nextDate] = repeating['next'] as { scheduled: string }[]
  const ids: Record<string, unknown> = {
    runs: Number(ran),
    ...{ tasks: id, projects: own, changes: change, 'state-sets': sets.at(-1)!.id },
    comment: (said['discussion'] as { id: number }[]).at(-1)!.id,
    holiday: last(await several('/firm/holidays', name('post /firm/holidays'))),
    reminder: (reminders['reminders'] as { id: number }[]).at(-1)!.id,
    item: (steps['checklist'] as { id: number }[]).at(-1)!.id,
    files: (await by(kind, `/tasks/${id}/files?name=plan.txt`, FILE))['id'],
    milestone: (milestone['milestones'] as { id: number }[]).at(-1)!.id,
    post: (post['posts'] as { id: number }[])[0]!.id,
    templates: (await boss('/templates', name('post /templates')))['id'],
    series: repeating['id'],
    feeds: (await by(kind, '/feeds', { of: 'project', item: own }))['id'],
    rules: (await boss('/rules', name('post /rules')))['id'],
    rule: (await boss('/rules', name('post /rules')))['id'],
    views: (await by(writer, '/views', name('post /views')))['id'],
    fields: last(fields),
    ...{ people: person, token: Number(token) },
    off: ((away['timeOff'] ?? []) as { id: number }[]).at(-1)?.id,
    clients,
    teams: team,
    share: await lastShare(`/projects/${own}/shares`, 'structure'),
    given: await lastShare(`/clients/${clients}/shares`, 'view'),
    tags,
  }
  const bodies: Record<string, unknown> = {
    ...{ 'post /fields': field(2), 'put /fields/:id': field(3) },
    ...{ 'post /tags': tag(2), 'put /tags/:id': tag(3) },
    'post /tasks/:id/merge': { into: other },
    'post /series/decide': {
      dates: [{ series: repeating['id'], scheduled: nextDate?.scheduled }],
      deed: 'skip',
    },
    ...(guest && { 'post /tasks': { title: 'Mine', projectId: own } }),
    'post /clients/:id/merge': { into: await client('Other') },
    'post /clients/bring': {
      clients: [{ name: `Brought ${id}`, contacts: [], same: null }],
    },
    'post /clients/:id/shares': { people: [people.member], may: 'comment' },
    'post /teams': { ...members, name: `Other ${id}` },
    'post /teams/:id/answer': { personId: asking, let: true },
    'post /projects/:id/merge': { into },
    'post /projects/:id/split': { name: 'Apart', ids: [other] },
    'post /fields/:id/hide': { projectId: own, hidden: true },
    'post /tasks/bulk': { ids: [id, other], shift: { days: 1, working: true }, addTags: [] },
    'post /tasks/edits': { edits: [{ id, patch: { title: 'Again' } }], make: [] },
    'put /projects/:id/phases': { phases: [{ name: 'Alone' }] },
    'put /state-sets/:id': {
      ...(EXAMPLES['put /state-sets/:id'] as object),
      name: `Set ${id}`,
      states: ['not-started', 'under-way', 'done', 'dropped'].map((state) => ({
        ...{ name: `${state} ${id}`, kind: state, colour: null, only: 'anyone' },
      })),
      moveTo: Object.fromEntries(
        db.sqlite
          .prepare('select id, kind from states where setId = ?')
          .all(sets.at(-1)!.id)
          .map((row) => row as { id: number; kind: string })
          .map((row) => [row.id, `not-started ${id}`]),
      ),
    },
  }
  return { ids, bodies }
}

/** What only tells leaves everything as it was: the same room serves again. */
const EVENT = Buffer.from(
  'BEGIN:VCALENDAR\nBEGIN:VEVENT\nUID:1\nDTSTART:20261201\nEND:VEVENT\nEND:VCALENDAR\n',
)
/** Bytes of a kind that alone is taken there. */
const BYTES: Readonly<Record<string, Uint8Array>> = {
  'post /me/photo': PIXEL,
  ...{ 'post /series/read': EVENT, 'post /firm/holidays/read': EVENT },
}
const rooms = new Map<Kind, Awaited<ReturnType<typeof furnished>>>()
async function roomFor(kind: Kind, { method }: Operation) {
  const kept = rooms.get(kind)
  if (kept && method === 'GET') return kept
  const room = await furnished(kind)
  rooms.set(kind, room)
  return room
}

const addressed = (path: string, ids: Record<string, unknown>): string => {
  const kind = path.split('/')[1]!
  return path.replace(/:(\w+)/g, (_, name: string) => String(name === 'id' ? ids[kind] : ids[name]))
}

it.each(OPERATIONS.map((o) => [o.name, o] as const))(
  '%s is taken of everybody it is open to',
  async (name, operation) => {
    for (const kind of allowed(operation)) {
      const { ids, bodies } = await roomFor(kind, operation)
      const body = operation.raw ? (BYTES[name] ?? FILE) : (bodies[name] ?? EXAMPLES[name])
      const answer = await send(
        {
          path: addressed(operation.path, ids),
          method: operation.method,
          ...(QUERIES[name] && { query: QUERIES[name] }),
          ...(body !== undefined && { body }),
        },
        kind,
      )
      const wrong = answer.status >= 300 ? JSON.stringify(answer.body) : ''
      if (wrong) throw new Error(`${kind}: ${wrong}`)
      expect(answer.status).toBeLessThan(300)
    }
  },
)

it.each(OPERATIONS.map((o) => [o.name, o] as const))(
  '%s is refused to everybody else before anything is read',
  async (_, operation) => {
    for (const kind of KINDS.filter((each) => !allowed(operation).includes(each))) {
      const path = operation.path.replace(/:\w+/g, '1')
      const { status } = await send(
        { path, method: operation.method, ...(operation.body && { body: 'x'.repeat(100) }) },
        kind,
      )
      expect([kind, status]).toEqual([kind, kind === 'nobody' ? 401 : 403])
    }
  },
)

/** Words that something in the firm is called by. */
const WORDS = [
  ...['title', 'due', 'state', 'created', 'estimate', 'parent', 'rung', 'tags', 'assignee'],
  ...['follower', 'priority', 'client', 'client.tier', 'project.lead', 'was:state', 'entered:1'],
  ...['field:1', 'field:2', 'text', 'late', 'daysLate', 'kind', 'id', 'archived', 'closed'],
  ...['done', 'under-way', 'post', 'fern', 'FREQ=DAILY', '2026-11-23', '15:00', 'Europe/London'],
]

function numberFor(making: Making): string {
  const roll = making.next()
  if (roll < 0.8) return String(pick(making, making.ids))
  return pick(making, ['0', '-1', '999999', '1e3', '007', '%00', '..', 'NaN', '9'.repeat(15)])
}
function bodyFor(making: Making, { name, body, raw }: Operation): unknown {
  if (raw) {
    const length = Math.floor(making.next() * 200)
    const bytes = Uint8Array.from({ length }, () => Math.floor(making.next() * 256))
    return pick(making, [bytes, new TextEncoder().encode('Task,Due\n"a,b\n;;\t|\n'), bytes])
  }
  const roll = making.next()
  const example = EXAMPLES[name]
  if (roll < 0.5 && example !== undefined) return spoilt(making, example)
  if (roll < 0.9 && body) return made(making, body)
  return wild(making)
}
function requestFor(making: Making, operation: Operation): Sent {
  const { path, method, query } = operation
  const asked = Object.entries({ ...query }).flatMap(([name, schema]): [string, string][] => {
    const roll = making.next()
    if (roll < 0.3) return []
    const value = roll < 0.9 ? made(making, schema) : wild(making)
    return [[name, typeof value === 'string' ? value : JSON.stringify(value)]]
  })
  const headers = {
    ...(making.next() < 0.2 && {
      'If-Match': pick(making, ['"1"', 'W/"2"', '*', 'x'.repeat(500)]),
    }),
    ...(making.next() < 0.1 && { 'Idempotency-Key': pick(making, ['a', 'b', 'k'.repeat(300)]) }),
    ...(making.next() < 0.03 && { 'Content-Type': pick(making, ['text/plain', 'x', 'a/b; c=']) }),
  }
  return {
    path: path.replace(/:\w+/g, () => numberFor(making)),
    ...{ method, headers },
    query: {
      ...(making.next() < 0.7 ? QUERIES[operation.name] : {}),
      ...Object.fromEntries(asked),
    },
    ...(method !== 'GET' && method !== 'DELETE' && { body: bodyFor(making, operation) }),
  }
}

interface Tried {
  readonly wrong: string[]
  readonly taken: boolean
  /** Nobody is signed in there any more. */
  readonly out: boolean
}
/** Sends a request; what is wrong with how it was answered, and whether it was taken. */
async function tried(sent: Sent, kind: Kind): Promise<Tried> {
  logged.length = 0
  const begun = performance.now()
  const { status, body } = await send(sent, kind)
  const took = performance.now() - begun
  const said = body as { code?: unknown; detail?: unknown }
  const explained = typeof said?.code === 'string' && typeof said.detail === 'string'
  const good = status < 500 && (status < 400 || (explained && said.detail !== ''))
  const out = status === 401
  if (good && took < LONGEST) return { wrong: [], taken: status < 300, out }
  const asked = JSON.stringify(sent).slice(0, 900)
  const log = logged.join('').slice(0, 900)
  return {
    wrong: [`${status} in ${Math.round(took)} ms, ${kind}: ${asked}\n${log}`],
    taken: false,
    out,
  }
}
/** What was asked for is acted on too, as the clock goes on. */
function goneOn(): string[] {
  logged.length = 0
  clock.set(clock.now() + 43_200_000)
  firm.runner.tick()
  return logged.map((line) => `the engine: ${line.slice(0, 900)}`)
}

it(`${MANY.toLocaleString('en-GB')} requests made by chance: none fails, each refusal says why`, async () => {
  const ids = [1, 2, 3, 4, 5, 6, 7, 8, 12, 20, 33, 50, 100, 200, 400]
  const making: Making = { next: random(SEED), words: WORDS, ids }
  const wrong: string[] = []
  let taken = 0
  for (let i = 0; i < MANY && wrong.length < 12; i++) {
    const operation = pick(making, OPERATIONS)
    const kind = pick(making, [...KINDS, 'manager', 'manager', 'member'] as const)
    const answer = await tried(requestFor(making, operation), kind)
    wrong.push(...answer.wrong)
    if (answer.taken) taken++
    if (answer.out && kind !== 'nobody') await letBackIn(kind)
    if (i % 500 === 499) wrong.push(...goneOn())
  }
  if (wrong.length) throw new Error(wrong.join('\n\n'))
  expect(taken).toBeGreaterThan(MANY / 8)
  expect(db.sqlite.pragma('foreign_key_check')).toEqual([])
  expectDerived(db.sqlite)
})
