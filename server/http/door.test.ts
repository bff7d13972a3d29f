import { describe, expect, it } from 'vitest'
import { PASSWORD } from '#demo/people.ts'
import { serveDemo } from '../test/demo-house.ts'
import { london } from '../test/lab.ts'

const { as, client, house } = serveDemo(london('2026-11-23T12:00'))

describe('the door', () => {
  it('answers health without a session, and nothing else of the API', async () => {
    expect((await client()<{ ok: boolean }>('GET', '/healthz')).body.ok).toBe(true)
    for (const path of ['/api/v1/today', '/api/v1/tasks/1', '/api/v1/live', '/api/v1/mail'])
      expect((await client()('GET', path)).status, path).toBe(401)
  })
  it('takes a right password, sets an HTTP-only cookie, keeps only a digest of it', async () => {
    const answer = await client()<{ name: string }>('POST', '/api/v1/session', {
      email: 'imogen.achterberg@quillhaven.example',
      password: PASSWORD,
    })
    expect([answer.status, answer.body.name]).toEqual([200, 'Imogen Achterberg'])
    const cookie = answer.headers.get('set-cookie')!
    expect(cookie).toMatch(/httponly/i)
    expect(cookie).toMatch(/samesite=lax/i)
    const secret = /fernwick=([^;]+)/.exec(cookie)![1]
    expect(
      house.server.db.sqlite.prepare('select 1 from sessions where id = ?').get(secret),
    ).toBeUndefined()
    const inside = client(cookie.split(';')[0])
    expect((await inside('GET', '/api/v1/me')).status).toBe(200)
    await inside('DELETE', '/api/v1/session')
    expect((await inside('GET', '/api/v1/me')).status).toBe(401)
  })
  it('takes what was made in a name from nobody else who signed in there since', async () => {
    const [manager, member] = [await as('manager'), await as('member')]
    const { id } = (await manager<{ id: number }>('GET', '/api/v1/me')).body
    const headers = { 'Fernwick-Person': String(id) }
    const make = (who: typeof manager) =>
      who<{ code: string }>('POST', '/api/v1/tasks', { title: 'Kept in a browser' }, headers)
    expect((await make(manager)).status).toBe(201)
    const other = await make(member)
    expect([other.status, other.body.code]).toEqual([409, 'other-person'])
  })
  it('says the same of a wrong password and a wrong address, and stops a run of guesses', async () => {
    const wrong = await client()('POST', '/api/v1/session', {
      email: 'nadia.ferrante@quillhaven.example',
      password: 'x',
    })
    const nobody = await client()('POST', '/api/v1/session', {
      email: 'nobody@quillhaven.example',
      password: 'x',
    })
    expect([wrong.status, wrong.body.detail]).toEqual([401, nobody.body.detail])
    for (let i = 0; i < 9; i++)
      await client()('POST', '/api/v1/session', {
        email: 'nadia.ferrante@quillhaven.example',
        password: 'x',
      })
    const stopped = await client()('POST', '/api/v1/session', {
      email: 'nadia.ferrante@quillhaven.example',
      password: PASSWORD,
    })
    expect([stopped.status, stopped.headers.get('retry-after')]).toEqual([429, '300'])
  })
  it('refuses writes from other sites and from nowhere', async () => {
    const manager = await as('manager')
    expect(
      (
        await manager(
          'POST',
          '/api/v1/tasks',
          { title: 'X' },
          { Origin: 'https://elsewhere.example' },
        )
      ).body.code,
    ).toBe('cross-site')
    const bare = await fetch(`${house.base}/api/v1/session/demo`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: '{"who":"manager"}',
    })
    expect(bare.status).toBe(403)
  })
  it('sends a content security policy and refuses to be framed', async () => {
    const { headers } = await client()('GET', '/healthz')
    expect(headers.get('content-security-policy')).toMatch(
      /default-src 'self'.*frame-ancestors 'none'/,
    )
    expect(headers.get('content-security-policy')).not.toMatch(/upgrade-insecure/)
  })
})

describe('who may what', () => {
  it('guests see and change only what was handed to them', async () => {
    const contractor = await as('contractor')
    const today = await contractor<{
      groups: Record<string, { id: number; version: number }[]>
      loose: unknown[]
    }>('GET', '/api/v1/today')
    const mine = Object.values(today.body.groups).flat()
    expect(mine.length).toBeGreaterThan(0)
    expect(today.body.loose).toEqual([])
    const { id: other } = house.server.db.sqlite
      .prepare(
        'select id from tasks t where closedAt is null and not exists (select 1 from ' +
          'taskAssignees a join people w on w.id = a.personId where a.taskId = t.id and ' +
          'w.access = ?) limit 1',
      )
      .get('contractor') as { id: number }
    for (const path of [`/api/v1/tasks/${other}`, `/api/v1/tasks/${other}/activity`])
      expect((await contractor('GET', path)).status).toBe(404)
    expect((await contractor('PATCH', `/api/v1/tasks/${other}`, { state: 'done' })).status).toBe(
      404,
    )
    expect(
      (await contractor('PATCH', `/api/v1/tasks/${mine[0]!.id}`, { due: '2027-01-01' })).status,
    ).toBe(403)
    expect(
      (await contractor('PATCH', `/api/v1/tasks/${mine[0]!.id}`, { state: 'under-way' })).status,
    ).toBe(200)
    for (const path of ['/api/v1/rules', '/api/v1/series', '/api/v1/templates', '/api/v1/runs'])
      expect((await contractor('GET', path)).status, path).toBe(403)
    expect(
      (await contractor<{ people: unknown[]; clients: unknown[] }>('GET', '/api/v1/directory'))
        .body,
    ).toMatchObject({ clients: [] })
    expect((await contractor('POST', '/api/v1/tasks', { title: 'X' })).status).toBe(403)
  })
  it('members change content, managers structure', async () => {
    const member = await as('member')
    expect((await member('GET', '/api/v1/rules')).status).toBe(200)
    expect((await member('POST', '/api/v1/rules/1/switch', { on: false })).body.detail).toBe(
      'Only a manager may do this: “Switch a rule on or off”.',
    )
    expect((await member('POST', '/api/v1/series/1/switch', { on: false })).status).toBe(403)
    expect((await member('POST', '/api/v1/tasks', { title: 'Content' })).status).toBe(201)
  })
})

describe('what is asked first', () => {
  it('a manager confirms, whoever else says so is told no', async () => {
    const [manager, member] = [await as('manager'), await as('member')]
    const { body: all } = await manager<{ people: { id: number; access: string }[] }>(
      'GET',
      '/api/v1/directory',
    )
    const contact = all.people.find(({ access }) => access === 'client')!
    const { clientId } = house.server.db.sqlite
      .prepare('select clientId from people where id = ?')
      .get(contact.id) as { clientId: number }
    const task = {
      ...{ title: 'Not theirs', assignees: [contact.id], clientId: clientId === 1 ? 2 : 1 },
    }
    const yes = { 'Fernwick-Confirm': 'yes' }
    for (const [who, headers, status] of [
      [manager, {}, 422],
      [member, yes, 422],
      [manager, yes, 201],
    ] as const)
      expect((await who('POST', '/api/v1/tasks', task, headers)).status).toBe(status)
  })
})
