import { and, asc, eq, gte, inArray, lt, max, sql } from 'drizzle-orm'
import type { RECORDS } from '#contract/words.ts'
import { most, within, type Question } from '../database/query.ts'
import { listed } from '../database/sql.ts'
import {
  attachments,
  idempotency,
  journal,
  notices,
  outbox,
  people,
  reminded,
  runs,
  tasks,
} from '../database/tables/index.ts'
import { ENGINE, type Writer } from './journal.ts'
import type { Engine } from './services.ts'

/**
 * Old records go, where the firm says for how long they are kept: in portions, each a change of its
 * own, so that nobody waits for a sweep. Nothing is swept that is still needed so that nobody is told
 * twice, or that is not yet sent or read. Files that were taken off go with what could bring them back.
 */

/** As many rows of a kind as one portion takes. */
const PORTION = 500
const DAY = 86_400_000

/** A run about a task that is open says that its people were told: it stays as long as that is so. */
const openStill = sql`exists (select 1 from ${tasks} where ${runs.itemKind} = 'task'
  and ${tasks.id} = ${runs.itemId} and ${tasks.closedAt} is null)`
const oldRuns = within((orm, a: { before: number; from: number }) =>
  orm
    .select({ id: runs.id, at: runs.at })
    .from(runs)
    .where(and(gte(runs.at, a.from), lt(runs.at, a.before), sql`not ${openStill}`))
    .orderBy(asc(runs.at))
    .limit(most(PORTION)),
)
// Conditions written out, so that the indexes of what is read and what is sent serve.
const oldNotices = within((orm, a: { before: number; from: number }) =>
  orm
    .select({ id: notices.id, at: notices.at })
    .from(notices)
    .where(
      and(gte(notices.at, a.from), lt(notices.at, a.before), sql`${notices.readAt} is not null`),
    )
    .orderBy(asc(notices.at))
    .limit(most(PORTION)),
)
/** What went to whom by reminders goes as the notices of it do. */
const oldReminded = within((orm, a: { before: number; from: number }) =>
  orm
    .select({ id: reminded.id, at: reminded.at })
    .from(reminded)
    .where(and(gte(reminded.at, a.from), lt(reminded.at, a.before)))
    .orderBy(asc(reminded.at))
    .limit(most(PORTION)),
)
const oldMail = within((orm, a: { before: number; from: number }) =>
  orm
    .select({ id: outbox.id, at: outbox.createdAt })
    .from(outbox)
    .where(
      and(
        gte(outbox.createdAt, a.from),
        lt(outbox.createdAt, a.before),
        sql`${outbox.state} <> 'waiting'`,
      ),
    )
    .orderBy(asc(outbox.createdAt))
    .limit(most(PORTION)),
)
const newestChange = within((orm) => orm.select({ change: max(journal.change) }).from(journal))
/** Entries of old changes, but for the newest change of all: numbers are counted on from it. */
const oldEntries = within((orm, a: { before: number; from: number; newest: number }) =>
  orm
    .select({
      id: journal.id,
      at: journal.at,
      digest: sql<string | null>`case ${journal.entity}
        when 'attachments' then coalesce(${journal.before}, ${journal.after}) ->> '$.digest'
        when 'people' then coalesce(${journal.before} ->> '$.photo', ${journal.after} ->> '$.photo')
        end`,
    })
    .from(journal)
    .where(
      and(gte(journal.at, a.from), lt(journal.at, a.before), sql`+${journal.change} < ${a.newest}`),
    )
    .orderBy(asc(journal.at))
    .limit(most(PORTION)),
)

const filed = within((orm, a: { digests: string }) =>
  orm
    .selectDistinct({ digest: attachments.digest })
    .from(attachments)
    .where(inArray(attachments.digest, listed(a.digests))),
)
/** Photos of people are bytes as well. */
const shownOf = within((orm, a: { digests: string }) =>
  orm
    .selectDistinct({ digest: people.photo })
    .from(people)
    .where(inArray(people.photo, listed(a.digests))),
)
const photosBefore = within((orm, a: { digests: string }) => {
  const digest = sql<string>`${journal.before} ->> '$.photo'`
  return orm
    .selectDistinct({ digest })
    .from(journal)
    .where(and(eq(journal.entity, 'people'), inArray(digest, listed(a.digests))))
})
const photosAfter = within((orm, a: { digests: string }) => {
  const digest = sql<string>`${journal.after} ->> '$.photo'`
  return orm
    .selectDistinct({ digest })
    .from(journal)
    .where(and(eq(journal.entity, 'people'), inArray(digest, listed(a.digests))))
})
const remembered = within((orm, a: { digests: string }) => {
  const digest = sql<string>`coalesce(${journal.before}, ${journal.after}) ->> '$.digest'`
  return orm
    .selectDistinct({ digest })
    .from(journal)
    .where(and(eq(journal.entity, 'attachments'), inArray(digest, listed(a.digests))))
})
/** Lets go of the bytes that neither a file nor the journal speaks of any more. */
function dropFiles({ reader, files }: Engine, digests: readonly string[]): void {
  if (digests.length === 0) return
  const asked = { digests: JSON.stringify(digests) }
  const needed = new Set(
    [filed, remembered, shownOf, photosBefore, photosAfter].flatMap((question) =>
      question.all(reader, asked).map((row) => row.digest),
    ),
  )
  for (const digest of new Set(digests)) if (!needed.has(digest)) files.drop(digest)
}

interface Old {
  readonly id: number
  readonly at: number
  readonly digest?: string | null
}
type Asked = { before: number; from: number; newest: number }
type Table = 'journal' | 'runs' | 'notices' | 'reminded' | 'outbox'
type Finds = Pick<Question<Asked, Old>, 'all'>
/** The tables of each kind of records, and how its old ones are found, oldest first. */
const OLD: Readonly<Record<(typeof RECORDS)[number], readonly (readonly [Table, Finds])[]>> = {
  journal: [['journal', oldEntries]],
  runs: [['runs', oldRuns]],
  notices: [
    ['notices', oldNotices],
    ['reminded', oldReminded],
  ],
  mail: [['outbox', oldMail]],
}

function* sweepTable(
  engine: Engine,
  table: Table,
  question: Finds,
  days: number,
): Generator<undefined, void> {
  const { reader, clock, journal: door } = engine
  const before = clock.now() - days * DAY
  const newest = newestChange.get(reader)?.change ?? 0
  // What is left standing is passed by once and not in each portion.
  for (let from = 0; ;) {
    const old = question.all(reader, { before, from, newest })
    const last = old.at(-1)
    if (!last) return
    door.change(ENGINE, (write) => {
      for (const { id } of old) write.remove(table, id)
    })
    dropFiles(
      engine,
      old.flatMap(({ digest }) => digest ?? []),
    )
    yield
    if (old.length < PORTION) return
    from = last.at
  }
}

/** For how many days a repeated request is known again. */
const REPEATS = 2
const oldRepeats = within((orm, a: { before: number }) =>
  orm
    .select({ id: idempotency.id })
    .from(idempotency)
    .where(lt(idempotency.at, a.before))
    .limit(most(PORTION)),
)
/** For how many days it is told that a rule was woken and what it asks did not hold. */
const MISSES = 30
// Written out, so that the index of what was skipped serves.
const oldMisses = within((orm, a: { before: number }) =>
  orm
    .select({ id: runs.id })
    .from(runs)
    .where(
      and(
        lt(runs.at, a.before),
        sql`${runs.outcome} = 'skipped' and ${runs.key} >= 'left:' and ${runs.key} < 'left;'`,
      ),
    )
    .limit(most(PORTION)),
)
/** Takes away all of a table that is so many days old and found so, whatever the firm keeps. */
function* sweepAll<R>(
  { reader, clock, journal: door }: Engine,
  days: number,
  question: Pick<Question<{ before: number }, R>, 'all'>,
  remove: (write: Writer, old: R) => void,
): Generator<undefined, void> {
  const asked = { before: clock.now() - days * DAY }
  for (let old = question.all(reader, asked); old.length; old = question.all(reader, asked)) {
    door.change(ENGINE, (write) => {
      for (const each of old) remove(write, each)
    })
    yield
  }
}

/** Takes away what is older than the firm keeps it, a portion at each step. */
export function* sweep(engine: Engine): Generator<undefined, void> {
  yield* sweepAll(engine, REPEATS, oldRepeats, (write, { id }) => write.remove('idempotency', id))
  yield* sweepAll(engine, MISSES, oldMisses, (write, { id }) => write.remove('runs', id))
  for (const kind of ['journal', 'runs', 'notices', 'mail'] as const) {
    const days = engine.firm.retention()[kind]
    if (days === undefined) continue
    for (const [table, finds] of OLD[kind]) yield* sweepTable(engine, table, finds, days)
  }
}

/** The moment from which on the journal is whole, and changes can be taken back; 0 for ever. */
export function journalFrom({ firm, clock }: Engine): number {
  const days = firm.retention().journal
  return days === undefined ? 0 : clock.now() - days * DAY
}
