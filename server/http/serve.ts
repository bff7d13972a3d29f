import type Koa from 'koa'
import { Refusal, refuse } from '#core/refusal.ts'
import { AT_HEADER, CONFIRM_HEADER, PERSON_HEADER } from '#contract/headers.ts'
import { patiently } from '../database/faults.ts'
import type { Changed } from '../engine/journal.ts'
import { isLarge } from '../engine/portions.ts'
import type { Engine } from '../engine/services.ts'
import { isGuest, mayStructure, type Viewer } from '../engine/viewer.ts'
import { needProject } from '../areas/projects/sheet.ts'
import { needSight } from '../areas/tasks/service.ts'
import { needFactor } from '../areas/people/second-factor.ts'
import type { Threads } from '../workers/threads.ts'
import { answerOf, answerOfError, send, type Answer } from './answer.ts'
import { JSON_LIMIT, readBytes, readText } from './body.ts'
import { checkedJson, type Call } from './calls.ts'
import { once, type Repeatable } from './once.ts'
import { scopeOf, type Answered, type Request, type Route } from './route.ts'
import type { Cookies } from './session-cookie.ts'

/** What every route is served with. */
export interface Serving {
  readonly engine: Engine
  readonly cookies: Cookies
  readonly threads: Threads
  /** Told after every request that may have changed something. */
  readonly changed?: () => void
}

/** What a route did, and the mark of what it is answered with. */
interface Done {
  readonly done: Changed<unknown>
  readonly at: number
}

/** A manager may say yes beforehand to what is asked about. */
const confirming = (ctx: Koa.Context, viewer: Viewer): Viewer =>
  ctx.get(CONFIRM_HEADER) === 'yes' && mayStructure(viewer) ? { ...viewer, confirms: true } : viewer

/** The whole numbers in an address. @throws Refusal `not-found` */
export function numbersOf(
  texts: Readonly<Record<string, string>>,
  path: string,
): Record<string, number> {
  const params: Record<string, number> = {}
  for (const [name, text] of Object.entries(texts))
    params[name] = /^\d{1,15}$/.test(text)
      ? Number(text)
      : refuse('not-found', `There is nothing at ${path}.`)
  return params
}

/** The version a client saw, from If-Match; null where it does not say. */
function seenOf(ctx: Koa.Context): number | null {
  const match = /^(?:W\/)?"?(\d+)"?$/.exec(ctx.get('If-Match'))
  return match ? Number(match[1]) : null
}

/** @throws Refusal `forbidden`, before anything of the request is read */
function needWho({ who, about, method }: Route, viewer: Viewer): void {
  const does = method === 'get' ? 'see' : 'do'
  if (who !== 'everybody' && isGuest(viewer))
    refuse('forbidden', `Guests may not ${does} this: “${about}”.`)
  if (who === 'owners' && viewer.access !== 'owner')
    refuse('forbidden', `Only an owner may ${does} this: “${about}”.`)
  if (who === 'managers' && !mayStructure(viewer))
    refuse('forbidden', `Only a manager may ${does} this: “${about}”.`)
}
/** @throws Refusal `no-scope` where a token may less than whoever made it */
function needScope(route: Route, { token }: Viewer): void {
  const scope = scopeOf(route)
  if (token && !token.scopes.includes(scope))
    refuse('no-scope', `This needs the scope “${scope}”, which the token does not have.`)
}
/** Before a second device that the firm demands, one is told who one is, and nothing else. */
function needDevice(engine: Engine, { path }: Route, viewer: Viewer): void {
  if (path !== '/me') needFactor(engine, viewer)
}

/** What was made by somebody else at the same browser is not done in this name. @throws Refusal */
function needSame(ctx: Koa.Context, { id }: Viewer): void {
  const made = ctx.get(PERSON_HEADER)
  if (made && made !== String(id))
    refuse('other-person', 'Somebody else made this here. It is kept until they sign in again.')
}

/** JSON over so many characters is checked on a thread. */
const LARGE = 16_384

function bodyOf(ctx: Koa.Context, route: Route): Promise<string | Buffer | undefined> {
  if (route.raw) return readBytes(ctx, route.raw.limit)
  return route.body ? readText(ctx, JSON_LIMIT) : Promise.resolve(undefined)
}

/** A body that has passed its schema, or what is wrong with it. */
async function passed(
  { threads }: Serving,
  { route, viewer }: { route: Route; viewer: Viewer },
  body: string | Buffer | undefined,
): Promise<{ readonly body: unknown } | { readonly answer: Answer }> {
  if (typeof body !== 'string' || !route.body) return { body }
  if (body.length <= LARGE) return { body: checkedJson(route.body, body) }
  const answer = await threads.check(route, body, viewer.id)
  if (answer) return { answer }
  const value: unknown = JSON.parse(body)
  return { body: value }
}

/** Goes off when the client leaves before it is answered. */
export function leaving(ctx: Koa.Context): AbortSignal {
  const gone = new AbortController()
  ctx.res.once('close', () => {
    if (!ctx.res.writableFinished) gone.abort()
  })
  return gone.signal
}

/** Whoever asks again still sees what it was about. @throws Refusal `not-found` */
function stillSees({ path }: Route, { engine, viewer, params }: Request): void {
  const { id = 0 } = params
  if (path.startsWith('/tasks/:id')) needSight(engine, viewer, id)
  if (path.startsWith('/projects/:id')) needProject(engine, viewer, id)
}

/** Runs a route; a creation with a key is done once. What touches very much is made in portions. */
async function run(ctx: Koa.Context, route: Route, request: Request): Promise<Done> {
  const { engine, viewer } = request
  const { journal } = engine
  let at = journal.told
  const carry: Repeatable['carry'] = async (large, carrying) => {
    const done = await large.inPortions({ ...carrying, signal: leaving(ctx) })
    at = journal.told
    return done
  }
  function work(): Answered {
    const done = route.answer(request)
    // What is answered at once holds its own change; what waits may miss what others change.
    if (!(done instanceof Promise) && !isLarge(done)) at = journal.told
    return done
  }
  const key = ctx.get('Idempotency-Key')
  if (!key || route.method !== 'post' || route.raw) {
    const done = await work()
    return { done: isLarge(done) ? await carry(done, {}) : done, at }
  }
  const done = await once(engine, viewer, {
    ...{ key, work, carry },
    request: `${ctx.path} ${JSON.stringify(request.body)}`,
    still: () => stillSees(route, request),
  })
  return { done, at }
}

/** A question as it is asked, and what goes off when nobody waits for its answer any more. */
interface Question extends Call {
  readonly signal: AbortSignal
}

/** Answers what only tells. @throws Refusal */
export async function ask(
  { engine, threads }: Serving,
  route: Route,
  { signal, ...asked }: Question,
): Promise<Answer> {
  needWho(route, asked.viewer)
  needScope(route, asked.viewer)
  needDevice(engine, route, asked.viewer)
  const at = engine.journal.told
  if (route.apart) return markedAt(at, await threads.answer(route, asked, signal))
  const done = await patiently(async () => route.answer({ engine, ...asked }))
  return markedAt(at, answerOf(route, isLarge(done) ? done.whole() : done))
}

async function answer(ctx: Koa.Context, serving: Serving, route: Route): Promise<Answer> {
  const { engine, cookies, threads } = serving
  const viewer = confirming(ctx, cookies.asking(ctx))
  needWho(route, viewer)
  needScope(route, viewer)
  needDevice(engine, route, viewer)
  needSame(ctx, viewer)
  const params = numbersOf(ctx['params'], ctx.path)
  const asked = { viewer, params, query: { ...ctx.query }, seen: seenOf(ctx) }
  if (route.method === 'get')
    return ask(serving, route, { ...asked, body: undefined, signal: leaving(ctx) })
  const body = await bodyOf(ctx, route)
  const before = engine.journal.told
  if (route.apart)
    return markedAt(before, await threads.answer(route, { ...asked, body }, leaving(ctx)))
  const ready = await passed(serving, { route, viewer }, body)
  if ('answer' in ready) return ready.answer
  const request = { engine, ...asked, body: ready.body }
  const { done, at } = await patiently(() => run(ctx, route, request))
  return markedAt(at, answerOf(route, done))
}

/** An answer that says up to which change it holds everything. */
const markedAt = (at: number, answer: Answer): Answer => ({
  ...answer,
  headers: { ...answer.headers, [AT_HEADER]: String(at) },
})

/** A route as the application's router takes it. */
export const serve =
  (serving: Serving, route: Route): Koa.Middleware =>
  async (ctx) => {
    send(ctx, await answer(ctx, serving, route))
    // What is answered apart writes nothing, however it is asked.
    if (route.method !== 'get' && !route.apart) serving.changed?.()
  }

/** What a router leaves without a word, said. */
const UNSAID: Readonly<Record<number, [code: string, say: (ctx: Koa.Context) => string]>> = {
  404: ['not-found', (ctx) => `There is nothing at ${ctx.path}.`],
  405: ['wrong-method', (ctx) => `${ctx.path} takes ${ctx.response.get('Allow')}.`],
  501: ['wrong-method', (ctx) => `${ctx.method} is not a method that is known here.`],
}

/** Answers every error of what lies below as problem details. */
export const problems: Koa.Middleware = async (ctx, next) => {
  try {
    await next()
    const unsaid = UNSAID[ctx.status]
    if (unsaid && !ctx.body && ctx.path.startsWith('/api/'))
      throw new Refusal(unsaid[0], unsaid[1](ctx))
  } catch (error) {
    send(ctx, answerOfError(error))
  }
}
