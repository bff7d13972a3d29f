import { spawn, type ChildProcess } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import Sqlite from 'better-sqlite3'
import { afterEach, expect, it } from 'vitest'
import { insertRule } from '../areas/rules/service.ts'
import { insertSeries } from '../areas/series/service.ts'
import { insertTask } from '../areas/tasks/write.ts'
import { ENGINE, lab, LADDER } from '../test/lab.ts'

const root = fileURLToPath(new URL('../..', import.meta.url))
const children = new Set<ChildProcess>()
afterEach(() => children.forEach((c) => c.kill('SIGKILL')))

const SERIES = 60
const LATE = 60
const START = '2026-11-23T08:00:00Z'
const END = Date.parse('2026-12-04T20:00:00Z')

/** Starts the real server as a process of its own on a clock that stands at `now`. */
async function start(data: string, now: string): Promise<{ base: string; child: ChildProcess }> {
  const child = spawn(process.execPath, ['--import', 'tsx', 'server/main.ts'], {
    cwd: root,
    env: {
      ...process.env,
      PORT: '0',
      FERNWICK_DATA: data,
      FERNWICK_TEST_NOW: now,
      FERNWICK_WEB: '/nowhere',
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  children.add(child)
  const base = await new Promise<string>((resolve, reject) => {
    child.once('exit', () => reject(new Error('the server ended before it listened')))
    child.stdout!.on('data', (text: Buffer) => {
      const found = /http:\/\/\S+/.exec(text.toString())
      if (found) resolve(found[0])
    })
  })
  return { base, child }
}

const advance = (base: string, to: number) =>
  fetch(`${base}/api/test/clock?to=${to}`, { method: 'POST', headers: { Origin: base } })

it('killed in the middle of a tick, again and again: nothing twice, nothing missing', async () => {
  const data = mkdtempSync(join(tmpdir(), 'fernwick-crash-'))
  const l = lab({ file: join(data, 'fernwick.sqlite') })
  l.engine.journal.change(ENGINE, (write) => {
    insertRule(
      l.engine,
      write,
      {
        name: 'Late',
        ownerId: l.imogen.id,
        definition: LADDER({ team: l.team, boss: l.imogen.id }),
      },
      true,
    )
    for (let i = 0; i < SERIES; i++)
      insertSeries(
        l.engine,
        write,
        {
          name: `S${i}`,
          leadDays: 0,
          schedule: { start: '2026-11-24' as never, rule: 'FREQ=DAILY;COUNT=6', roll: 'following' },
          makes: {
            kind: 'task',
            title: `Series ${i}`,
            description: '',
            clientId: null,
            projectId: null,
            assignees: [],
            estimate: null,
            checklist: [],
            period: { of: 'week', which: 'same' },
          },
        },
        l.imogen.id,
      )
    for (let i = 0; i < LATE; i++)
      insertTask(l.engine, write, {
        title: `Late ${i}`,
        due: '2026-11-23',
        assignees: [l.tobias.id],
      })
  })
  l.db.close()

  let kills = 0
  for (const wait of [25, 70, 140, 260, 420]) {
    const { base, child } = await start(data, START)
    const done = advance(base, END).then(
      () => true,
      () => false,
    )
    await new Promise((resolve) => setTimeout(resolve, wait))
    child.kill('SIGKILL')
    if (!(await done)) kills++
    await new Promise((resolve) =>
      child.exitCode !== null || child.signalCode !== null
        ? resolve(null)
        : child.once('exit', resolve),
    )
  }
  expect(kills).toBeGreaterThan(0)
  const { base, child } = await start(data, START)
  expect((await advance(base, END)).status).toBe(200)
  child.kill('SIGTERM')
  await new Promise((resolve) => child.once('exit', resolve))

  const db = new Sqlite(join(data, 'fernwick.sqlite'))
  const count = (sql: string) => (db.prepare(sql).get() as { n: number }).n
  expect(count('select count(*) as n from occurrences')).toBe(SERIES * 6)
  expect(count("select count(*) as n from tasks where title like 'Series%'")).toBe(SERIES * 6)
  expect(
    count(
      'select count(*) as n from (select seriesId, occurrence from tasks where seriesId is ' +
        'not null group by 1, 2 having count(*) > 1)',
    ),
  ).toBe(0)
  // Rung one on the 24th, two on the 26th, three on the 30th, once for each late task; the
  // follow-up task of rung three too.
  for (const rung of ['one', 'two', 'three'])
    expect(
      count(
        `select count(*) as n from runs where key like 'ladder:%:${rung}' and itemKind = ` +
          `'task' and itemId in (select id from tasks where title like 'Late%')`,
      ),
    ).toBe(LATE)
  expect(count("select count(*) as n from tasks where title like 'Call about Late%'")).toBe(LATE)
  expect(
    count('select count(*) as n from (select key from outbox group by key having count(*) > 1)'),
  ).toBe(0)
  expect(count("select count(*) as n from outbox where state <> 'sent'")).toBe(0)
  expect(
    count("select count(*) as n from notices where kind = 'escalation' and body like 'Late%'"),
  ).toBe(LATE)
  expect(db.pragma('integrity_check')).toEqual([{ integrity_check: 'ok' }])
  db.close()
  rmSync(data, { recursive: true })
}, 240_000)
