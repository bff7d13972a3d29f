import type Koa from 'koa'
import type { Changed } from '../engine/journal.ts'
import { Download, downloadHeaders } from './download.ts'
import { problemOf } from './problem.ts'
import type { Route } from './route.ts'

/** What goes back to a client: plain enough to come from a thread of its own. */
export interface Answer {
  readonly status: number
  readonly headers: Readonly<Record<string, string>>
  readonly body: string | Uint8Array | null
  /** What failed inside, for the log alone. */
  readonly fault?: string
}

const versionOf = (result: unknown): number | null =>
  typeof result === 'object' &&
  result !== null &&
  'version' in result &&
  typeof result.version === 'number'
    ? result.version
    : null

/** What a route did, as it is answered. */
export function answerOf(route: Route, { result, change }: Changed<unknown>): Answer {
  // Which change this made, so that it can be taken back whole.
  const made: Record<string, string> = change === null ? {} : { 'Fernwick-Change': String(change) }
  if (result instanceof Download)
    return { status: 200, headers: { ...made, ...downloadHeaders(result) }, body: result.bytes }
  const headers = { ...made, 'Cache-Control': 'no-store' }
  if (result === undefined || result === null) return { status: 204, headers, body: null }
  const version = versionOf(result)
  return {
    status: route.status ?? 200,
    headers: {
      ...headers,
      'Content-Type': 'application/json; charset=utf-8',
      ...(version !== null && { ETag: `"${version}"` }),
    },
    body: JSON.stringify(result),
  }
}

/** After how many seconds it is worth trying again, where that is so. */
const AGAIN: Readonly<Record<string, string>> = { 'too-many': '300', busy: '5' }

/** Any error as it is answered: problem details (RFC 9457). */
export function answerOfError(error: unknown): Answer {
  const problem = problemOf(error)
  const again = AGAIN[problem.code]
  const inside = problem.code === 'internal'
  return {
    status: problem.status,
    headers: {
      'Content-Type': 'application/problem+json; charset=utf-8',
      'Cache-Control': 'no-store',
      ...(again && { 'Retry-After': again }),
    },
    body: JSON.stringify(problem),
    ...(inside && {
      fault: error instanceof Error ? (error.stack ?? error.message) : String(error),
    }),
  }
}

/** Sends an answer, whichever side made it. */
export function send(ctx: Koa.Context, { status, headers, body, fault }: Answer): void {
  if (fault !== undefined) ctx.app.emit('error', new Error(fault), ctx)
  ctx.status = status
  ctx.set(headers)
  ctx.body =
    body instanceof Uint8Array ? Buffer.from(body.buffer, body.byteOffset, body.length) : body
}
