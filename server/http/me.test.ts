import { expect, it } from 'vitest'
import { PASSWORD } from '#demo/people.ts'
import type { SessionRow } from '#contract/people.ts'
import { serveDemo } from '../test/demo-house.ts'
import { london } from '../test/lab.ts'

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
it('everybody says what they are called', async () => {
  const at = await as('contractor')
  expect((await at<{ name: string }>('PATCH', '/api/v1/me', { name: 'Toby' })).body.name).toBe(
    'Toby',
  )
  expect((await at('PATCH', '/api/v1/me', { name: '' })).status).toBe(400)
})
