import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, expect, it } from 'vitest'
import type { Countries, FirmBody, Usual } from '#contract/firm.ts'
import { startServer, type Running } from '../server.ts'
import { london } from '../test/lab.ts'

let data: string
let server: Running
beforeEach(async () => {
  data = mkdtempSync(join(tmpdir(), 'fernwick-begin-'))
  server = await startServer({ data, port: 0, testNow: london('2026-11-23T12:00') })
})
afterEach(async () => {
  await server.stop()
  rmSync(data, { recursive: true })
})

async function ask<T>(method: string, path: string, body?: unknown, more: object = {}) {
  const url = `http://127.0.0.1:${server.port}`
  const answer = await fetch(`${url}/api/v1${path}`, {
    method,
    headers: { Origin: url, 'Content-Type': 'application/json', ...more },
    ...(body !== undefined && { body: JSON.stringify(body) }),
  })
  return { status: answer.status, body: (await answer.json()) as T, headers: answer.headers }
}
const FIRM: FirmBody = {
  ...{ name: 'Sallowfield Books', country: 'GB', region: 'SCT', zone: 'Europe/London' },
  ...{ hours: { MO: 420, TU: 420, WE: 420, TH: 420, FR: 240 }, currency: 'GBP' },
  person: { name: 'Ines Corbet', email: 'Ines@Sallowfield.example', password: 'heron-on-the-weir' },
}
const begin = (body: object = FIRM, more: object = {}) =>
  ask<{ name: string; access: string; detail: string; code: string }>(
    ...(['POST', '/beginning', body, more] as const),
  )
const begun = async () => (await ask<{ begun: boolean }>('GET', '/session')).body.begun

it('an empty server has a firm made: with its holidays, its hours, and its owner signed in', async () => {
  expect(await begun()).toBe(false)
  const { countries, asksKey } = (await ask<Countries>('GET', '/beginning')).body
  expect(countries.find((c) => c.code === 'GB')?.name).toBe('United Kingdom')
  expect(asksKey).toBe(false)
  const made = await begin()
  expect([made.status, made.body.name, made.body.access]).toEqual([201, 'Ines Corbet', 'owner'])
  expect(await begun()).toBe(true)
  const { engine } = server
  // Source: the Scottish Government's list of bank holidays for 2026 (St Andrew's Day on 30 November).
  const { holidays, works, minutes } = engine.firm.calendar()
  expect([...holidays.values()].map((h) => h.name)).toContain('St Andrew’s Day')
  expect([works[6], minutes[5], engine.firm.zone()]).toEqual([false, 240, 'Europe/London'])
  const cookie = made.headers.get('set-cookie')!.split(';')[0]!
  const inside = (path: string) => ask<{ code: string }>('GET', path, undefined, { Cookie: cookie })
  expect((await inside('/today')).status).toBe(200)
  // Its address is the same in other letters' case.
  const { email, password } = { ...FIRM.person, email: 'INES@sallowfield.example' }
  expect((await ask('POST', '/session', { email, password })).status).toBe(200)
  expect((await inside('/beginning')).body.code).toBe('already-begun')
})
it('what is usual in a country comes from standard lists', async () => {
  const usual = (q: string) => ask<Usual>('GET', `/beginning/usual?${q}`)
  const { body: scotland } = await usual('country=GB&region=SCT')
  expect(scotland).toMatchObject({ currency: 'GBP', zones: ['Europe/London'] })
  expect(scotland.regions.map((r) => r.code)).toContain('SCT')
  expect(scotland.holidays[0]).toMatchObject({ date: '2026-11-30', name: 'St Andrew’s Day' })
  // Source: Unicode CLDR, weekData: the weekend of Israel is Friday and Saturday.
  const { body: israel } = await usual('country=IL')
  expect(israel).toMatchObject({ currency: 'ILS', week: ['MO', 'TU', 'WE', 'TH', 'SU'] })
  expect((await usual('country=QQ')).status).toBe(422)
  expect((await usual('country=gb')).status).toBe(400)
  expect((await usual('country=GB&region=ZZ')).status).toBe(422)
})
it('of two who begin at once one does, and nothing of the other is kept', async () => {
  const other = { ...FIRM, name: 'Other', person: { ...FIRM.person, email: 'o@other.example' } }
  const both = await Promise.all([begin(), begin(other)])
  expect(both.map((a) => a.status).sort()).toEqual([201, 409])
  const count = (table: string) =>
    server.db.sqlite.prepare(`select count(*) from ${table}`).pluck().get()
  expect([count('firm'), count('people'), count('sessions')]).toEqual([1, 1, 1])
})
it('is nobody’s from elsewhere who does not know what the server said as it started', async () => {
  const from = { 'X-Forwarded-For': '203.0.113.9' }
  expect((await ask<Countries>('GET', '/beginning', undefined, from)).body.asksKey).toBe(true)
  expect((await begin(FIRM, from)).body.code).toBe('wrong-key')
  expect((await begin({ ...FIRM, key: 'x' }, from)).status).toBe(403)
  expect(await begun()).toBe(false)
  expect((await begin({ ...FIRM, key: server.beginKey! }, from)).status).toBe(201)
})
it.each([
  [{ name: '' }, 'Name'],
  [{ country: 'QQ' }, '“QQ” is no country that is known here.'],
  [{ region: 'BY' }, '“BY” is no region of that country.'],
  [{ zone: 'Mars/Olympus' }, 'Time zone must be a time zone such as Europe/London'],
  [{ hours: {} }, 'Working hours must have one day at least that is worked.'],
  [{ hours: { MO: 5000 } }, 'Monday must be at most 1,440.'],
  [{ currency: 'pounds' }, 'Currency must be three letters, such as GBP'],
  [
    { person: { ...FIRM.person, email: 'ines' } },
    'E-mail address must be an address such as name@example.org.',
  ],
  [
    { person: { ...FIRM.person, password: 'short' } },
    'Password is too short; it needs at least 10 characters.',
  ],
])('what is wrong with %j is said, and nothing is made', async (part, said) => {
  const { status, body } = await begin({ ...FIRM, ...part })
  expect(status).toBeGreaterThanOrEqual(400)
  expect(status).toBeLessThan(500)
  expect(body.detail).toContain(said)
  expect(await begun()).toBe(false)
})
it('a firm that has begun asks no key, and says none', async () => {
  await begin()
  await server.stop()
  server = await startServer({ data, port: 0 })
  expect(server.beginKey).toBeNull()
})
