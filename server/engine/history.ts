import { getTableColumns } from 'drizzle-orm'
import type { Event } from '#core/events/events.ts'
import type { Hand } from '../database/hand.ts'
import type { Database } from '../database/open.ts'
import type { Entity, Stored } from '../database/tables/engine.ts'
import * as tables from '../database/tables/index.ts'
import { handClock, type HandClock } from './clock.ts'
import { ENGINE, type Deriver, type Entry, type TableName, type Writer } from './journal.ts'
import { drained } from './portions.ts'
import { closedOnes, entriesBetween, entryBefore, type EntryRow } from './queries.ts'
import { entered, eventsIn, stretchesOf } from './runner.ts'
import type { Engine } from './services.ts'
import { openLog, writerOn } from './writer.ts'

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

/** The columns of a table, as entries name them: what was written before one went is left out. */
const columns = new Map<string, ReadonlySet<string>>()
function known(entity: Entity, row: Stored | null): Stored {
  let names = columns.get(entity)
  if (!names) columns.set(entity, (names = new Set(Object.keys(getTableColumns(tables[entity])))))
  const kept: Record<string, Stored[string]> = {}
  for (const column in row) if (names.has(column)) kept[column] = row[column] ?? null
  return kept
}
const isEmpty = (row: Stored): boolean => {
  for (const _ in row) return false
  return true
}

type Hands = (table: TableName) => Hand
/** Brings a row from one side of an entry to the other. */
function turn(hand: Hands, { entity, entityId: id, action, after }: Turned): void {
  const rows = hand(entity)
  if (action === 'removed') return rows.remove(id)
  const is = known(entity, after)
  if (action === 'made') {
    if (!rows.read(id, ['id'])) rows.insert({ ...is, id })
  } else if (!isEmpty(is)) rows.update(id, is)
}
type Turned = Pick<Entry, 'entity' | 'entityId' | 'action' | 'after'>

const OPPOSITE = { made: 'removed', changed: 'changed', removed: 'made' } as const
/** An entry that takes another back. */
function reversed(row: EntryRow): Entry {
  const entry = entered(row)
  const { action, before, after } = entry
  return { ...entry, action: OPPOSITE[action], before: after, after: before }
}
/** Takes one change back, newest entry first, and what followed from it. */
function takeBack(
  hand: Hands,
  write: Writer,
  change: readonly EntryRow[],
  back: readonly Deriver[],
): void {
  const entries = change.map(reversed)
  for (const entry of entries) turn(hand, entry)
  for (const derive of back) derive(write, entries, change[0]?.change)
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
      const hand: Hands = (table) => db.hand(tables[table])
      // What follows is derived by hand: nothing of it is an entry of the journal.
      const write = writerOn(openLog(hand, () => 0, { actor: ENGINE, at: from, kept: false }))
      const rows: EntryRow[] = []
      const mark = entryBefore.get(db.reader, { at: from })?.id ?? 0
      for (const change of changesBack(db, mark)) {
        takeBack(hand, write, change, following.back)
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
          const entries = stretch.map(entered)
          for (const entry of entries) turn(hand, entry)
          engine.forget(new Set(entries.map(({ entity }) => entity)))
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
