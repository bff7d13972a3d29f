import { once } from 'node:events'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { connect, createServer, type AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Sqlite from 'better-sqlite3'
import pino from 'pino'
import { afterEach, describe, expect, it } from 'vitest'
import { makeDemoFirm } from '#demo/firm.ts'
import type { Problem } from '#contract/common.ts'
import { openDatabase } from './database/open.ts'
import { startServer, type ServerOptions } from './server.ts'
import { settingsOf } from './settings.ts'
import { london } from './test/lab.ts'

const NOW = london('2026-11-23T12:00')
const cleaning: (() => unknown)[] = []
afterEach(async () => {
  for (const clean of cleaning.splice(0).reverse()) await clean()
})

function folder(): string {
  const data = mkdtempSync(join(tmpdir(), 'fernwick-server-'))
  cleaning.push(() => rmSync(data, { recursive: true }))
  return data
}
/** The demo's firm, made once and copied. */
let made: Buffer | undefined
async function firmIn(data: string): Promise<void> {
  if (!made) {
    const db = openDatabase(':memory:')
    await makeDemoFirm(db, NOW)
    made = db.sqlite.serialize()
    db.close()
  }
  writeFileSync(join(data, 'fernwick.sqlite'), made)
}
async function started(options: Partial<ServerOptions> = {}) {
  const data = folder()
  await firmIn(data)
  const server = await startServer({
    ...{ data, port: 0, testNow: NOW, log: pino({ level: 'silent' }) },
    ...options,
  })
  let up = true
  const stop = async () => {
    if (up) await server.stop()
    up = false
  }
  cleaning.push(stop)
  return { server, data, stop, base: `http://127.0.0.1:${server.port}` }
}
type Started = Awaited<ReturnType<typeof started>>

async function signedIn({ base }: Started, who = 'manager', more: Record<string, string> = {}) {
  const response = await fetch(`${base}/api/v1/session/demo`, {
    method: 'POST',
    headers: { Origin: base, 'Content-Type': 'application/json', ...more },
    body: JSON.stringify({ who }),
  })
  const cookies = response.headers.get('set-cookie')!
  const headers = { Origin: base, Cookie: cookies.split(';')[0]!, ...more }
  const send = async <T = Problem>(method: string, path: string, body?: unknown) => {
    const answer = await fetch(`${base}/api/v1${path}`, {
      method,
      headers: { ...headers, ...(body !== undefined && { 'Content-Type': 'application/json' }) },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    })
    const text = await answer.text()
    return { status: answer.status, body: (text ? JSON.parse(text) : null) as T }
  }
  return { send, headers, cookies }
}
const titles = ({ server }: Started, like: string): number =>
  Number(
    server.db.sqlite.prepare('select count(*) from tasks where title like ?').pluck().get(like),
  )

describe('starting', () => {
  it('two servers on one folder: the second is refused with a sentence, the first goes on', async () => {
    const one = await started()
    await expect(startServer({ data: one.data, port: 0 })).rejects.toThrow(/another Fernwick runs/)
    expect((await (await signedIn(one)).send('GET', '/me')).status).toBe(200)
    await one.stop()
    const again = await startServer({ data: one.data, port: 0, testNow: NOW })
    await again.stop()
  })
  it('a database of no bytes is not taken for a new firm', async () => {
    const data = folder()
    writeFileSync(join(data, 'fernwick.sqlite'), '')
    await expect(startServer({ data, port: 0 })).rejects.toThrow(/empty \(0 bytes\)/)
    expect(readFileSync(join(data, 'fernwick.sqlite'))).toHaveLength(0)
  })
  it('a database that a newer version wrote is not opened, and not touched', async () => {
    const data = folder()
    await firmIn(data)
    const file = join(data, 'fernwick.sqlite')
    const db = new Sqlite(file)
    db.prepare('insert into __drizzle_migrations (hash, created_at) values (?, ?)').run('x', 9e12)
    db.close()
    const before = readFileSync(file)
    await expect(startServer({ data, port: 0 })).rejects.toThrow(/newer Fernwick/)
    expect(readFileSync(file).equals(before)).toBe(true)
  })
  it.each([
    [{ PORT: 'http' }, /PORT=http is not a whole number/],
    [{ FERNWICK_PROXIES: '-1' }, /FERNWICK_PROXIES=-1/],
    [{ FERNWICK_URL: 'work.example' }, /FERNWICK_URL=work.example is not an address/],
    [{ FERNWICK_SMTP: 'mail.example:25' }, /FERNWICK_SMTP/],
    [{ FERNWICK_TEST_NOW: 'soon' }, /FERNWICK_TEST_NOW=soon/],
  ])('the setting %j is refused by name', (env, says) =>
    expect(() => settingsOf(env)).toThrow(says),
  )
  it('every commit waits for the disk, unless it is set otherwise', () => {
    const db = openDatabase(join(folder(), 'fernwick.sqlite'))
    // SQLite: PRAGMA synchronous, 2 is FULL.
    expect(db.sqlite.pragma('synchronous', { simple: true })).toBe(2)
    db.close()
  })
})

describe('behind a proxy', () => {
  const FORWARDED = { 'X-Forwarded-Proto': 'https', 'X-Forwarded-For': '203.0.113.9' }
  it('the cookie is for secure connections where people open a secure address', async () => {
    const address = new URL('https://work.quillhaven.example')
    const app = await started({ address })
    expect((await signedIn(app)).cookies).toMatch(/; secure/i)
    const write = (origin: string) =>
      fetch(`${app.base}/api/v1/session`, { method: 'DELETE', headers: { Origin: origin } })
    expect((await write(address.origin)).status).toBe(204)
    expect((await write('https://elsewhere.example')).status).toBe(403)
  })
  it('who came by what is believed of the proxies that are named, and of nobody else', async () => {
    expect((await signedIn(await started(), 'manager', FORWARDED)).cookies).not.toMatch(/; secure/i)
    const believing = await started({ proxies: 1 })
    expect((await signedIn(believing, 'manager', FORWARDED)).cookies).toMatch(/; secure/i)
  })
})

describe('when things break', () => {
  it('a database held by another program: a sentence after a short wait, and others are answered', async () => {
    const app = await started()
    const { send } = await signedIn(app)
    const other = new Sqlite(join(app.data, 'fernwick.sqlite'))
    other.exec('begin immediate')
    const waiting = send('POST', '/tasks', { title: 'While it is held' })
    expect((await send('GET', '/tasks/outline')).status).toBe(200)
    const refused = await waiting
    expect([refused.status, refused.body.code]).toEqual([503, 'busy'])
    expect(refused.body.detail).toMatch(/Another program is using the database/)
    const patient = send('POST', '/tasks', { title: 'Once it is free' })
    other.exec('commit')
    other.close()
    expect((await patient).status).toBe(201)
    expect([titles(app, 'While%'), titles(app, 'Once it%')]).toEqual([0, 1])
  })
  it('a full disk: a sentence that says so, nothing half-written, and it goes on when there is room', async () => {
    const app = await started()
    const { send } = await signedIn(app)
    const { sqlite } = app.server.db
    // SQLite: PRAGMA max_page_count, over which writes fail with SQLITE_FULL as on a full disk.
    const pages = Number(sqlite.pragma('page_count', { simple: true }))
    sqlite.pragma(`max_page_count = ${pages}`)
    const long = { title: 'Long', description: `<p>${'words '.repeat(15_000)}</p>` }
    const answers = []
    for (let i = 0; i < 30; i++) answers.push(await send('POST', '/tasks', long))
    const full = answers.filter(({ status }) => status === 507)
    expect(full.length).toBeGreaterThan(0)
    expect(full[0]!.body.detail).toMatch(/disk is full/)
    const kept = answers.filter(({ status }) => status === 201).length
    expect(kept + full.length).toBe(30)
    expect(titles(app, 'Long')).toBe(kept)
    sqlite.pragma('max_page_count = 4294967294')
    expect((await send('POST', '/tasks', long)).status).toBe(201)
    expect(sqlite.pragma('integrity_check', { simple: true })).toBe('ok')
  })
  it('a mail server that accepts and says nothing holds up neither the engine nor the end', async () => {
    const silent = createServer(() => {})
    silent.listen(0, '127.0.0.1')
    await once(silent, 'listening')
    cleaning.push(() => silent.close())
    const { port } = silent.address() as AddressInfo
    const from = 'fernwick@quillhaven.example'
    const app = await started({ smtp: { host: '127.0.0.1', port, from }, grace: 300 })
    const { sqlite } = app.server.db
    const mail = () => sqlite.prepare("select state from outbox where key = 'k'").pluck().get()
    app.server.engine.journal.change({ kind: 'engine', id: null }, (write) =>
      write.insert('outbox', {
        ...{ key: 'k', recipient: 'tobias@quillhaven.example', subject: 's', body: 'b' },
        ...{ nextAt: write.at, createdAt: write.at },
      }),
    )
    const { send } = await signedIn(app)
    // A series that is due is made while the mail hangs.
    const series = {
      name: 'Post',
      leadDays: 0,
      schedule: { start: '2026-11-23', rule: 'FREQ=DAILY', roll: 'none' },
      makes: {
        ...{ kind: 'task', title: 'Made meanwhile', description: '', clientId: null },
        ...{ projectId: null, assignees: [], estimate: null, checklist: [] },
        period: { of: 'week', which: 'same' },
      },
    }
    expect((await send('POST', '/series', series)).status).toBe(201)
    await expect.poll(() => titles(app, 'Made meanwhile'), { timeout: 5_000 }).toBe(1)
    expect(mail()).toBe('waiting')
    await app.stop()
  })
  it('stopping lets a request that is under way end, and takes no new one', async () => {
    const app = await started()
    const { headers } = await signedIn(app)
    const live = await fetch(`${app.base}/api/v1/live`, { headers })
    const body = JSON.stringify({ title: 'Begun before the end' })
    const socket = connect(app.server.port, '127.0.0.1')
    const lines = Object.entries({
      ...headers,
      ...{ Host: `127.0.0.1:${app.server.port}`, 'Content-Type': 'application/json' },
      'Content-Length': String(body.length),
    }).map(([name, value]) => `${name}: ${value}\r\n`)
    socket.write(`POST /api/v1/tasks HTTP/1.1\r\n${lines.join('')}\r\n${body.slice(0, 5)}`)
    await expect.poll(() => app.server.busy()).toBe(true)
    const stopped = app.stop()
    await expect(fetch(`${app.base}/healthz`)).rejects.toThrow()
    // Streams end by themselves.
    expect(await live.text()).toContain('event: hello')
    socket.end(body.slice(5))
    const [answer] = await once(socket, 'data')
    expect(String(answer)).toMatch(/^HTTP\/1.1 201/)
    await stopped
  })
})

it('what Node cannot read is answered with why, as everything else is', async () => {
  const app = await started()
  const long = await fetch(`${app.base}/api/v1/tasks?q=${'x'.repeat(20_000)}`)
  const type = long.headers.get('content-type')
  expect([long.status, type]).toEqual([431, 'application/problem+json; charset=utf-8'])
  expect(await long.json()).toMatchObject({
    code: 'too-long',
    detail: expect.stringContaining('too long'),
  })
  const socket = connect(app.server.port, '127.0.0.1')
  socket.write('nothing\r\n\r\n')
  const [answer] = await once(socket, 'data')
  expect(String(answer)).toMatch(/^HTTP\/1.1 400 Bad Request\r\n[\s\S]*"code":"bad-request"/)
})

it('what a thread answers comes whole: words, bytes, refusals', async () => {
  const app = await started()
  const { headers } = await signedIn(app)
  const get = (path: string) => fetch(`${app.base}/api/v1${path}`, { headers })
  const csv = await (await get('/tasks/export?format=csv&columns=due')).text()
  expect(csv.split('\r\n').length).toBeGreaterThan(400)
  const ics = await (await get('/tasks/export?format=ics')).text()
  expect(ics).toMatch(/^BEGIN:VCALENDAR[\s\S]*END:VCALENDAR\s*$/)
  const xlsx = new Uint8Array(await (await get('/tasks/export?format=xlsx')).arrayBuffer())
  expect([xlsx.length > 10_000, xlsx[0], xlsx[1]]).toEqual([true, 0x50, 0x4b])
  const found = (await (await get('/find?words=post')).json()) as unknown[]
  expect(found.length).toBeGreaterThan(0)
  expect((await get('/find?words=')).status).toBe(400)
})

describe('the mail tray', () => {
  it('shows guests what came to them, and nothing else', async () => {
    const app = await started()
    const [own, other] = ['piers@elsewhere.example', 'tobias@quillhaven.example']
    const contractor = await signedIn(app, 'contractor')
    const { id } = (await contractor.send<{ id: number }>('GET', '/me')).body
    const { engine } = app.server
    engine.journal.change({ kind: 'engine', id: null }, (write) => {
      write.update('people', id, { email: own })
      for (const recipient of [own, other])
        write.insert('outbox', {
          ...{ key: recipient, recipient, subject: `To ${recipient}`, body: 'b' },
          ...{ nextAt: write.at, createdAt: write.at },
        })
    })
    const manager = await signedIn(app)
    await manager.send('POST', '/tasks', { title: 'Wakes the loop' })
    const seen = async (who: typeof manager) =>
      (await who.send<{ to: string }[]>('GET', '/mail')).body.map((mail) => mail.to)
    await expect.poll(() => seen(manager), { timeout: 10_000 }).toContain(other)
    expect(await seen(contractor)).toEqual([own])
  })
})

describe('streams', () => {
  it('end with the session they belong to', async () => {
    const app = await started()
    const { send, headers } = await signedIn(app)
    const live = await fetch(`${app.base}/api/v1/live`, { headers })
    await send('DELETE', '/session')
    const other = await signedIn(app)
    await other.send('POST', '/tasks', { title: 'Told to nobody who left' })
    expect(await live.text()).toMatch(/event: bye\ndata: \{\}\n\n$/)
  })
  it('that nobody reads are let go, and one person has so many', async () => {
    const app = await started()
    const { headers } = await signedIn(app)
    const open = () => fetch(`${app.base}/api/v1/live`, { headers })
    const first = await open()
    for (let i = 0; i < 20; i++) await open()
    expect(await first.text()).toContain('event: hello')
  })
})
