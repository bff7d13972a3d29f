import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import type { MadeToken, NewToken, TokenRow } from '#contract/tokens.ts'
import type { Scope } from '#contract/words.ts'
import { serveDemo } from '../test/demo-house.ts'
import { london } from '../test/lab.ts'
import { openApi } from './openapi.ts'
import { ROUTES } from './routes/index.ts'

const { as, client, house } = serveDemo(london('2026-11-23T12:00'))
const clock = () => house.server.engine.clock
const DAY = 86_400_000
async function made(body: Partial<NewToken> = {}, who = 'manager'): Promise<MadeToken> {
  const asked = { name: 'Payroll export', scopes: ['read'], days: 30, ...body }
  const answer = await (await as(who))<MadeToken>('POST', '/api/v1/tokens', asked)
  expect(answer.status).toBe(201)
  return answer.body
}
/** A program that bears a token: no cookie, no origin. */
const program =
  (secret: string) =>
  (method: string, path: string, body?: unknown, more: Record<string, string> = {}) =>
    fetch(house.base + path, {
      method,
      headers: {
        Authorization: `Bearer ${secret}`,
        ...(body !== undefined && { 'Content-Type': 'application/json' }),
        ...more,
      },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    })
const said = async (answer: Response) => (await answer.json()) as { code: string; detail: string }

describe('a token', () => {
  it('lets a program do what it is scoped to, and says which scope is missing', async () => {
    const read = program((await made()).secret)
    expect((await read('GET', '/api/v1/tasks')).status).toBe(200)
    expect((await read('GET', '/api/v1/together?of=/me&of=/tasks')).status).toBe(200)
    const refused = await read('POST', '/api/v1/tasks', { title: 'No' })
    expect(refused.status).toBe(403)
    expect(await said(refused)).toMatchObject({ code: 'no-scope', detail: /“write”/ })
    expect((await said(await read('GET', '/api/v1/people'))).code).toBe('no-scope')
    const together = await read('GET', '/api/v1/together?of=/people')
    expect(await together.json()).toMatchObject([{ status: 403 }])
    const all = program((await made({ scopes: ['read', 'write', 'manage'] })).secret)
    expect((await all('POST', '/api/v1/tasks', { title: 'Yes' })).status).toBe(201)
    expect((await all('GET', '/api/v1/people')).status).toBe(200)
  })
  it('may no more than whoever made it, and manage only where they manage', async () => {
    const member = await as('member')
    const asked = { name: 'Mine', scopes: ['manage'], days: 3 }
    expect((await member('POST', '/api/v1/tokens', asked)).body.code).toBe('no-scope')
    const { secret } = await made({ scopes: ['read', 'write'] }, 'client')
    const guest = program(secret)
    expect((await guest('GET', '/api/v1/templates')).status).toBe(403)
    const mine = (await (await guest('GET', '/api/v1/tasks?limit=500')).json()) as {
      tasks: unknown[]
    }
    const all = (await (await as('manager'))('GET', '/api/v1/tasks?limit=500')).body as unknown as {
      tasks: unknown[]
    }
    expect(mine.tasks.length).toBeLessThan(all.tasks.length)
  })
  it('is named in the journal and on the task, beside whose it is', async () => {
    const { secret } = await made({ name: 'Web form', scopes: ['write'] })
    const answer = await program(secret)('POST', '/api/v1/tasks', { title: 'Asked on the web' })
    const { id } = (await answer.json()) as { id: number }
    const manager = await as('manager')
    const activity = await manager<{ who: string }[]>('GET', `/api/v1/tasks/${id}/activity`)
    expect(activity.body[0]!.who).toBe('Imogen Achterberg, by “Web form”')
    const journal = await manager<{ changes: { who: string; mayUndo: boolean }[] }>(
      'GET',
      '/api/v1/changes',
    )
    expect(journal.body.changes[0]).toMatchObject({ who: 'Imogen Achterberg, by “Web form”' })
  })
  it('runs out, is ended by whoever made it, and ends when they leave', async () => {
    const short = await made({ days: 1 })
    const ended = await made({}, 'member')
    const left = await made({}, 'contractor')
    const status = async ({ secret }: MadeToken) =>
      (await program(secret)('GET', '/api/v1/tasks')).status
    expect([await status(short), await status(ended), await status(left)]).toEqual([200, 200, 200])
    const manager = await as('manager')
    const member = await as('member')
    // Nobody ends another's as their own; a manager ends it as that of whoever has it.
    const path = `/api/v1/tokens/${ended.id}`
    expect((await manager('DELETE', path)).status).toBe(404)
    const got = await made({}, 'member')
    const of = (await member<{ id: number }>('GET', '/api/v1/me')).body.id
    const theirs = `/api/v1/people/${of}/tokens/${got.id}`
    const page = await manager<{ tokens: TokenRow[] }>('GET', `/api/v1/people/${of}`)
    expect(page.body.tokens.map(({ id }) => id)).toContain(got.id)
    expect((await member('DELETE', theirs)).status).toBe(403)
    expect((await manager('DELETE', theirs)).status).toBe(204)
    expect([await status(got), (await manager('DELETE', theirs)).status]).toEqual([401, 404])
    expect((await member('DELETE', path)).status).toBe(204)
    expect((await member('DELETE', path)).status).toBe(404)
    const who = (await (await as('contractor'))<{ id: number }>('GET', '/api/v1/me')).body.id
    await manager('POST', `/api/v1/people/${who}/leave`, { to: {} })
    expect([await status(ended), await status(left)]).toEqual([401, 401])
    // Back again, it does not come back with them.
    await manager('PATCH', `/api/v1/people/${who}`, { active: true })
    expect(await status(left)).toBe(401)
    await client()('POST', `/api/test/clock?to=${clock().now() + DAY}`)
    expect(await status(short)).toBe(401)
    const used = (await member<TokenRow[]>('GET', '/api/v1/tokens')).body
    expect(used.some(({ id }) => id === ended.id)).toBe(false)
  })
  it('makes no tokens, changes no password, and is not helped by a cookie beside it', async () => {
    const { secret } = await made({ scopes: ['read', 'write', 'manage'] })
    const bearing = program(secret)
    const body = { name: 'Another', scopes: ['read'], days: 3 }
    expect((await bearing('POST', '/api/v1/tokens', body)).status).toBe(401)
    expect((await bearing('GET', '/api/v1/sessions')).status).toBe(401)
    expect((await bearing('PUT', '/api/v1/password', { now: 'x', password: 'y' })).status).toBe(401)
    // A wrong token is refused, whoever is signed in.
    const manager = await as('manager')
    const wrong = { Authorization: 'Bearer fernwick_guess' }
    const answer = await manager('GET', '/api/v1/tasks', undefined, wrong)
    expect([answer.status, answer.body.code]).toEqual([401, 'bad-token'])
    // Nor does the header open what must come from our own pages.
    expect((await bearing('DELETE', '/api/v1/session', undefined)).status).toBeLessThan(500)
  })
  it('is kept as a digest alone, and that it is used is noted once an hour', async () => {
    const { secret, id } = await made()
    const bearing = program(secret)
    for (let i = 0; i < 3; i++) await bearing('GET', '/api/v1/tasks')
    const { sqlite } = house.server.db
    const row = sqlite.prepare('select * from tokens where id = ?').get(id) as object
    expect(JSON.stringify(row)).not.toContain(secret.slice(10))
    expect(row).toMatchObject({ usedAt: clock().now() })
    expect(sqlite.prepare("select 1 from journal where entity = 'tokens'").all()).toEqual([])
  })
  it.each([
    [{ scopes: [] }],
    [{ scopes: ['all'] }],
    [{ days: 0 }],
    [{ days: 367 }],
    [{ name: '' }],
  ])('%o is refused with its place', async (body) => {
    const manager = await as('manager')
    const asked = { name: 'X', scopes: ['read'], days: 3, ...body }
    const answer = await manager('POST', '/api/v1/tokens', asked)
    expect([answer.status, answer.body.place?.split('.')[0]]).toEqual([400, Object.keys(body)[0]])
  })
})

it('the description says of every address which scope it needs', () => {
  const { paths } = openApi(ROUTES) as {
    paths: Record<string, Record<string, { security: [object, { token: [Scope] }] }>>
  }
  const scope = (method: string, path: string) => paths[path]![method]!.security[1].token[0]
  expect(scope('get', '/tasks')).toBe('read')
  // Sent by POST, and yet it only tells.
  expect(scope('post', '/series/dates')).toBe('read')
  expect(scope('post', '/tasks')).toBe('write')
  expect(scope('get', '/people')).toBe('manage')
  expect(scope('put', '/firm/mail')).toBe('manage')
})

/** A command of the guide, as a request: what curl would send. */
function requestOf(command: string, known: Record<string, string>) {
  const words = [...command.replace(/\\\n/g, ' ').matchAll(/'([^']*)'|"([^"]*)"|(\S+)/g)].map(
    ([, plain, quoted, bare]) =>
      plain ?? (quoted ?? bare ?? '').replace(/\$([A-Z]+)/g, (_, name: string) => known[name]!),
  )
  const after = (flag: string) => words.flatMap((word, i) => (words[i - 1] === flag ? [word] : []))
  const asked = after('--data-urlencode').map((pair) => {
    const [name, ...value] = pair.split('=')
    return `${name}=${encodeURIComponent(value.join('='))}`
  })
  const url = words.find((word) => word.startsWith('http'))!
  const [body] = after('-d')
  return new Request(asked.length ? `${url}?${asked.join('&')}` : url, {
    method: after('-X')[0] ?? 'GET',
    headers: after('-H').map((line): [string, string] => {
      const [name, ...value] = line.split(': ')
      return [name!, value.join(': ')]
    }),
    ...(body !== undefined && { body }),
  })
}
it('the three examples of the guide do what it says', async () => {
  const guide = readFileSync(new URL('../../docs/api.md', import.meta.url), 'utf8')
  const commands = [...guide.matchAll(/```sh\n([^`]*)```/g)].map(([, command]) => command!)
  expect(commands).toHaveLength(3)
  const { secret } = await made({ scopes: ['read', 'write'] })
  const known: Record<string, string> = { FERNWICK: house.base, TOKEN: secret }
  const run = (nth: number) => fetch(requestOf(commands[nth]!, known))
  const late = (await (await run(0)).json()) as { tasks: { due: string }[] }
  const dues = late.tasks.map(({ due }) => due)
  expect(dues.length).toBeGreaterThan(0)
  expect(dues).toEqual(dues.toSorted())
  expect(dues.at(-1)! <= house.server.engine.firm.today()).toBe(true)
  const [first, again] = [await run(1), await run(1)]
  const { id } = (await first.json()) as { id: number }
  expect([first.status, (await again.json()) as object]).toMatchObject([201, { id }])
  known['TASK'] = String(id)
  const moved = await run(2)
  expect(await moved.json()).toMatchObject({ due: '2026-12-01' })
  const change = moved.headers.get('fernwick-change')
  const undone = await program(secret)('POST', `/api/v1/changes/${change}/undo`)
  expect(undone.status).toBe(200)
})
