import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { makeDemoFirm } from '#demo/firm.ts'
import { openDatabase } from '../database/open.ts'
import { attack, HOSTILE, meanwhile, OTHERS, send, startApart, type Ask } from '../test/hostile.ts'
import { london } from '../test/lab.ts'

/** With eight requests under way at once that are made to stop it, the server answers others. */

const data = mkdtempSync(join(tmpdir(), 'fernwick-hostile-'))
/** Nobody else waits longer than this share of the time that they take, however slow the machine. */
const SHARE = 1 / 5
let server: Awaited<ReturnType<typeof startApart>>
const ask = (asked: Ask) => send(server, asked)
const asOther = (asked: Ask) => send({ ...server, cookie: server.other }, asked)

beforeAll(async () => {
  const db = openDatabase(join(data, 'fernwick.sqlite'))
  await makeDemoFirm(db, london('2026-11-23T12:00'))
  db.close()
  const root = fileURLToPath(new URL('../..', import.meta.url))
  server = await startApart(['--import', 'tsx', 'server/main.ts'], data, root)
})
afterAll(async () => {
  await server.stop()
  rmSync(data, { recursive: true })
})

it('eight at once hold nobody up, and each is answered as it should be', async () => {
  // Threads are there before the clock runs, all of them.
  const find = { path: '/find?words=post' }
  await Promise.all([ask, ask, asOther, asOther].map((as) => as(find)))
  await ask(HOSTILE['dates of every hour since 2000']![0])
  for (const [other] of OTHERS) await asOther(other)
  let over = 0
  const begun = performance.now()
  const attacks = attack(ask, 2).finally(() => (over = performance.now()))
  const { waits, wrong } = await meanwhile(asOther, () => over > 0)
  expect([...(await attacks), ...wrong]).toEqual([])
  expect(waits.length).toBeGreaterThan(20)
  expect(Math.max(...waits.map(({ took }) => took))).toBeLessThan(SHARE * (over - begun))
})

it('a large change whose client leaves is taken back, and makes room for the next', async () => {
  const bring = (name: string, count: number, signal?: AbortSignal) =>
    send(
      { ...server, ...(signal && { signal }) },
      {
        path: '/tasks/edits',
        body: JSON.stringify({
          edits: [],
          project: { name, clientId: null },
          make: Array.from({ length: count }, (_, i) => ({ title: `Left ${i}` })),
        }),
      },
    )
  const names = async () =>
    (JSON.parse((await ask({ path: '/projects' })).text) as { name: string }[]).map((p) => p.name)
  const leaving = new AbortController()
  const left = bring('Left half-way', 5_000, leaving.signal).catch(() => 'gone')
  for (let i = 0; i < 200 && !(await names()).includes('Left half-way'); i++)
    await new Promise((later) => setTimeout(later, 10))
  expect(await names()).toContain('Left half-way')
  leaving.abort()
  expect(await left).toBe('gone')
  expect((await bring('Whole', 150)).status).toBe(200)
  expect(await names()).toContain('Whole')
  expect(await names()).not.toContain('Left half-way')
})
