import type { SQLiteTable } from 'drizzle-orm/sqlite-core'
import type { ChangeId } from '#core/brands.ts'
import type { ItemKind } from '#contract/words.ts'
import type { Hand } from '../database/hand.ts'
import type { Database } from '../database/open.ts'
import { within } from '../database/query.ts'
import * as tables from '../database/tables/index.ts'
import { ENTITIES, type ACTORS, type Entity, type Stored } from '../database/tables/engine.ts'
import { max } from 'drizzle-orm'
import type { Clock } from './clock.ts'

export interface Actor {
  readonly kind: (typeof ACTORS)[number]
  readonly id: number | null
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
/** The task that an entry belongs to, or null. */
export const taskOf = ({ item }: Pick<Entry, 'item'>): number | null =>
  item?.kind === 'task' ? item.id : null

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
  }
}

/** Derives rows from what a change did (alarms, dates, notices), inside its transaction. */
export type Deriver = (write: Writer, entries: readonly Entry[]) => void

/** What a change came to, and its number; null where nothing was written. */
export interface Changed<T> {
  readonly result: T
  readonly change: ChangeId | null
}

export interface Journal {
  /** The one door: runs the work in a transaction and writes rows, entries and what follows. */
  change<T>(actor: Actor, work: (write: Writer) => T, cause?: Cause): Changed<T>
  /** Calls back with the entries of changes once they are committed; answers how to stop it. */
  subscribe(listener: (entries: readonly Entry[]) => void): () => void
  /** Several changes in one transaction: all of them, or none and nobody hears of any. */
  together<T>(work: () => T): T
}

const JOURNALLED: ReadonlySet<string> = new Set(ENTITIES)
const isEntity = (table: string): table is Entity => JOURNALLED.has(table)

/** Never written down. */
const SECRET: ReadonlySet<string> = new Set(['passwordHash'])
const text = (row: Stored | null): string | null =>
  row && JSON.stringify(row, (key, value: unknown) => (SECRET.has(key) ? undefined : value))

/** Things that have a life of their own, by the table they stand in. */
const OWN: Readonly<Partial<Record<Entity, ItemKind>>> = {
  tasks: 'task',
  projects: 'project',
  series: 'series',
  rules: 'rule',
  templates: 'template',
  clients: 'client',
}
const number = (value: Stored[string] | undefined): number | null =>
  typeof value === 'number' ? value : null

/** Whose activity a row's change belongs to: its own, its task's, its project's. */
function placeOf(entity: Entity, id: number, row: Stored): Pick<Entry, 'item' | 'projectId'> {
  const projectId = entity === 'projects' ? id : number(row['projectId'])
  const own = OWN[entity]
  if (own) return { item: { kind: own, id }, projectId }
  const taskId = number(row['taskId'])
  if (taskId !== null) return { item: { kind: 'task', id: taskId }, projectId }
  return { item: projectId === null ? null : { kind: 'project', id: projectId }, projectId }
}

const newest = within((orm) =>
  orm.select({ change: max(tables.journal.change) }).from(tables.journal),
)

export function createJournal(
  db: Database,
  clock: Clock,
  derivers: readonly Deriver[] = [],
): Journal {
  const hand = (table: TableName): Hand => db.hand(tables[table])
  let nextChange = 1 + (newest.get(db.reader)?.change ?? 0)
  const listeners = new Set<(entries: readonly Entry[]) => void>()
  let pending: Entry[] = []

  function openWriter(actor: Actor, cause: Cause | undefined, at: number) {
    // A change that writes nothing takes no number.
    let change: ChangeId | null = null
    const entries: Entry[] = []
    const led = cause && 'journalId' in cause ? cause : null
    const undoes = cause && 'undoes' in cause ? cause.undoes : null
    const depth = led ? led.depth + 1 : 0
    function enter(
      table: TableName,
      entityId: number,
      action: Entry['action'],
      row: Stored,
      [before, after]: readonly [Stored | null, Stored | null],
    ): void {
      if (!isEntity(table)) return
      change ??= nextChange++
      const place = placeOf(table, entityId, row)
      const id = hand('journal').insert({
        change,
        at,
        actorKind: actor.kind,
        actorId: actor.id,
        causeId: led?.journalId ?? null,
        depth,
        undoes,
        entity: table,
        entityId,
        action,
        itemKind: place.item?.kind ?? null,
        itemId: place.item?.id ?? null,
        projectId: place.projectId,
        before: text(before),
        after: text(after),
      })
      entries.push({
        id,
        change,
        at,
        actor,
        depth,
        undoes,
        entity: table,
        entityId,
        action,
        ...place,
        before,
        after,
      })
    }
    function insert(table: TableName, row: Stored): number {
      const id = hand(table).insert(row)
      enter(table, id, 'made', row, [null, row])
      return id
    }
    function update(table: TableName, id: number | string, before: Stored, patch: Stored): boolean {
      const keys = Object.keys(patch).filter((key) => patch[key] !== before[key])
      if (keys.length === 0) return false
      const pick = (row: Stored) => Object.fromEntries(keys.map((key) => [key, row[key] ?? null]))
      const [was, is] = [pick(before), pick(patch)]
      hand(table).update(id, is)
      // What moves to another task is told there.
      if (typeof id === 'number') enter(table, id, 'changed', { ...before, ...is }, [was, is])
      return true
    }
    function remove(table: TableName, id: number | string): void {
      const before = hand(table).read(id)
      if (!before) return
      hand(table).remove(id)
      if (typeof id === 'number') enter(table, id, 'removed', before, [before, null])
    }
    /** A row that must be there: its lack is a fault of the caller, not of what a person typed. */
    const needed = (table: TableName, id: number | string): Stored => {
      const row = hand(table).read(id)
      if (!row) throw new Error(`${table} has no row ${id}`)
      return row
    }
    const writer: Writer = {
      at,
      actor,
      insert: (table, row) => insert(table, hand(table).store(row)) as never,
      update(table, row, patch) {
        const stored = hand(table).store(patch)
        if (typeof row !== 'object') {
          const id = row as number | string
          return update(table, id, needed(table, id), stored)
        }
        const whole = row as Readonly<Record<string, unknown>> & { readonly id: number }
        return update(table, whole.id, hand(table).store(whole), stored)
      },
      remove: (table, id) => remove(table, id as number | string),
      stored: {
        read: (entity, id) => hand(entity).read(id),
        insert,
        update: (entity, id, row) => void update(entity, id, needed(entity, id), row),
        remove,
      },
    }
    return { writer, entries, number: () => change }
  }

  function together<T>(work: () => T): T {
    const held = pending.length
    try {
      const result = db.transact(work)
      if (!db.sqlite.inTransaction && pending.length) {
        const entries = pending
        pending = []
        for (const listener of listeners) listener(entries)
      }
      return result
    } catch (error) {
      pending.length = held
      throw error
    }
  }

  return {
    together,
    change: (actor, work, cause) =>
      together(() => {
        const { writer, entries, number: change } = openWriter(actor, cause, clock.now())
        const result = work(writer)
        // Derivers may write in turn; nothing is derived from what they write.
        if (entries.length) for (const derive of derivers) derive(writer, entries.slice())
        for (const entry of entries) pending.push(entry)
        return { result, change: change() }
      }),
    subscribe(listener) {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
  }
}
