import type Router from '@koa/router'
import { newToken } from '#contract/tokens.ts'
import { needFactor } from '../areas/people/second-factor.ts'
import { endToken, listTokens, makeToken } from '../areas/people/tokens.ts'
import { patiently } from '../database/faults.ts'
import type { Engine } from '../engine/services.ts'
import { readText, STRANGERS_LIMIT } from './body.ts'
import { checkedJson } from './calls.ts'
import { numbersOf } from './serve.ts'
import type { Cookies } from './session-cookie.ts'

interface Parts {
  readonly engine: Engine
  readonly cookies: Cookies
}

/** One's own tokens. A program makes none: whoever is signed in at a browser does. */
export function tokenRoutes(router: Router, { engine, cookies }: Parts): void {
  router.get('/api/v1/tokens', (ctx) => {
    ctx.body = listTokens(engine, cookies.viewer(ctx))
  })
  router.post('/api/v1/tokens', async (ctx) => {
    const viewer = cookies.viewer(ctx)
    needFactor(engine, viewer)
    const body = checkedJson(newToken, await readText(ctx, STRANGERS_LIMIT))
    ctx.body = await patiently(() => makeToken(engine, viewer, body))
    ctx.status = 201
  })
  router.delete('/api/v1/tokens/:id', async (ctx) => {
    const viewer = cookies.viewer(ctx)
    const { id = 0 } = numbersOf(ctx['params'], ctx.path)
    await patiently(() => endToken(engine, viewer, id))
    ctx.status = 204
  })
}
