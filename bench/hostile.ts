import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { makeDemoFirm } from '#demo/firm.ts'
import { openDatabase } from '#server/database/open.ts'
import {
  attack,
  isSignIn,
  meanwhile,
  p99,
  send,
  startApart,
  type Ask,
} from '#server/test/hostile.ts'
import { NOW, report } from './house.ts'

/**
 * How long others wait while eight hostile or large requests are under way at once: the 99th of a
 * hundred of them, beside the same without.
 */

/** Nobody should wait longer, in milliseconds. */
const GOAL = 250
/** The same of a sign-in. */
const SIGN_IN = 1_000
/** As many of the others' requests as are made without. */
const ALONE = 300

const data = mkdtempSync(join(tmpdir(), 'fernwick-bench-'))
const db = openDatabase(join(data, 'fernwick.sqlite'))
await makeDemoFirm(db, NOW)
db.close()
const server = await startApart(['dist/server/server/main.js'], data, process.cwd())
const ask = (asked: Ask) => send(server, asked)
const asOther = (asked: Ask) => send({ ...server, cookie: server.other }, asked)
try {
  // Threads are there before the clock runs, and code is warm.
  await attack(ask, 1)
  let made = 0
  const without = await meanwhile(asOther, () => ++made > ALONE)
  let over = false
  const attacks = attack(ask, 8).finally(() => (over = true))
  const beside = await meanwhile(asOther, () => over)
  const wrong = [...(await attacks), ...without.wrong, ...beside.wrong]
  if (wrong.length) throw new Error(wrong.join('\n'))
  for (const [name, isMeant, most] of [
    ['p99 of others', (path: string) => !isSignIn(path), GOAL],
    ['p99 of sign-ins', isSignIn, SIGN_IN],
  ] as const) {
    const [alone, others] = [p99(without.waits, isMeant), p99(beside.waits, isMeant)]
    const note = `beside eight hostile requests, ${(others / alone).toFixed(1)} × ${alone.toFixed(0)} ms`
    report(name, others, most, note, ' ms')
  }
} finally {
  await server.stop()
  rmSync(data, { recursive: true })
}
