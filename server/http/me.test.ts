import Router from '@koa/router'
import Koa from 'koa'
import { describe, expect, it } from 'vitest'
import { Refusal } from '#core/refusal.ts'
import { PASSWORD } from '#demo/people.ts'
import type { SessionRow } from '#contract/people.ts'
import { serveDemo } from '../test/demo-house.ts'
import { lab, london } from '../test/lab.ts'
import { meRoutes } from './me-routes.ts'

const { as, client } = serveDemo(london('2026-11-23T12:00'))
const email = 'tobias.okonjo@quillhaven.example'
async function signIn(password = PASSWORD) {
  const answer = await client()('POST', '/api/v1/session', { email, password })
  return { status: answer.status, at: client(answer.headers.get('set-cookie')?.split(';')[0]) }
}
const next = 'heron-on-the-weir'

it('a password is changed by who knows it, and every other browser is out', async () => {
  const [here, there] = [(await signIn()).at, (await signIn()).at]
  const rows = (await here<SessionRow[]>('GET', '/api/v1/sessions')).body
  expect(rows.map((row) => row.here).sort()).toEqual([false, true])
  const set = (body: object) => here<{ detail: string }>('PUT', '/api/v1/password', body)
  expect((await set({ now: 'wrong', password: next })).body.detail).toContain('not your password')
  expect((await set({ now: PASSWORD, password: 'short' })).body.detail).toContain(
    'Password is too short',
  )
  expect((await there('GET', '/api/v1/me')).status).toBe(200)
  expect((await set({ now: PASSWORD, password: next })).status).toBe(204)
  expect((await here('GET', '/api/v1/me')).status).toBe(200)
  expect((await there('GET', '/api/v1/me')).status).toBe(401)
  expect((await signIn()).status).toBe(401)
  expect((await signIn(next)).status).toBe(200)
})
it('one signs out everywhere else, and guesses of the password are stopped', async () => {
  const [here, there] = [(await signIn(next)).at, (await signIn(next)).at]
  expect((await here('DELETE', '/api/v1/sessions')).status).toBe(204)
  expect((await there('GET', '/api/v1/me')).status).toBe(401)
  const guess = () => here('PUT', '/api/v1/password', { now: 'guess', password: next })
  const statuses: number[] = []
  for (let i = 0; i < 12; i++) statuses.push((await guess()).status)
  expect([statuses[0], statuses.at(-1)]).toEqual([422, 429])
  expect((await client()('GET', '/api/v1/sessions')).status).toBe(401)
  expect((await client()('PUT', '/api/v1/password', {})).status).toBe(401)
})
it('a check of the password that took too long says so, not that it was wrong', async () => {
  const l = lab()
  const long = new Refusal('too-long', 'This took longer than 30 seconds.')
  const router = new Router()
  meRoutes(router, {
    engine: l.engine,
    cookies: { viewer: () => l.tobias } as never,
    threads: { derive: () => Promise.reject(long) } as never,
    guesses: { begin: () => Promise.resolve(), right: () => Promise.resolve() } as never,
  })
  let said: unknown = null
  const app = new Koa()
  app.use(async (_, next) => next().catch((error: unknown) => void (said = error)))
  const server = app.use(router.routes()).listen(0)
  const { port } = server.address() as { port: number }
  const body = JSON.stringify({ password: PASSWORD })
  await fetch(`http://127.0.0.1:${port}/api/v1/second-factor`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body,
  })
  server.close()
  expect(said).toBe(long)
})
it('everybody says what they are called', async () => {
  const at = await as('contractor')
  expect((await at<{ name: string }>('PATCH', '/api/v1/me', { name: 'Toby' })).body.name).toBe(
    'Toby',
  )
  expect((await at('PATCH', '/api/v1/me', { name: '' })).status).toBe(400)
})

// Source: PNG (Portable Network Graphics) Specification, section 5.2: the signature, and the smallest whole picture.
const PIXEL = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==',
  'base64',
)
describe('my photo and my ways', () => {
  it('a photo is a picture, shown by its digest to all inside, to guests their own; undone', async () => {
    const [member, manager, guest] = [await as('member'), await as('manager'), await as('client')]
    const me = (await member<{ id: number }>('GET', '/api/v1/me')).body.id
    const photo = async () =>
      (
        await manager<{ people: { id: number; photo?: string }[] }>('GET', '/api/v1/directory')
      ).body.people.find((p) => p.id === me)?.photo
    const sent = await member<{ photo: string }>('POST', '/api/v1/me/photo', PIXEL)
    expect(sent.status).toBe(200)
    expect(await photo()).toBe(sent.body.photo)
    const path = `/api/v1/people/${me}/photo`
    const shown = await manager('GET', path)
    expect([shown.status, shown.headers.get('content-type')]).toEqual([200, 'image/png'])
    expect((await guest('GET', path)).status).toBe(404)
    const change = sent.headers.get('fernwick-change')
    expect((await member('POST', `/api/v1/changes/${change}/undo`)).status).toBe(200)
    expect(await photo()).toBeUndefined()
    expect((await manager('GET', path)).status).toBe(404)
  })
  it.each([
    ['a text', Buffer.from('nothing'), 422, 'no-picture'],
    ['a document', Buffer.from('%PDF-1.7\n%âãÏÓ\n', 'latin1'), 422, 'no-picture'],
    [
      'a picture that runs code',
      Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"/>'),
      422,
      'no-picture',
    ],
    ['too large', Buffer.concat([PIXEL, Buffer.alloc(1024 * 1024)]), 413, 'too-large'],
  ])('%s is refused as one', async (_, bytes, status, is) => {
    const member = await as('member')
    const answer = await member('POST', '/api/v1/me/photo', bytes)
    expect([answer.status, answer.body.code]).toEqual([status, is])
  })
  it('ways are one’s own: the firm’s stand where nothing is said', async () => {
    const [member, manager] = [await as('member'), await as('manager')]
    const ways = { zone: 'America/New_York', first: 'SU', clock: 12, theme: 'dark' }
    const set = await member<{ zone: string; dates: object; firmDates: object }>(
      ...(['PATCH', '/api/v1/me'] as const),
      { ways },
    )
    expect(set.body).toMatchObject({
      ...{ zone: 'America/New_York', dates: { first: 'SU', clock: 12 }, ways },
      firmDates: { first: 'MO', clock: 24 },
    })
    expect((await manager('GET', '/api/v1/me')).body).toMatchObject({
      ...{ zone: 'Europe/London', dates: { first: 'MO', clock: 24 } },
    })
    const none = { zone: null, first: null, clock: null, theme: null }
    expect((await member('PATCH', '/api/v1/me', { ways: none })).body).toMatchObject({
      zone: 'Europe/London',
    })
    const wrong = await member('PATCH', '/api/v1/me', { ways: { ...none, zone: 'Moon/Base' } })
    expect([wrong.status, wrong.body.place]).toEqual([400, 'ways.zone'])
  })
})
