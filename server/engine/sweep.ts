import { and, asc, lt, max, sql } from 'drizzle-orm'
import { most, within, type Reader } from '../database/query.ts'
import { journal, notices, outbox, runs, tasks } from '../database/tables/index.ts'
import { ENGINE } from './journal.ts'
import type { Engine } from './services.ts'

/**
 * Old records go, where the firm says for how long they are kept: in portions, each a change of its
 * own, so that nobody waits for a sweep. Nothing is swept that is still needed so that nobody is told
 * twice, or that is not yet sent or read.
 */

/** As many rows of a kind as one portion takes. */
const PORTION = 500
const DAY = 86_400_000

/** A run about a task that is open says that its people were told: it stays as long as that is so. */
const openStill = sql`exists (select 1 from ${tasks} where ${runs.itemKind} = 'task'
  and ${tasks.id} = ${runs.itemId} and ${tasks.closedAt} is null)`
const oldRuns = within((orm, a: { before: number }) =>
  orm
    .select({ id: runs.id })
    .from(runs)
    .where(and(lt(runs.at, a.before), sql`not ${openStill}`))
    .orderBy(asc(runs.at))
    .limit(most(PORTION)),
)
// Conditions written out, so that the indexes of what is read and what is sent serve.
const oldNotices = within((orm, a: { before: number }) =>
  orm
    .select({ id: notices.id })
    .from(notices)
    .where(and(lt(notices.at, a.before), sql`${notices.readAt} is not null`))
    .limit(most(PORTION)),
)
const oldMail = within((orm, a: { before: number }) =>
  orm
    .select({ id: outbox.id })
    .from(outbox)
    .where(and(lt(outbox.createdAt, a.before), sql`${outbox.state} <> 'waiting'`))
    .limit(most(PORTION)),
)
const newestChange = within((orm) => orm.select({ change: max(journal.change) }).from(journal))
/** Entries of old changes, but for the newest change of all: numbers are counted on from it. */
const oldEntries = within((orm, a: { before: number; newest: number }) =>
  orm
    .select({ id: journal.id })
    .from(journal)
    .where(and(lt(journal.at, a.before), sql`+${journal.change} < ${a.newest}`))
    .orderBy(asc(journal.at))
    .limit(most(PORTION)),
)

const TABLES = { journal: 'journal', runs: 'runs', notices: 'notices', mail: 'outbox' } as const
type Kept = keyof typeof TABLES
const KEPT = ['journal', 'runs', 'notices', 'mail'] as const satisfies readonly Kept[]

const OLD: Readonly<Record<Kept, (reader: Reader, before: number) => { id: number }[]>> = {
  journal: (reader, before) =>
    oldEntries.all(reader, { before, newest: newestChange.get(reader)?.change ?? 0 }),
  runs: (reader, before) => oldRuns.all(reader, { before }),
  notices: (reader, before) => oldNotices.all(reader, { before }),
  mail: (reader, before) => oldMail.all(reader, { before }),
}

/** Takes away one portion of what is older than the firm keeps it; answers whether more may wait. */
export function sweep({ reader, journal: door, firm, clock }: Engine): boolean {
  const retention = firm.retention()
  let more = false
  for (const kind of KEPT) {
    const days = retention[kind]
    if (days === undefined) continue
    const old = OLD[kind](reader, clock.now() - days * DAY)
    if (old.length === 0) continue
    more ||= old.length === PORTION
    door.change(ENGINE, (write) => {
      for (const { id } of old) write.remove(TABLES[kind], id)
    })
  }
  return more
}

/** The moment from which on the journal is whole, and changes can be taken back; 0 for ever. */
export function journalFrom({ firm, clock }: Engine): number {
  const days = firm.retention().journal
  return days === undefined ? 0 : clock.now() - days * DAY
}
