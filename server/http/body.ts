import type Koa from 'koa'
import getRawBody from 'raw-body'
import { Refusal, refuse } from '#core/refusal.ts'
import { shallow } from '#contract/common.ts'

/** The largest JSON body taken, in bytes. */
const JSON_LIMIT = 2 * 1024 * 1024

/** The bytes of a request. @throws Refusal `too-large` */
export async function readBytes(ctx: Koa.Context, limit: number): Promise<Buffer> {
  try {
    return await getRawBody(ctx.req, { limit, length: ctx.get('Content-Length') || null })
  } catch (error) {
    if (error instanceof Error && 'type' in error && error.type === 'entity.too.large')
      throw new Refusal(
        'too-large',
        `What was sent is over ${Math.round(limit / 1024 / 1024)} MB; send less at a time.`,
      )
    throw error
  }
}

/** The JSON of a request. @throws Refusal `wrong-type`, `too-large`, `bad-json`, `too-deep` */
export async function readJson(ctx: Koa.Context): Promise<unknown> {
  if (!ctx.is('json')) refuse('wrong-type', 'Send JSON, with Content-Type: application/json.')
  const text = (await readBytes(ctx, JSON_LIMIT)).toString('utf8')
  // What walks through it walks as deep as it is.
  if (!shallow(text)) refuse('too-deep', 'The body is nested too deep; take groups out of groups.')
  try {
    return JSON.parse(text)
  } catch {
    return refuse('bad-json', 'The body is not JSON.')
  }
}
