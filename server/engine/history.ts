import type { Database } from '../database/open.ts'
import * as tables from '../database/tables/index.ts'
import type { Stored } from '../database/tables/engine.ts'
import type { Event } from '#core/events/events.ts'
import { handClock, type HandClock } from './clock.ts'
import { ENGINE, type Deriver, type TableName } from './journal.ts'
import { closedOnes, entriesBetween, entryBefore, type EntryRow } from './queries.ts'
import { entered, eventsIn, stretchesOf } from './runner.ts'
import { drained } from './portions.ts'
import type { Engine } from './services.ts'
import { openLog, restoringOn, writerOn, type Log } from './writer.ts'

/** The firm as it was, rebuilt from the journal in a copy of it; nothing of this is kept. */

/** Changes as they were heard: mostly one, else those between which others were made. */
export type Stretch = readonly EntryRow[]

/** A firm that stands at a past moment, and can be led on from there. */
export interface History {
  /** Services over the firm as it stands there; what is done by them happens there alone. */
  readonly engine: Engine
  readonly clock: HandClock
  /** Where it began: the moment asked for, or as far back as the journal goes. */
  readonly from: number
  /** Whether the journal does not go back as far as was asked for. */
  readonly cut: boolean
  /** What happened since, in its order. */
  readonly since: readonly Stretch[]
  /** Makes what happened happen again; the clock is the caller's. */
  again(stretch: Stretch): void
  /** What listeners heard of it then. */
  events(stretch: Stretch): readonly Event[]
  /** Takes rows away that no journal tells of. */
  clear(table: TableName, ids?: readonly number[]): void
}

/** What follows from rows, as far as it is asked for in the past. */
export interface Following {
  /** From what is taken back, newest change first. */
  readonly back: readonly Deriver[]
  /** From what happens again. */
  readonly again: readonly Deriver[]
}
/** Puts an engine together over the copy. */
export type Rebuilding = (
  db: Database,
  clock: HandClock,
) => { readonly engine: Engine; readonly following: Following }

/** As many entries as are gone back over at most: what is older is not asked. */
const MOST = 250_000

/** The columns of a row that there still are. */
const known = (row: Stored | null, there: Stored): Stored | null =>
  row && Object.fromEntries(Object.entries(row).filter(([column]) => column in there))

/** Takes one change back, and what followed from it. */
function takeBack(log: Log, change: readonly EntryRow[], back: readonly Deriver[]): void {
  const { write, restore } = restoringOn(log)
  for (const entry of change) {
    const { entity, entityId, action, before } = entry
    const there = action === 'changed' ? log.hand(entity).read(entityId) : undefined
    if (action !== 'changed') restore({ entity, entityId, action, before })
    else if (there) restore({ entity, entityId, action, before: known(before, there) })
  }
  const of = change[0]?.change
  if (log.entries.length) for (const derive of back) derive(write, log.entries.slice(), of)
}

/** Makes one entry's row as it was made so before. */
function redo(hand: Log['hand'], { entity, entityId: id, action, after }: EntryRow): void {
  const rows = hand(entity)
  if (action === 'removed') return rows.remove(id)
  const there = rows.read(id)
  if (action === 'made' && !there && after) rows.insert({ ...after, id })
  const is = there && known(after, there)
  if (action === 'changed' && is && Object.keys(is).length) rows.update(id, is)
}

/** Reads the journal backwards down to an entry, change by change. */
function* changesBack(db: Database, after: number): Generator<EntryRow[]> {
  let change: EntryRow[] = []
  let read = 0
  let rows = entriesBetween.all(db.reader, { after, before: Number.MAX_SAFE_INTEGER })
  for (; rows.length; rows = entriesBetween.all(db.reader, { after, before: rows.at(-1)!.id })) {
    for (const row of rows) {
      if (change[0] && change[0].change !== row.change) {
        yield change
        change = []
        if (read >= MOST) return
      }
      change.push(row)
    }
    read += rows.length
  }
  if (change.length) yield change
}

/**
 * Leads a copy of the firm back to a moment, and hands it to some work; it is gone afterwards. Rows,
 * the states a task was in, the calendar: all that is journalled is as it was then.
 */
export function backIn<T>(
  live: Database,
  from: number,
  rebuild: Rebuilding,
  work: (history: History) => T,
): T {
  const db = live.copy({ bare: true })
  try {
    return db.transact(() => {
      const clock = handClock(from)
      const { engine, following } = rebuild(db, clock)
      const hand: Log['hand'] = (table) => db.hand(tables[table])
      const open = (at: number) => openLog(hand, () => 0, { actor: ENGINE, at, kept: false })
      const rows: EntryRow[] = []
      const mark = entryBefore.get(db.reader, { at: from })?.id ?? 0
      for (const change of changesBack(db, mark)) {
        takeBack(open(change[0]!.at), change, following.back)
        for (const row of change) rows.push(row)
      }
      rows.reverse()
      const [oldest] = rows
      const reached = mark > 0 && rows.length < MOST
      const begins = reached || !oldest ? from : Math.max(from, oldest.at)
      clock.set(begins)
      const closed = new Map(closedOnes.all(db.reader).map(({ id, last }) => [+id, last ?? 0]))
      const stretches = stretchesOf(rows, closed)
      return work({
        ...{ engine, clock, from: begins, cut: begins > from, since: stretches },
        again(stretch) {
          for (const row of stretch) redo(hand, row)
          const entries = stretch.map(entered)
          engine.forget(new Set(entries.map(({ entity }) => entity)))
          const write = writerOn(open(clock.now()))
          for (const derive of following.again) derive(write, entries)
        },
        events: (stretch) => drained(eventsIn(stretch)),
        clear(table, ids) {
          if (ids) for (const id of ids) hand(table).remove(id)
          else hand(table).clear()
        },
      })
    })
  } finally {
    db.close()
  }
}
