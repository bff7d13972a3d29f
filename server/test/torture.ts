import { join } from 'node:path'
import Sqlite from 'better-sqlite3'
import { lateAudit } from '../areas/rules/audit.ts'
import { insertRule } from '../areas/rules/service.ts'
import { insertSeries } from '../areas/series/service.ts'
import { insertTask } from '../areas/tasks/write.ts'
import { assemble } from '../assembly.ts'
import { openDatabase } from '../database/open.ts'
import { handClock } from '../engine/clock.ts'
import type { Viewer } from '../engine/viewer.ts'
import { derivedFaults } from './derived.ts'
import { startApart } from './hostile.ts'
import { ENGINE, lab, LADDER } from './lab.ts'

/**
 * A server that is killed again and again while people write and time goes on. What it said yes to
 * is there, once; what is to happen by itself has happened, once; large changes are whole or not at
 * all.
 */

/** Series with six dates each, and late tasks that climb three rungs, while it goes on. */
const SERIES = 40
const LATE = 40
const [START, END] = [Date.parse('2026-11-23T08:00:00Z'), Date.parse('2026-12-04T20:00:00Z')]
/** People who write at once, and how many tasks one large change brings in. */
const WRITERS = 4
const LARGE = 400
/** By then what could not be sent is due again, however often it was tried. */
const TRIED_AGAIN = 3 * 3_600_000
/** At least so many writes are acknowledged between two kills. */
const EACH = 6

/** What was asked for, and is asked for again until it is answered: with one key, so that it is done once. */
interface Wish {
  readonly kind: 'task' | 'comment' | 'large' | 'edit'
  readonly name: string
  readonly path: string
  readonly method: 'POST' | 'PATCH'
  readonly body: object
}
/** How it went; every count of `faults` is a broken promise. */
export interface Torture {
  readonly kills: number
  readonly acknowledged: number
  readonly counts: Readonly<Record<string, number>>
  readonly faults: readonly string[]
}

function found(file: string): number {
  const l = lab({ file })
  const edited = l.engine.journal.change(ENGINE, (write) => {
    const definition = LADDER({ team: l.team, boss: l.imogen.id })
    insertRule(l.engine, write, { name: 'Late', ownerId: l.imogen.id, definition }, true)
    for (let i = 0; i < SERIES; i++)
      insertSeries(
        l.engine,
        write,
        {
          ...{ name: `S${i}`, leadDays: 0 },
          schedule: { start: '2026-11-24' as never, rule: 'FREQ=DAILY;COUNT=6', roll: 'following' },
          makes: {
            ...{ kind: 'task', title: `Series ${i}`, description: '', assignees: [] },
            ...{ clientId: null, projectId: null, estimate: null, checklist: [] },
            period: { of: 'week', which: 'same' },
          },
        },
        l.imogen.id,
      )
    for (let i = 0; i < LATE; i++)
      insertTask(l.engine, write, {
        ...{ title: `Late ${i}`, due: '2026-11-23' as never, assignees: [l.tobias.id] },
      })
    return insertTask(l.engine, write, { title: 'Written on', assignees: [] })
  }).result
  l.db.close()
  return edited
}

/** Wishes of one writer, without end; edits count upwards, so that the newest can be told. */
function* wishes(writer: number, edited: number): Generator<Wish, never> {
  for (let n = 0; ; n++) {
    const name = `W${writer}-${n}`
    if (n % 25 === 12)
      yield {
        ...{ kind: 'large', name, path: '/tasks/edits', method: 'POST' },
        body: {
          edits: [],
          project: { name, clientId: null },
          make: Array.from({ length: LARGE }, (_, i) => ({ title: `Part ${i} of ${name}` })),
        },
      }
    else if (n % 3 === 1)
      yield {
        ...{ kind: 'comment', name, path: `/tasks/${edited}/comments`, method: 'POST' },
        body: { body: `<p>${name}</p>` },
      }
    else if (n % 3 === 2 && writer === 0)
      yield {
        ...{ kind: 'edit', name, path: `/tasks/${edited}`, method: 'PATCH' },
        body: { estimate: n },
      }
    else yield { kind: 'task', name, path: '/tasks', method: 'POST', body: { title: name } }
  }
}

/** A server under the load of its writers. */
type Round = Awaited<ReturnType<typeof startApart>>
const ask = ({ base, cookie }: Round, { method, path, body, name }: Wish) =>
  fetch(`${base}/api/v1${path}`, {
    method,
    headers: {
      ...{ Origin: base, Cookie: cookie, 'Content-Type': 'application/json' },
      ...(method === 'POST' && { 'Idempotency-Key': name }),
    },
    body: JSON.stringify(body),
  })

/** People who write, whatever becomes of the server meanwhile. */
function crowd(edited: number) {
  const acknowledged: Wish[] = []
  const faults: string[] = []
  const lines = Array.from({ length: WRITERS }, (_, i) => wishes(i, edited))
  // What was not answered is asked for again by the next round.
  const open: (Wish | null)[] = lines.map(() => null)
  async function write(round: Round, writer: number, over: () => boolean): Promise<void> {
    // What an earlier round left open is asked for again, whatever the hour.
    while (open[writer] || !over()) {
      const wish = (open[writer] ??= lines[writer]!.next().value)
      const answer = await ask(round, wish).catch(() => null)
      const text = await answer?.text().catch(() => null)
      if (!answer || text === null || text === undefined) return
      open[writer] = null
      if (answer.ok) acknowledged.push(wish)
      else faults.push(`${wish.name}: ${answer.status} ${text.slice(0, 200)}`)
    }
  }
  return {
    ...{ acknowledged, faults },
    all: (round: Round, over: () => boolean) =>
      Promise.all(lines.map((_, writer) => write(round, writer, over))),
  }
}

/** How many late tasks have no alarm, and should. */
function gapsIn(file: string): number {
  const db = openDatabase(file)
  const boss: Viewer = { id: 1, name: '', access: 'owner', clientId: null }
  const { gaps } = lateAudit(assemble(db, handClock(END)).engine, boss)
  db.close()
  return gaps
}

/** What the database holds against what was promised. */
function verdict(data: string, edited: number, acknowledged: readonly Wish[]) {
  const db = new Sqlite(join(data, 'fernwick.sqlite'))
  const faults: string[] = []
  const count = (sql: string, ...args: unknown[]) =>
    Number(
      db
        .prepare(sql)
        .pluck()
        .get(...args),
    )
  const must = (what: string, is: unknown, should: unknown) => {
    if (is !== should) faults.push(`${what}: ${String(is)}, not ${String(should)}`)
  }
  const largest = Math.max(
    0,
    ...acknowledged.flatMap(({ kind, body }) =>
      kind === 'edit' && 'estimate' in body ? [Number(body.estimate)] : [],
    ),
  )
  /** How often each value of a column is there. */
  const times = (sql: string) => {
    const found = new Map<string, number>()
    for (const value of db.prepare(sql).pluck().all() as string[])
      found.set(value, (found.get(value) ?? 0) + 1)
    return found
  }
  const there = {
    task: times('select title from tasks'),
    comment: times('select body from comments'),
    large: times('select name from projects'),
  }
  for (const { kind, name } of acknowledged)
    if (kind !== 'edit')
      must(name, there[kind].get(kind === 'comment' ? `<p>${name}</p>` : name), 1)
  // An edit that was not answered may have been made.
  if (count('select coalesce(estimate, 0) from tasks where id = ?', edited) < largest)
    faults.push(`the edit ${largest} is lost`)
  const parts = db
    .prepare(
      'select p.name, count(t.id) as n from projects p left join tasks t on t.projectId = p.id group by p.id',
    )
    .all() as { name: string; n: number }[]
  for (const { name, n } of parts) must(`parts of ${name}`, n, LARGE)
  must('open changes', count('select count(*) from openChanges where last is null'), 0)
  const counts = {
    occurrences: count('select count(*) from occurrences'),
    'tasks of series': count("select count(*) from tasks where title like 'Series%'"),
    runs: count("select count(*) from runs where key like 'ladder:%' and outcome = 'done'"),
    mails: count("select count(*) from outbox where state = 'sent'"),
  }
  must('occurrences', counts.occurrences, SERIES * 6)
  // Two of the six fall on a weekend, and on the Monday after it as one.
  must('tasks of series', counts['tasks of series'], SERIES * 5)
  for (const rung of ['one', 'two', 'three'])
    must(
      `runs of rung ${rung}`,
      count(
        `select count(*) from runs where key like 'ladder:%:' || ? and itemKind = 'task'
          and itemId in (select id from tasks where title like 'Late%')`,
        rung,
      ),
      LATE,
    )
  const follow = count("select count(*) from tasks where title like 'Call about Late%'")
  must('tasks made by rung three', follow, LATE)
  const told = "select count(*) from notices where kind = 'escalation' and body like 'Late%'"
  must('notices of rung three', count(told), LATE)
  must('mails that were not sent', count("select count(*) from outbox where state <> 'sent'"), 0)
  must('mails', counts.mails, count('select count(distinct key) from outbox'))
  must('soundness', db.pragma('integrity_check', { simple: true }), 'ok')
  must('loose rows', (db.pragma('foreign_key_check') as unknown[]).length, 0)
  faults.push(...derivedFaults(db))
  db.close()
  must('late tasks without an alarm', gapsIn(join(data, 'fernwick.sqlite')), 0)
  return { counts, faults }
}

const sleep = (ms: number) => new Promise<void>((later) => setTimeout(later, ms))

/** Kills a server so many times; `random` says when, from 0 to 1. */
export async function torture(
  kills: number,
  { data, command, cwd }: { data: string; command: readonly string[]; cwd: string },
  random: () => number,
): Promise<Torture> {
  const edited = found(join(data, 'fernwick.sqlite'))
  const { acknowledged, faults, all } = crowd(edited)
  let now = START
  let killed = 0
  async function round(to: number, wait: number | null): Promise<void> {
    const server = await startApart(command, data, cwd, new Date(now).toISOString())
    const { base, child } = server
    const gone = new Promise((resolve) => child.once('exit', resolve))
    // The last round answers what is open, and lets time go on to its end.
    let over = wait === null
    const working = all(server, () => over)
    const goOn = (until: number) =>
      fetch(`${base}/api/test/clock?to=${until}`, {
        method: 'POST',
        headers: { Origin: base },
      }).then(
        (answer) => answer.ok && (now = until),
        () => false,
      )
    // People write for a moment before time goes on.
    const clock = sleep(120).then(() => goOn(to))
    // However slow the machine, something was said yes to before each kill.
    const goal = acknowledged.length + EACH
    if (wait === null) await clock
    else await sleep(wait)
    while (wait !== null && acknowledged.length < goal && faults.length === 0) await sleep(5)
    over = true
    if (wait === null) {
      await working
      // Mail that a slow machine could not send at once is tried again.
      await goOn(to + TRIED_AGAIN)
      child.kill('SIGTERM')
    } else if (child.kill('SIGKILL')) killed++
    await Promise.all([working, clock, gone])
  }
  for (let i = 0; i < kills; i++)
    await round(START + ((i + 1) / kills) * (END - START), 150 + random() * 900)
  await round(END, null)
  // What the last kill left unanswered is answered now, once more.
  const { counts, faults: broken } = verdict(data, edited, acknowledged)
  return {
    ...{ kills: killed, acknowledged: acknowledged.length, counts },
    faults: [...faults, ...broken],
  }
}
