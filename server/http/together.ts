import { parse } from 'node:querystring'
import type Router from '@koa/router'
import type Koa from 'koa'
import { MOST_TOGETHER } from '#contract/headers.ts'
import { refuse } from '#core/refusal.ts'
import type { Viewer } from '../engine/viewer.ts'
import { answerOfError, type Answer } from './answer.ts'
import { nameOf, type Route } from './route.ts'
import { ask, leaving, numbersOf, type Serving } from './serve.ts'

/** Where the questions of one breath are answered together, and what it is built on. */
interface Together {
  readonly serving: Serving
  readonly router: Router
  readonly routes: readonly Route[]
}

/** The route that a question goes to, and the numbers in its address. @throws Refusal `not-found` */
function routeOf({ router, routes }: Together, path: string) {
  const [layer] = router.match(path, 'GET').pathAndMethod
  const route = routes.find((each) => nameOf(each) === layer?.name)
  if (!layer || route?.method !== 'get') refuse('not-found', `There is nothing to ask at ${path}.`)
  return { route, params: numbersOf(layer.params(path, layer.captures(path)), path) }
}

/** Answers one question, whatever becomes of it. */
async function answerTo(
  together: Together,
  { question, viewer, signal }: { question: string; viewer: Viewer; signal: AbortSignal },
): Promise<Answer> {
  try {
    const [path = '', search = ''] = question.split(/\?(.*)/s)
    const { route, params } = routeOf(together, `/api/v1${path}`)
    const asked = { viewer, params, query: { ...parse(search) }, seen: null, body: undefined }
    const answer = await ask(together.serving, route, { ...asked, signal })
    // What is not JSON is a file: it is asked for alone.
    return answer.body instanceof Uint8Array
      ? refuse('wrong-method', `${path} answers a file; ask for it alone.`)
      : answer
  } catch (error) {
    return answerOfError(error)
  }
}

/** The questions of an address: one or several. @throws Refusal `bad-query` */
function questionsOf({ query }: Koa.Context): readonly string[] {
  const questions = [query['of'] ?? []].flat()
  if (questions.length < 1 || questions.length > MOST_TOGETHER)
    refuse('bad-query', `Ask from 1 to ${MOST_TOGETHER} questions, each as “of”.`)
  return questions
}

/**
 * Answers several questions, each as it would be answered alone: its status, the mark it is
 * answered at, and its body. One that fails lets the others be.
 */
export const answerTogether =
  (together: Together): Koa.Middleware =>
  async (ctx) => {
    const viewer = together.serving.cookies.asking(ctx)
    const signal = leaving(ctx)
    const answers = await Promise.all(
      questionsOf(ctx).map((question) => answerTo(together, { question, viewer, signal })),
    )
    for (const { fault } of answers)
      if (fault !== undefined) ctx.app.emit('error', new Error(fault), ctx)
    ctx.set({ 'Cache-Control': 'no-store', 'Content-Type': 'application/json; charset=utf-8' })
    // The bodies are JSON already.
    ctx.body = `[${answers.map(said).join(',')}]`
  }

const said = ({ status, headers, body }: Answer): string => {
  const { 'Fernwick-At': at = '0' } = headers
  return `{"status":${status},"at":${Number(at)},"body":${typeof body === 'string' ? body : 'null'}}`
}

/** How OpenAPI 3.1 says it. */
export const TOGETHER = {
  get: {
    summary: 'Answers several questions at once, each as it would be answered alone',
    'x-who': 'anyone',
    parameters: [
      {
        name: 'of',
        in: 'query',
        required: true,
        description: 'A path of this API that only tells, with its query: /tasks/12',
        schema: {
          type: 'array',
          items: { type: 'string' },
          ...{ minItems: 1, maxItems: MOST_TOGETHER },
        },
      },
    ],
    responses: {
      200: {
        description: 'The answers, in the order of the questions',
        content: {
          'application/json': {
            schema: {
              type: 'array',
              items: {
                type: 'object',
                required: ['status', 'at', 'body'],
                properties: {
                  status: { type: 'integer', description: 'The status it would have alone' },
                  at: { type: 'integer', description: 'The mark up to which it holds all changes' },
                  body: { description: 'The answer, or the problem (RFC 9457)' },
                },
              },
            },
          },
        },
      },
    },
  },
} as const
