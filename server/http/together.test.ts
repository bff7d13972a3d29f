import { expect, it } from 'vitest'
import { MOST_TOGETHER } from '#contract/headers.ts'
import { serveDemo, type Said } from '../test/demo-house.ts'
import { london } from '../test/lab.ts'

const { as, client } = serveDemo(london('2026-11-23T12:00'))

interface One {
  readonly status: number
  readonly at: number
  readonly body: { readonly code?: string; readonly detail?: string }
}
const address = (...questions: string[]) =>
  `/api/v1/together?${questions.map((of) => `of=${encodeURIComponent(of)}`).join('&')}`

it('answers each question as it is answered alone, in the order they are asked', async () => {
  const manager = await as('manager')
  const questions = [
    ...['/me', '/today', '/tasks?ids=1,2,3', '/projects/39', '/ribbon?from=2026-11-23&days=7'],
    `/tasks/outline?q=${encodeURIComponent('{"scope":{"of":"firm"},"sort":[],"group":"due"}')}`,
  ]
  const together = await manager<One[]>('GET', address(...questions))
  expect(together.status).toBe(200)
  const alone: Said<unknown>[] = []
  for (const question of questions) alone.push(await manager('GET', `/api/v1${question}`))
  expect(together.body.map(({ status, body }) => ({ status, body }))).toEqual(
    alone.map(({ status, body }) => ({ status, body })),
  )
  for (const { at } of together.body) expect(at).toBe(Number(alone[0]!.headers.get('Fernwick-At')))
})
it('one that cannot be answered says why, and lets the others be', async () => {
  const manager = await as('manager')
  const { body } = await manager<One[]>(
    'GET',
    address('/me', '/tasks/999999', '/nowhere', '/ribbon?days=0', '', 'me', '/tasks/x'),
  )
  expect(body.map(({ status }) => status)).toEqual([200, 404, 404, 400, 404, 404, 404])
  for (const { body: problem } of body.slice(1)) expect(problem.detail).toBeTruthy()
})
it('asks nothing that may not be asked alone: by guests, by nobody, of files, of itself', async () => {
  const guest = await as('client')
  const asked = address('/me', '/projects', '/journal', '/changes', '/rules', '/tasks/1')
  const { body } = await guest<One[]>('GET', asked)
  const alone = ['/me', '/projects', '/journal', '/changes', '/rules', '/tasks/1']
  for (const [i, path] of alone.entries())
    expect(body[i]!.status, path).toBe((await guest('GET', `/api/v1${path}`)).status)
  expect(new Set(body.map(({ status }) => status))).toEqual(new Set([200, 403, 404]))
  expect((await client()('GET', address('/me'))).status).toBe(401)
  const manager = await as('manager')
  const files = await manager<One[]>(
    'GET',
    address('/tasks/export.csv', '/together?of=/me', '/live', '/session', '/../healthz'),
  )
  for (const { status } of files.body) expect([404, 405, 400]).toContain(status)
})
it('takes from one to so many questions, and a change by nobody', async () => {
  const manager = await as('manager')
  const many = (n: number) => address(...Array.from({ length: n }, () => '/me'))
  expect((await manager<One[]>('GET', many(MOST_TOGETHER))).body).toHaveLength(MOST_TOGETHER)
  for (const n of [0, MOST_TOGETHER + 1]) {
    const { status, body } = await manager('GET', many(n))
    expect([status, body.code]).toEqual([422, 'bad-query'])
  }
  expect((await manager('POST', address('/me'))).status).toBe(405)
})
