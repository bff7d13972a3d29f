import type Sqlite from 'better-sqlite3'
import { eq, getTableColumns, sql, type Placeholder } from 'drizzle-orm'
import type { BetterSQLite3Database } from 'drizzle-orm/better-sqlite3'
import { getTableConfig, type SQLiteColumn, type SQLiteTable } from 'drizzle-orm/sqlite-core'
import { LRUCache } from 'lru-cache'
import type { Stored } from './tables/engine.ts'

type Value = Stored[string]
type Key = number | string

/**
 * What is done to the rows of one table, by statements that Drizzle makes once. Values are as they
 * are stored; `store` says how a value of the code's becomes one. Only the journal holds hands.
 */
export interface Hand {
  /** The columns given, as they are stored; of them, where some are named, those alone. */
  store(row: Readonly<Record<string, unknown>>, some?: readonly string[]): Record<string, Value>
  /** A row; where some of its columns are named, those alone. */
  read(id: Key, some?: readonly string[]): Stored | undefined
  /** Answers the row's number. Columns not given take their default. */
  insert(stored: Stored): number
  update(id: Key, stored: Stored): void
  remove(id: Key): void
  /** Takes all rows away. */
  clear(): void
  /** The highest number there is; 0 where there is no row. */
  highest(): number
}

const ID = '$id'
/** Sets of columns that are read, or updated, together and whose statement is kept. */
const MOST_SETS = 200

interface Statement {
  /** `id` is the number of the row that is meant. */
  run(values: Stored, id?: Key): Sqlite.RunResult
  get(values: Stored, id?: Key): Stored | undefined
}
/**
 * What Drizzle makes of a query, prepared with its values by name. Values are as they are stored
 * already, so that nothing is looked at again for each of them at every run.
 */
function statementOf(
  sqlite: Sqlite.Database,
  query: { toSQL(): { sql: string; params: unknown[] } },
  usual: Stored = {},
): Statement {
  const { sql: text, params } = query.toSQL()
  const names = params.map((param) => (param as Placeholder).name)
  const statement = sqlite.prepare<Value[], Stored>(text)
  // A value that is given as null stays null; one that is not given is the usual one.
  const inOrder = (values: Stored, id: Key | undefined): Value[] =>
    names.map((name) => {
      if (name === ID && id !== undefined) return id
      const value = values[name]
      return value === undefined ? (usual[name] ?? null) : value
    })
  return {
    run: (values, id) => statement.run(...inOrder(values, id)),
    get: (values, id) => statement.get(...inOrder(values, id)),
  }
}

/** Keeps the statement of each set of columns that is asked for. */
function keptBy(make: (keys: readonly string[]) => Statement) {
  const kept = new LRUCache<string, Statement>({ max: MOST_SETS })
  return (keys: readonly string[]): Statement => {
    const which = keys.join()
    let statement = kept.get(which)
    if (!statement) kept.set(which, (statement = make(keys)))
    return statement
  }
}

/** The highest number in a table; asked for the first time, it is prepared. */
function highestOf(sqlite: Sqlite.Database, table: SQLiteTable): () => number {
  let statement: Sqlite.Statement | undefined
  return () => {
    const { name } = getTableConfig(table)
    statement ??= sqlite.prepare(`select coalesce(max(id), 0) from "${name}"`).pluck()
    return Number(statement.get())
  }
}

/** @throws where a value has no stored form, such as an object in a plain column */
export function handOn(
  sqlite: Sqlite.Database,
  orm: BetterSQLite3Database,
  table: SQLiteTable,
): Hand {
  const columns: Readonly<Record<string, SQLiteColumn>> = getTableColumns(table)
  const names = Object.keys(columns)
  const marked = (keys: readonly string[]) =>
    Object.fromEntries(keys.map((key) => [key, sql`${sql.placeholder(key)}`]))
  const storedOf = (column: SQLiteColumn, value: unknown): Value =>
    value === null ? null : (column.mapToDriverValue(value) as Value)
  const usual: Record<string, Value> = {}
  for (const name of names) {
    const { default: value } = columns[name]!
    usual[name] = value === undefined ? null : storedOf(columns[name]!, value)
  }
  const itself = () => eq(columns['id']!, sql.placeholder(ID))

  const reading = keptBy((keys) =>
    statementOf(
      sqlite,
      orm
        .select(
          Object.fromEntries(
            keys.flatMap((key) => (columns[key] ? [[key, sql<Value>`${columns[key]}`]] : [])),
          ),
        )
        .from(table)
        .where(itself()),
    ),
  )
  const makeInsert = () => statementOf(sqlite, orm.insert(table).values(marked(names)), usual)
  const makeRemove = () => statementOf(sqlite, orm.delete(table).where(itself()))
  const updating = keptBy((keys) =>
    statementOf(sqlite, orm.update(table).set(marked(keys)).where(itself())),
  )

  let inserting: Statement | undefined
  let removing: Statement | undefined
  return {
    store(row, some = Object.keys(row)) {
      const stored: Record<string, Value> = {}
      for (const name of some) {
        const column = columns[name]
        const value = row[name]
        if (column && value !== undefined) stored[name] = storedOf(column, value)
      }
      return stored
    },
    read: (id, some = names) => reading(some).get({}, id),
    insert(stored) {
      inserting ??= makeInsert()
      return Number(inserting.run(stored).lastInsertRowid)
    },
    update(id, stored) {
      updating(Object.keys(stored)).run(stored, id)
    },
    highest: highestOf(sqlite, table),
    clear: () => void statementOf(sqlite, orm.delete(table)).run({}),
    remove: (id) => void (removing ??= makeRemove()).run({}, id),
  }
}
