import type Koa from 'koa'
import getRawBody from 'raw-body'
import { Refusal, refuse } from '#core/refusal.ts'

/** The largest JSON body taken, in bytes: of somebody signed in, and of anybody. */
export const JSON_LIMIT = 2 * 1024 * 1024
export const STRANGERS_LIMIT = 16 * 1024

const size = (limit: number): string =>
  limit < 1024 * 1024 ? `${limit / 1024} kB` : `${Math.round(limit / 1024 / 1024)} MB`

/** The bytes of a request. @throws Refusal `too-large` */
export async function readBytes(ctx: Koa.Context, limit: number): Promise<Buffer> {
  try {
    return await getRawBody(ctx.req, { limit, length: ctx.get('Content-Length') || null })
  } catch (error) {
    if (error instanceof Error && 'type' in error && error.type === 'entity.too.large')
      throw new Refusal('too-large', `What was sent is over ${size(limit)}; send less at a time.`)
    throw error
  }
}

/** The text of a JSON request. @throws Refusal `wrong-type`, `too-large` */
export async function readText(ctx: Koa.Context, limit: number): Promise<string> {
  if (!ctx.is('json')) refuse('wrong-type', 'Send JSON, with Content-Type: application/json.')
  return (await readBytes(ctx, limit)).toString('utf8')
}
