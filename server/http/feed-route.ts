import type Router from '@koa/router'
import { refuse } from '#core/refusal.ts'
import { feedBehind } from '../areas/feeds/service.ts'
import { send } from './answer.ts'
import { FEED } from './routes/feeds.ts'
import { ask, leaving, type Serving } from './serve.ts'

/**
 * What calendar programs subscribe to: the address is all that opens it. It shows what whoever made it
 * sees at this moment, and nothing once they left or reset it.
 */
export function feedRoute(router: Router, serving: Serving): void {
  router.get('/feeds/:secret.ics', async (ctx) => {
    const found = feedBehind(serving.engine, String(ctx['params']['secret']))
    if (!found) refuse('not-found', 'There is no calendar at this address; it may have been reset.')
    const { viewer, id } = found
    const asked = { viewer, params: { id }, query: {}, seen: null, body: undefined }
    send(ctx, await ask(serving, FEED, { ...asked, signal: leaving(ctx) }))
    ctx.set('Cache-Control', 'private, no-store')
    // An address is a secret: it is not handed on to where links lead.
    ctx.set('Referrer-Policy', 'no-referrer')
  })
}
