import type Koa from 'koa'
import { refuse } from '#core/refusal.ts'
import type { Changed } from '../engine/journal.ts'
import type { Engine } from '../engine/services.ts'
import { readBytes, readJson } from './body.ts'
import { Download, sendBytes } from './download.ts'
import { once } from './once.ts'
import type { Request, Route } from './route.ts'
import type { Cookies } from './session-cookie.ts'

/** What every route is served with. */
export interface Serving {
  readonly engine: Engine
  readonly cookies: Cookies
  /** Told after every request that may have changed something. */
  readonly changed?: () => void
}

/** As much of an idempotency key as is looked at. */
const KEY_LENGTH = 100

/** The whole numbers in an address. @throws Refusal `not-found` */
function paramsOf(ctx: Koa.Context): Record<string, number> {
  const params: Record<string, number> = {}
  const texts: Readonly<Record<string, string>> = ctx['params']
  for (const [name, text] of Object.entries(texts))
    params[name] = /^\d{1,15}$/.test(text)
      ? Number(text)
      : refuse('not-found', `There is nothing at ${ctx.path}.`)
  return params
}

/** The version a client saw, from If-Match; null where it does not say. */
function seenOf(ctx: Koa.Context): number | null {
  const match = /^(?:W\/)?"?(\d+)"?$/.exec(ctx.get('If-Match'))
  return match ? Number(match[1]) : null
}

function bodyOf(ctx: Koa.Context, route: Route): Promise<unknown> {
  if (route.raw) return readBytes(ctx, route.raw.limit)
  return route.body ? readJson(ctx) : Promise.resolve(undefined)
}

/** Runs a route; a creation with a key is done once. */
function run(ctx: Koa.Context, route: Route, request: Request) {
  const work = () => route.answer(request)
  const key = ctx.get('Idempotency-Key').slice(0, KEY_LENGTH)
  if (!key || route.method !== 'post' || route.raw) return work()
  const asked = `${ctx.path} ${JSON.stringify(request.body)}`
  return once(request.engine, request.viewer, { key, request: asked }, () => {
    const done = work()
    if (done instanceof Promise) throw new Error(`${route.path} cannot be done once: it waits.`)
    return done
  })
}

const versionOf = (answer: unknown): number | null =>
  typeof answer === 'object' &&
  answer !== null &&
  'version' in answer &&
  typeof answer.version === 'number'
    ? answer.version
    : null

function send(ctx: Koa.Context, route: Route, { result, change }: Changed<unknown>): void {
  // Which change this made, so that it can be taken back whole.
  if (change !== null) ctx.set('Fernwick-Change', String(change))
  if (result instanceof Download) return sendBytes(ctx, result)
  ctx.set('Cache-Control', 'no-store')
  if (result === undefined || result === null) {
    ctx.status = 204
    return
  }
  ctx.status = route.status ?? 200
  ctx.body = result
  const version = versionOf(result)
  if (version !== null) ctx.set('ETag', `"${version}"`)
}

/** A route as the application's router takes it. */
export const serve =
  ({ engine, cookies, changed }: Serving, route: Route): Koa.Middleware =>
  async (ctx) => {
    const viewer = cookies.viewer(ctx)
    const params = paramsOf(ctx)
    const body = await bodyOf(ctx, route)
    const query = { ...ctx.query }
    send(
      ctx,
      route,
      await run(ctx, route, { engine, viewer, params, query, body, seen: seenOf(ctx) }),
    )
    if (route.method !== 'get') changed?.()
  }
