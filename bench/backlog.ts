import { join } from 'node:path'
import { insertRule } from '#server/areas/rules/service.ts'
import type { RuleDefinition, Rung } from '#contract/rules.ts'
import { openReading } from '#server/database/open.ts'
import { dueAlarm, newestEntry, positionOf } from '#server/engine/queries.ts'
import {
  isSignIn,
  meanwhile,
  OTHERS,
  p99,
  send,
  startApart,
  type Ask,
} from '#server/test/hostile.ts'
import { grow } from './growth-firm.ts'
import { ENGINE, ownFolder, report } from './house.ts'

/**
 * How long people wait while a firm of 106,000 tasks works off what fell due: its ladders at nine,
 * its series at six, and six days in which it was off.
 */

/** Nobody should wait longer, in milliseconds. */
const GOAL = 250
const SIZE = 110
/** As many requests as are made while nothing is due. */
const ALONE = 200

/** A rung that reaches all who can be late in the six days. */
const rung = (days: number): Rung => ({
  key: `d${days}`,
  delay: { days, unit: 'working', time: '09:00' },
  actions: [
    { kind: 'remind', who: { is: 'assignees' }, daily: false, text: '{task} is late' },
    { kind: 'tell', who: { is: 'lead' }, mail: days > 3, text: '{task}: {days late} late' },
    { kind: 'set-priority', to: days > 2 ? 'urgent' : 'high' },
  ],
})
const LADDER: RuleDefinition = {
  trigger: { kind: 'late' },
  conditions: { match: 'all', of: [] },
  rungs: [1, 2, 3, 4, 5].map(rung),
}

/** A firm that is left alone from noon on Monday. */
function leave(file: string): void {
  const { db, engine, people } = grow(SIZE, file)
  engine.journal.change(ENGINE, (write) => {
    write.update('firm', 1, { demo: true })
    insertRule(engine, write, { name: 'Ladder', ownerId: people[0]!, definition: LADDER }, true)
  })
  const counted = (of: string) => db.sqlite.prepare(`select count(*) from ${of}`).pluck().get()
  console.log(
    `${String(counted('tasks'))} tasks, ${String(counted('tasks where closedAt is null'))} open`,
  )
  db.close()
}

/** Says whether all that is due by a moment was done, and heard of. */
function watch(file: string, now: number) {
  const { reader, sqlite } = openReading(file)
  return {
    isQuiet: () =>
      !dueAlarm.get(reader, { now }) &&
      ['notices', 'rules'].every(
        (name) => positionOf.get(reader, { name })?.journalId === newestEntry.get(reader)?.id,
      ),
    runs: () => Number(sqlite.prepare('select count(*) from runs').pluck().get()),
    close: () => sqlite.close(),
  }
}

const { folder, remove } = ownFolder()
const file = join(folder, 'fernwick.sqlite')
const others = OTHERS.filter(([{ path }]) => !isSignIn(path))
leave(file)

/** How long people waited while a server, started at a moment, did what was due. */
async function waited(now: string, alone = false) {
  const server = await startApart(['dist/server/server/main.js'], folder, process.cwd(), now)
  const due = watch(file, Date.parse(now))
  const ask = (asked: Ask) => send(server, asked)
  // Code is warm before the clock runs.
  for (const [asked] of others) await ask(asked)
  while (alone && !due.isQuiet()) await new Promise((later) => setTimeout(later, 100))
  let made = 0
  const over = () => (alone ? ++made > ALONE : due.isQuiet())
  const { waits, wrong } = await meanwhile(ask, over, others)
  const runs = due.runs()
  due.close()
  await server.stop()
  if (wrong.length) throw new Error(wrong.join('\n'))
  const longest = Math.max(...waits.map(({ took }) => took))
  return { runs, requests: waits.length, p99: p99(waits, () => true), longest }
}

try {
  const alone = await waited('2026-11-23T12:00:00Z', true)
  let { runs } = alone
  for (const [name, now] of [
    ['nine o’clock, ladders', '2026-11-25T09:00:00Z'],
    ['six o’clock, series', '2026-11-26T06:00:00Z'],
    ['after six days off', '2026-12-02T09:30:00Z'],
  ] as const) {
    const beside = await waited(now)
    const ratio = (beside.p99 / alone.p99).toFixed(1)
    const note =
      `beside ${beside.runs - runs} runs, ${ratio} × ${alone.p99.toFixed(0)} ms; ` +
      `the longest of ${beside.requests} ${beside.longest.toFixed(0)} ms`
    report(`${name}: p99 of others`, beside.p99, GOAL, note, ' ms')
    runs = beside.runs
  }
} finally {
  remove()
}
