import { existsSync } from 'node:fs'
import { join } from 'node:path'
import type Koa from 'koa'
import send from 'koa-send'

const YEAR = 365 * 86_400_000

/** The built interface: its assets, and its one page for every other address. */
export function serveInterface(app: Koa, web: string): void {
  if (!existsSync(join(web, 'index.html'))) return
  app.use(async (ctx) => {
    if (ctx.method !== 'GET' && ctx.method !== 'HEAD') return
    if (ctx.path.startsWith('/api/')) return
    const asset = ctx.path.startsWith('/assets/')
    if (asset || /\.[a-z0-9]+$/i.test(ctx.path))
      await send(ctx, ctx.path, { root: web, ...(asset && { maxage: YEAR, immutable: true }) })
    else await send(ctx, 'index.html', { root: web, maxage: 0 })
  })
}
