import { expect, it } from 'vitest'
import { MOST_TOGETHER } from '#contract/headers.ts'
import { ask, inOneRequest, type Said } from './together.ts'

/** A server that answers each question with its name, and what it was asked. */
function server(status = 200) {
  const asked: string[] = []
  const alone = async (path: string): Promise<Said> => {
    asked.push(path)
    const questions = new URL(path, 'http://house').searchParams.getAll('of')
    const body = questions.map((of) => ({ status: of === '/gone' ? 404 : 200, at: 3, body: of }))
    return { status, at: 3, body: path.startsWith('/together') ? body : path }
  }
  const together = (paths: readonly string[], signal?: AbortSignal) => {
    const answers: Promise<Said>[] = []
    inOneRequest(() => answers.push(...paths.map((path) => ask(path, alone, signal))))
    return Promise.all(answers)
  }
  return { asked, alone, together }
}

it('what is asked in one breath goes in one request, each with its own answer', async () => {
  const { asked, alone, together } = server()
  const said = await together(['/me', '/tasks?ids=1,2', '/gone'])
  expect(asked).toEqual(['/together?of=%2Fme&of=%2Ftasks%3Fids%3D1%2C2&of=%2Fgone'])
  expect(said.map(({ status, body }) => [status, body])).toEqual([
    ...[
      [200, '/me'],
      [200, '/tasks?ids=1,2'],
      [404, '/gone'],
    ],
  ])
  await together(['/me'])
  await ask('/me', alone)
  expect(asked.slice(1)).toEqual(['/me', '/me'])
})
it('many, or long ones, go in as few as an address holds', async () => {
  const { asked, together } = server()
  await together(Array.from({ length: MOST_TOGETHER + 1 }, (_, i) => `/tasks/${i}`))
  expect(asked).toHaveLength(2)
  asked.length = 0
  const long = `/tasks/outline?q=${'x'.repeat(2_500)}`
  const said = await together([long, long, long, '/me', `/tasks?ids=${'1'.repeat(9_000)}`])
  expect(asked.map((path) => path.length > 9_000 || path.length < 6_500)).toEqual([
    true,
    true,
    true,
  ])
  expect(said.map(({ body }) => String(body).length)).toEqual([
    ...[long.length, long.length, long.length, 3, 9_011],
  ])
})
it('what fails as a whole fails for each; nobody waits for what they ended', async () => {
  const { together } = server(401)
  expect((await together(['/me', '/today'])).map(({ status }) => status)).toEqual([401, 401])
  const ended = new AbortController()
  const waiting = server().together(['/me', '/today'], ended.signal)
  ended.abort(new Error('nobody waits'))
  await expect(waiting).rejects.toThrow('nobody waits')
})
