import { max } from 'drizzle-orm'
import type { SQLiteTable } from 'drizzle-orm/sqlite-core'
import type { ChangeId, TokenId } from '#core/brands.ts'
import { eventsOf, type Event } from '#core/events/events.ts'
import type { ItemKind } from '#contract/words.ts'
import type { Hand } from '../database/hand.ts'
import type { Database } from '../database/open.ts'
import { within } from '../database/query.ts'
import * as tables from '../database/tables/index.ts'
import { ENTITIES, type ACTORS, type Entity, type Stored } from '../database/tables/engine.ts'
import type { Clock } from './clock.ts'
import {
  drained,
  makeInPortions,
  takeBackOpen,
  type Carrying,
  type Door,
  type Hold,
  type Large,
  type Progress,
  type Work,
} from './portions.ts'
import { openLog, writerOn } from './writer.ts'

export interface Actor {
  readonly kind: (typeof ACTORS)[number]
  readonly id: number | null
  /** The token by which a person's program acts. */
  readonly token?: TokenId
}
/** What the engine itself does. */
export const ENGINE: Actor = { kind: 'engine', id: null }

/**
 * What led to a change: a journal entry, with how many changes deep the chain is, or the wish to
 * take a change back.
 */
export type Cause =
  { readonly journalId: number; readonly depth: number } | { readonly undoes: ChangeId }

/** A thing that alarms, runs, notices and the journal speak of. */
export interface Item {
  readonly kind: ItemKind
  readonly id: number
}

/** One row changed, as its columns are stored. */
export interface Entry {
  readonly id: number
  readonly change: ChangeId
  readonly at: number
  readonly actor: Actor
  readonly depth: number
  /** The change that this one takes back. */
  readonly undoes: ChangeId | null
  readonly entity: Entity
  readonly entityId: number
  readonly action: 'made' | 'changed' | 'removed'
  /** Whose activity it belongs to. */
  readonly item: Item | null
  readonly projectId: number | null
  readonly before: Stored | null
  readonly after: Stored | null
}

type Tables = typeof tables
export type TableName = {
  [N in keyof Tables]: Tables[N] extends SQLiteTable ? N : never
}[keyof Tables]
type RowOf<T extends TableName> = Tables[T]['$inferSelect']
type NewRow<T extends TableName> = Tables[T]['$inferInsert']
type KeyOf<T extends TableName> = RowOf<T> extends { id: infer K } ? K : never

/** What a change may do; only the journal hands one out. */
export interface Writer {
  /** The moment of the change. */
  readonly at: number
  readonly actor: Actor
  /** The number of the change, for what is known by it and is no entry; null before its first. */
  readonly change: ChangeId | null
  /** Whether it wrote anything that is journalled. */
  readonly written: boolean
  insert<T extends TableName>(table: T, row: NewRow<T>): KeyOf<T>
  /**
   * Writes what differs; answers whether anything did. Whoever has just read the whole row hands it
   * over, and it is not read again.
   */
  update<T extends TableName>(table: T, row: KeyOf<T> | RowOf<T>, patch: Partial<RowOf<T>>): boolean
  remove<T extends TableName>(table: T, id: KeyOf<T>): void
  /** Rows as they are stored: what taking a change back reads, compares and restores. */
  readonly stored: {
    read(entity: Entity, id: number): Stored | undefined
    insert(entity: Entity, row: Stored): number
    update(entity: Entity, id: number, row: Stored): void
    remove(entity: Entity, id: number): void
    /** Says that the change concerns a row which it leaves as it is. */
    note(entity: Entity, id: number): void
  }
}

/**
 * Derives rows from what a change did (alarms, dates, notices), inside its transaction; or from
 * what takes back an open change, of which nothing is to be left.
 */
export type Deriver = (write: Writer, entries: readonly Entry[], takenBack?: ChangeId) => void

/** What a change came to, and its number; null where nothing was written. */
export interface Changed<T> {
  readonly result: T
  readonly change: ChangeId | null
}

export interface Journal {
  /** The one door: runs the work in a transaction and writes rows, entries and what follows. */
  change<T>(actor: Actor, work: (write: Writer) => T, cause?: Cause): Changed<T>
  /** A change that may touch very much: made in portions, or in one go. */
  large<T>(work: Work<T>): Large<T>
  /** Does work while no change stands open, each in its turn: what the engine does by itself. */
  inTurn<T>(work: () => T | Promise<T>): Promise<T>
  /** Takes back what a stop left open; nothing else is done before. */
  recover(): void
  /** Calls back with how far a large change has come. */
  watch(watcher: (progress: Progress) => void): void
  /** Calls back with what changes did once they are committed; answers how to stop it. */
  subscribe(listener: (events: readonly Event[]) => void): () => void
  /**
   * How far the telling has come: it moves on with every change that listeners heard of, and starts
   * where it was left. What was read at one mark holds everything told up to it.
   */
  readonly told: number
  /** Several changes in one transaction: all of them, or none and nobody hears of any. */
  together<T>(work: () => T): T
  /**
   * The same at half the cost, for whoever can do the work again: where any part of it fails, whoever
   * catches that, none is kept and there is no answer.
   */
  lightly<T>(work: () => T): { readonly result: T } | undefined
}

const newest = within((orm) =>
  orm.select({ change: max(tables.journal.change) }).from(tables.journal),
)

/** Entries in their order, change by change. */
export function byChange<E extends { readonly change: ChangeId }>(entries: readonly E[]): E[][] {
  const changes: E[][] = []
  for (const entry of entries) {
    const last = changes.at(-1)
    if (last?.[0]?.change === entry.change) last.push(entry)
    else changes.push([entry])
  }
  return changes
}

/** Who hears of changes, and how far the telling has come. */
function createTelling(newest: () => ChangeId) {
  let told: number = newest()
  const listeners = new Set<Parameters<Journal['subscribe']>[0]>()
  return {
    told: () => told,
    tell(events: () => readonly Event[]): void {
      told = Math.max(told + 1, newest())
      if (listeners.size === 0) return
      const happened = events()
      for (const listener of listeners) listener(happened)
    },
    subscribe(listener: Parameters<Journal['subscribe']>[0]) {
      listeners.add(listener)
      return () => void listeners.delete(listener)
    },
  }
}

/** Work that goes one after the other, first come, first served. */
function createTurns(): Journal['inTurn'] {
  let last: Promise<unknown> = Promise.resolve()
  return (work) => {
    const mine = last.then(work)
    last = mine.catch(() => undefined)
    return mine
  }
}

/** As many things as a change touches in one go. */
const FEW = 100
/** Makes changes that may be large, through the same door. */
function largeBy(
  door: Door,
  { change, together, inTurn }: Pick<Journal, 'change' | 'together' | 'inTurn'>,
): Journal['large'] {
  return <T>(work: Work<T>): Large<T> => {
    const whole = () => change(work.actor, (write) => drained(work.work(write)), work.cause)
    const atOnce = ({ closing }: Carrying<T>) =>
      together(() => {
        const done = whole()
        closing?.(done)
        return done
      })
    const small = work.size <= FEW
    return {
      ...{ small, whole },
      inPortions: async (carrying = {}) =>
        small ? atOnce(carrying) : inTurn(() => makeInPortions(door, work, carrying)),
    }
  }
}

/** What the engine is told while changes are made. */
interface Hearing {
  /** A change could not be taken back; it is tried again. */
  readonly failed?: (error: unknown) => void
  /** What is remembered of some tables does not hold. */
  readonly forget?: (tables: ReadonlySet<string>) => void
}

/** Transactions of changes, of which others are told, or what is remembered forgotten, at the end. */
function createCommits(
  db: Database,
  { tell, forget }: Pick<Door, 'tell'> & Required<Pick<Hearing, 'forget'>>,
): Pick<Journal, 'together' | 'lightly'> & { note: (entries: readonly Entry[]) => void } {
  /** Written, and not committed yet. */
  let pending: Entry[] = []
  function committed(): void {
    if (db.sqlite.inTransaction) return
    const entries = pending
    pending = []
    if (entries.length) tell(() => byChange(entries).flatMap(eventsOf))
  }
  /** What was written is taken back: what was remembered of it meanwhile is no longer so. */
  function undone(
    held: number,
    tables: readonly Entity[] = pending.slice(held).map(({ entity }) => entity),
  ): void {
    pending.length = held
    forget(new Set(tables))
  }
  function together<T>(work: () => T): T {
    const held = pending.length
    try {
      const result = db.transact(work)
      committed()
      return result
    } catch (error) {
      undone(held)
      throw error
    }
  }
  const lightly: Journal['lightly'] = (work) => {
    const held = pending.length
    let done
    try {
      done = db.lightly(work)
    } finally {
      // What failed within it and was caught there is not among what waits.
      if (!done) undone(held, ENTITIES)
    }
    committed()
    return done
  }
  return {
    ...{ together, lightly },
    note(entries) {
      for (const entry of entries) pending.push(entry)
    },
  }
}

export function createJournal(
  db: Database,
  clock: Clock,
  derivers: readonly Deriver[] = [],
  { failed = () => {}, forget = () => {} }: Hearing = {},
): Journal {
  const hand = (table: TableName): Hand => db.hand(tables[table])
  let nextChange = 1 + (newest.get(db.reader)?.change ?? 0)
  let hold: Hold | null = null
  const { told, tell, subscribe } = createTelling(() => nextChange - 1)
  const watchers = new Set<(progress: Progress) => void>()
  const { note, together, lightly } = createCommits(db, { tell, forget })

  const begin: Door['openLog'] = (opening) =>
    openLog(hand, () => nextChange++, {
      at: clock.now(),
      ...(hold && { look: hold.look }),
      ...opening,
    })
  // Derivers may write in turn; nothing is derived from what they write.
  const derive: Deriver = (...what) => derivers.forEach((each) => each(...what))
  const change: Journal['change'] = (actor, work, cause) =>
    together(() => {
      const log = begin({ actor, cause })
      const writer = writerOn(log)
      try {
        const result = work(writer)
        if (log.entries.length) derive(writer, log.entries.slice())
        return { result, change: log.change }
      } finally {
        note(log.entries)
      }
    })
  const door: Door = {
    ...{ db, openLog: begin, derive, tell, failed },
    hold: (next) => (hold = next),
    progress: (progress) => watchers.forEach((watcher) => watcher(progress)),
  }
  const inTurn = createTurns()
  return {
    ...{ change, together, lightly, inTurn, subscribe },
    large: largeBy(door, { change, together, inTurn }),
    recover: () => takeBackOpen(door),
    watch: (watcher) => void watchers.add(watcher),
    get told() {
      return told()
    },
  }
}
