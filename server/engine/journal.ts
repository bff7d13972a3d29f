import { getTableColumns, getTableName } from 'drizzle-orm'
import type { SQLiteTable } from 'drizzle-orm/sqlite-core'
import * as tables from '../database/tables/index.ts'
import type { Database } from '../database/open.ts'
import type { Clock } from './clock.ts'

export interface Actor {
  readonly kind: 'person' | 'rule' | 'series' | 'import' | 'engine'
  readonly id: number | null
}

/**
 * What led to a change: a journal entry, with how many changes deep the chain is, or the wish to
 * take a change back.
 */
export type Cause =
  { readonly journalId: number; readonly depth: number } | { readonly undoes: number }

export interface Entry {
  readonly id: number
  readonly at: number
  readonly actor: Actor
  readonly depth: number
  readonly entity: TableName
  readonly entityId: number
  readonly action: 'made' | 'changed' | 'removed'
  readonly taskId: number | null
  readonly projectId: number | null
  readonly before: Readonly<Record<string, unknown>> | null
  readonly after: Readonly<Record<string, unknown>> | null
}

type Tables = typeof tables
export type TableName = keyof Tables
type Row<T extends TableName> = Tables[T] extends SQLiteTable ? Tables[T]['$inferSelect'] : never
type NewRow<T extends TableName> = Tables[T] extends SQLiteTable ? Tables[T]['$inferInsert'] : never

/** What a change may do; only the journal hands one out. */
export interface Writer {
  /** The moment of the change. */
  readonly at: number
  readonly actor: Actor
  insert<T extends TableName>(table: T, row: NewRow<T>): number
  /** Writes what differs; answers the row before, or undefined when nothing differed. */
  update<T extends TableName>(
    table: T,
    id: number | string,
    patch: Partial<Row<T>>,
  ): Row<T> | undefined
  remove(table: TableName, id: number | string): void
}

/** Derives rows from what a change did (alarms, above all), inside its transaction. */
export type Follower = (write: Writer, entries: readonly Entry[]) => void

export interface Journal {
  /**
   * The one door: runs the work in a transaction and writes rows, entries and what follows from
   * them.
   */
  change<T>(actor: Actor, work: (write: Writer) => T, cause?: Cause): T
  /**
   * Calls back with the entries of changes once they are committed; answers a function that stops
   * it.
   */
  subscribe(listener: (entries: readonly Entry[]) => void): () => void
  /** Several changes in one transaction: all of them, or none and nobody hears of any. */
  together<T>(work: () => T): T
  /** The number of the newest change that wrote anything. */
  latest(): number
}

/**
 * Tables that are records themselves or the engine's own bookkeeping: written here, not journalled.
 */
const PLAIN: ReadonlySet<TableName> = new Set<TableName>([
  'sessions',
  'idempotency',
  'alarms',
  'positions',
  'outbox',
  'notices',
  'runs',
  'occurrences',
  'templateVersions',
  'stateDates',
  'viewPins',
])

const SECRET: ReadonlySet<string> = new Set(['passwordHash'])

/**
 * Raised when rows that must be there are not: a fault of the caller, not of what a person typed.
 */
const missing = (table: string, id: number | string): never => {
  throw new Error(`${table} has no row ${id}`)
}

export function createJournal(
  db: Database,
  clock: Clock,
  followers: readonly Follower[] = [],
): Journal {
  const columns = new Map<TableName, readonly string[]>()
  const names = new Map<TableName, string>()
  for (const [name, table] of Object.entries(tables) as [TableName, SQLiteTable][]) {
    columns.set(name, Object.keys(getTableColumns(table)))
    names.set(name, getTableName(table))
  }
  const q = (name: string) => `"${name}"`
  const insertEntry = db.prepare(
    'insert into journal (change, at, actorKind, actorId, causeId, depth, undoes, entity, entityId, action, taskId, projectId, before, after) values (?,?,?,?,?,?,?,?,?,?,?,?,?,?)',
  )
  let nextChange =
    1 + ((db.prepare('select max(change) as n from journal').get() as { n: number | null }).n ?? 0)
  const listeners = new Set<(entries: readonly Entry[]) => void>()
  let pending: Entry[] = []

  function owners(
    table: TableName,
    id: number,
    row: Record<string, unknown>,
  ): [number | null, number | null] {
    if (table === 'tasks') return [id, (row['projectId'] as number | null) ?? null]
    if (table === 'projects') return [null, id]
    return [
      (row['taskId'] as number | undefined) ?? null,
      (row['projectId'] as number | undefined) ?? null,
    ]
  }

  function openWriter(
    actor: Actor,
    cause: Cause | undefined,
    at: number,
    entries: Entry[],
  ): Writer {
    // A change that writes nothing takes no number.
    let change = 0
    const led = cause && 'journalId' in cause ? cause : null
    const undoes = cause && 'undoes' in cause ? cause.undoes : null
    const depth = led ? led.depth + 1 : 0
    function enter(
      entity: TableName,
      entityId: number,
      action: Entry['action'],
      row: Record<string, unknown>,
      before: Record<string, unknown> | null,
      after: Record<string, unknown> | null,
    ): void {
      const [taskId, projectId] = owners(entity, entityId, row)
      if (change === 0) change = nextChange++
      const hide = (key: string, value: unknown) => (SECRET.has(key) ? undefined : value)
      const { lastInsertRowid } = insertEntry.run(
        change,
        at,
        actor.kind,
        actor.id,
        led?.journalId ?? null,
        depth,
        undoes,
        entity,
        entityId,
        action,
        taskId,
        projectId,
        before && JSON.stringify(before, hide),
        after && JSON.stringify(after, hide),
      )
      entries.push({
        id: Number(lastInsertRowid),
        at,
        actor,
        depth,
        entity,
        entityId,
        action,
        taskId,
        projectId,
        before,
        after,
      })
    }
    return {
      at,
      actor,
      insert(table, row) {
        const given = row as Record<string, unknown>
        const keys = columns.get(table)!.filter((c) => given[c] !== undefined)
        const { lastInsertRowid } = db
          .prepare(
            `insert into ${q(names.get(table)!)} (${keys.map(q).join(',')}) values (${keys.map(() => '?').join(',')})`,
          )
          .run(...keys.map((k) => given[k]))
        const id = Number(lastInsertRowid)
        if (!PLAIN.has(table)) enter(table, id, 'made', given, null, given)
        return id
      },
      update(table, id, patch) {
        const name = q(names.get(table)!)
        const before = (db.prepare(`select * from ${name} where id = ?`).get(id) ??
          missing(table, id)) as Record<string, unknown>
        const given = patch as Record<string, unknown>
        const keys = Object.keys(given).filter(
          (k) => given[k] !== undefined && given[k] !== before[k],
        )
        if (keys.length === 0) return undefined
        db.prepare(`update ${name} set ${keys.map((k) => `${q(k)}=?`).join(',')} where id = ?`).run(
          ...keys.map((k) => given[k]),
          id,
        )
        if (!PLAIN.has(table)) {
          const was: Record<string, unknown> = {}
          const is: Record<string, unknown> = {}
          for (const k of keys) [was[k], is[k]] = [before[k], given[k]]
          // What moves to another task is told there.
          enter(table, id as number, 'changed', { ...before, ...is }, was, is)
        }
        return before as never
      },
      remove(table, id) {
        const name = q(names.get(table)!)
        const before = db.prepare(`select * from ${name} where id = ?`).get(id) as
          Record<string, unknown> | undefined
        if (!before) return
        db.prepare(`delete from ${name} where id = ?`).run(id)
        if (!PLAIN.has(table)) enter(table, id as number, 'removed', before, before, null)
      },
    }
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
    latest: () => nextChange - 1,
    change: (actor, work, cause) =>
      together(() => {
        const entries: Entry[] = []
        const writer = openWriter(actor, cause, clock.now(), entries)
        const made = work(writer)
        // Followers may write in turn; what they write needs no further following.
        if (entries.length) for (const follower of followers) follower(writer, entries.slice())
        for (const entry of entries) pending.push(entry)
        return made
      }),
    subscribe(listener) {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
  }
}
