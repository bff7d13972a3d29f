import type Koa from 'koa'
import { refuse } from '#core/refusal.ts'
import { bearerIn } from './session-cookie.ts'

const SAFE = new Set(['GET', 'HEAD', 'OPTIONS'])

/**
 * Writes come from our own pages only: the browser says where from, and anything that does not say
 * is refused.
 */
export const sameOrigin =
  (address?: URL): Koa.Middleware =>
  async (ctx, next) => {
    // A browser sends no token of its own accord.
    if (!SAFE.has(ctx.method) && bearerIn(ctx) === null) {
      const origin = ctx.get('Origin')
      const hosts = [ctx.host, address?.host]
      const own = origin
        ? URL.canParse(origin) && hosts.includes(new URL(origin).host)
        : ctx.get('Sec-Fetch-Site') === 'same-origin'
      if (!own) refuse('cross-site', 'Changes are taken from Fernwick’s own pages only.')
    }
    await next()
  }
