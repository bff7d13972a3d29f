import type Koa from 'koa'
import { refuse } from '#core/refusal.ts'
import type { Engine } from '../engine/services.ts'
import type { Viewer } from '../engine/viewer.ts'
import { bearerOf } from '../areas/people/tokens.ts'
import { SESSION_DAYS, viewerOf } from './sessions.ts'

const COOKIE = 'fernwick'
const DAY = 86_400_000

/** The token that a request bears (RFC 6750, 2.1), null where it bears none. */
export const bearerIn = (ctx: Koa.Context): string | null =>
  /^Bearer +(\S+)$/i.exec(ctx.get('Authorization'))?.[1] ?? null

/** The cookie that says who asks; only this file knows its name. */
export interface Cookies {
  secret(ctx: Koa.Context): string | undefined
  /** Whoever is signed in, or null. */
  visitor(ctx: Koa.Context): Viewer | null
  /** @throws Refusal `not-signed-in` */
  viewer(ctx: Koa.Context): Viewer
  /**
   * The same, or whoever's token a program bears (RFC 6750): for what a program may ask.
   * @throws Refusal `not-signed-in`, `bad-token`
   */
  asking(ctx: Koa.Context): Viewer
  set(ctx: Koa.Context, secret: string | null): void
}

export function sessionCookies(engine: Engine, address?: URL): Cookies {
  const secret = (ctx: Koa.Context) => ctx.cookies.get(COOKIE)
  // Behind a proxy the connection itself is plain; the cookie goes by what people open.
  const isSecure = (ctx: Koa.Context) => ctx.secure || address?.protocol === 'https:'
  const visitor = (ctx: Koa.Context) => viewerOf(engine, secret(ctx))
  const viewer = (ctx: Koa.Context) => visitor(ctx) ?? refuse('not-signed-in', 'Sign in first.')
  return {
    secret,
    visitor,
    viewer,
    asking(ctx) {
      const token = bearerIn(ctx)
      if (token === null) return viewer(ctx)
      return (
        bearerOf(engine, token) ??
        refuse('bad-token', 'This token opens nothing: it has ended, or is not spelled so.')
      )
    },
    set(ctx, value) {
      ctx.cookies.secure = isSecure(ctx)
      ctx.cookies.set(COOKIE, value, {
        httpOnly: true,
        sameSite: 'lax',
        secure: isSecure(ctx),
        maxAge: value === null ? 0 : SESSION_DAYS * DAY,
        overwrite: true,
      })
    },
  }
}
