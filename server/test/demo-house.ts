import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll } from 'vitest'
import type { Problem } from '#contract/common.ts'
import { makeDemoFirm } from '#demo/firm.ts'
import { openDatabase } from '../database/open.ts'
import { startServer, type Running } from '../server.ts'

export interface Said<T> {
  readonly status: number
  readonly body: T
  readonly headers: Headers
}

/** The demo firm behind a server of its own, for the tests of one file, at an instant. */
export function serveDemo(now: number) {
  const data = mkdtempSync(join(tmpdir(), 'fernwick-api-'))
  const house = { server: undefined as unknown as Running, base: '' }
  beforeAll(async () => {
    const db = openDatabase(join(data, 'fernwick.sqlite'))
    await makeDemoFirm(db, now)
    db.close()
    house.server = await startServer({ data, port: 0, testNow: now })
    house.base = `http://127.0.0.1:${house.server.port}`
  })
  afterAll(async () => {
    await house.server.stop()
    rmSync(data, { recursive: true })
  })

  const client =
    (cookie = '') =>
    async <T = Problem>(
      method: string,
      path: string,
      body?: unknown,
      headers: Record<string, string> = {},
    ): Promise<Said<T>> => {
      const bytes = body instanceof Uint8Array
      const response = await fetch(house.base + path, {
        method,
        headers: {
          Origin: house.base,
          Cookie: cookie,
          ...(body !== undefined && { 'Content-Type': bytes ? 'text/csv' : 'application/json' }),
          ...headers,
        },
        ...(body !== undefined && {
          body: bytes ? (body as Uint8Array<ArrayBuffer>) : JSON.stringify(body),
        }),
      })
      const text = await response.text()
      return {
        status: response.status,
        body: (text && /json/.test(response.headers.get('content-type') ?? '')
          ? JSON.parse(text)
          : text) as T,
        headers: response.headers,
      }
    }
  /** Signs in with one click, as the first with such access. */
  async function as(who: string) {
    const answer = await client()('POST', '/api/v1/session/demo', { who })
    return client(answer.headers.get('set-cookie')!.split(';')[0])
  }
  return { house, client, as }
}
