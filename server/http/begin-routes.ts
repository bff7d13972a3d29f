import { timingSafeEqual } from 'node:crypto'
import type Router from '@koa/router'
import Joi from 'joi'
import type Koa from 'koa'
import { refuse } from '#core/refusal.ts'
import { firmBody, type Countries } from '#contract/firm.ts'
import { beginFirm, needNone, usualIn } from '../areas/firm/begin.ts'
import { countries, type Place } from '../areas/firm/holidays.ts'
import { patiently } from '../database/faults.ts'
import type { Engine } from '../engine/services.ts'
import type { Threads } from '../workers/threads.ts'
import { readText, STRANGERS_LIMIT } from './body.ts'
import { checkedJson } from './calls.ts'
import { checked } from './route.ts'
import { hashed } from './sessions.ts'

const placeShape = Joi.object<Place>({
  country: Joi.string()
    .pattern(/^[A-Z]{2}$/)
    .required(),
  region: Joi.string().max(10).default(null),
})
const LOCAL = /^(127\.|::1$|::ffff:127\.)/
/** What the machine itself is called there: a name that merely leads to it is a stranger’s. */
const OWN_NAME = /^(localhost|127\.[\d.]+|\[::1\])$/
/** Whether somebody sits at the machine itself, with no proxy between. */
const isHere = (ctx: Koa.Context): boolean =>
  LOCAL.test(ctx.ip) &&
  OWN_NAME.test(ctx.hostname) &&
  !ctx.get('X-Forwarded-For') &&
  !ctx.get('Forwarded')

const isKey = (given: string, key: string): boolean =>
  given.length === key.length && timingSafeEqual(Buffer.from(given), Buffer.from(key))

interface Parts {
  readonly engine: Engine
  readonly threads: Threads
  /** What a server without a firm says as it starts; asked of who comes from elsewhere. */
  readonly key: string | null
  readonly signIn: (ctx: Koa.Context, personId: number) => Promise<void>
  readonly changed: (() => void) | undefined
}

/** How a firm begins: open to everybody until there is one. */
export function beginRoutes(
  router: Router,
  { engine, threads, key, signIn, changed }: Parts,
): void {
  const asksKey = (ctx: Koa.Context) => key !== null && !isHere(ctx)

  router.get('/api/v1/beginning', async (ctx) => {
    needNone(engine)
    ctx.body = { asksKey: asksKey(ctx), countries: await countries() } satisfies Countries
  })
  router.get('/api/v1/beginning/usual', async (ctx) => {
    needNone(engine)
    ctx.body = await usualIn(engine, checked(placeShape, { ...ctx.query }))
  })
  router.post('/api/v1/beginning', async (ctx) => {
    needNone(engine)
    const body = checkedJson(firmBody, await readText(ctx, STRANGERS_LIMIT))
    if (asksKey(ctx) && !isKey(body.key ?? '', key ?? ''))
      refuse('wrong-key', 'Open the address that the server wrote as it started.', 'key')
    const hash = (password: string) => hashed(threads, password)
    await signIn(ctx, await patiently(() => beginFirm(engine, body, hash)))
    ctx.status = 201
    changed?.()
  })
}
