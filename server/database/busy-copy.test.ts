import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { afterAll, expect, it } from 'vitest'
import { assemble } from '../assembly.ts'
import { handClock } from '../engine/clock.ts'
import { expectDerived } from '../test/derived.ts'
import { send, startApart } from '../test/hostile.ts'
import { lab } from '../test/lab.ts'
import { backUp, restore } from './backup.ts'
import { openDatabase } from './open.ts'

const root = mkdtempSync(join(tmpdir(), 'fernwick-busy-'))
afterAll(() => rmSync(root, { recursive: true }))

const WRITERS = 6
const BROUGHT_IN = 5_000

it('a copy made under a crowd of writers, restored, is one moment of all of them', async () => {
  const [data, copy, again] = ['data', 'copy', 'again'].map((name) => join(root, name))
  const { db, clock } = lab({ file: join(root, 'fernwick.sqlite') })
  db.close()
  backUp(root, data!)
  const sources = fileURLToPath(new URL('../..', import.meta.url))
  const server = await startApart(['--import', 'tsx', 'server/main.ts'], data!, sources)
  const post = (path: string, body: object) => send(server, { path, body: JSON.stringify(body) })
  /** How many of each writer's tasks were asked for, and how many acknowledged. */
  const asked = Array.from({ length: WRITERS }, () => 0)
  const done = [...asked]
  let over = false
  async function write(who: number): Promise<void> {
    while (!over) {
      const title = `Task ${who} ${asked[who]!++}`
      const { status } = await post('/tasks', { title })
      expect(status).toBe(201)
      done[who]!++
    }
  }
  const large = post('/tasks/edits', {
    ...{ edits: [], project: { name: 'Brought in', clientId: null } },
    make: Array.from({ length: BROUGHT_IN }, (_, i) => ({ title: `Entry ${i}` })),
  })
  const writers = Array.from({ length: WRITERS }, (_, who) => write(who))
  const someDone = () => done.every((count) => count > 3)
  await expect.poll(someDone, { timeout: 20_000 }).toBe(true)
  const before = [...done]
  backUp(data!, copy!)
  const after = [...asked]
  over = true
  await Promise.all(writers)
  expect((await large).status).toBe(200)
  await server.stop()

  restore(again!, copy!, 'now')
  const restored = openDatabase(join(again!, 'fernwick.sqlite'))
  // What was being made in portions is taken back when a server starts, as after a power cut.
  assemble(restored, handClock(clock.now()))
  const titles = restored.sqlite.prepare('select title from tasks').pluck().all() as string[]
  for (let who = 0; who < WRITERS; who++) {
    const theirs = titles.filter((title) => title.startsWith(`Task ${who} `))
    expect(theirs.length).toBeGreaterThanOrEqual(before[who]!)
    expect(theirs.length).toBeLessThanOrEqual(after[who]!)
    // One moment: nothing of a writer is missing before what is there.
    const inOrder = Array.from({ length: theirs.length }, (_, i) => `Task ${who} ${i}`)
    expect(theirs.toSorted()).toEqual(inOrder.toSorted())
  }
  const entries = titles.filter((title) => title.startsWith('Entry')).length
  expect([0, BROUGHT_IN]).toContain(entries)
  expectDerived(restored.sqlite)
  restored.close()
})
