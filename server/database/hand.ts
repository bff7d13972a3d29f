import { eq, getTableColumns, sql } from 'drizzle-orm'
import type { BetterSQLite3Database } from 'drizzle-orm/better-sqlite3'
import type { SQLiteColumn, SQLiteTable } from 'drizzle-orm/sqlite-core'
import { LRUCache } from 'lru-cache'
import type { Stored } from './tables/engine.ts'

type Value = Stored[string]
type Key = number | string

/**
 * What is done to the rows of one table, by statements that Drizzle makes once. Values are as they
 * are stored; `store` says how a value of the code's becomes one. Only the journal holds hands.
 */
export interface Hand {
  /** The columns given, as they are stored. */
  store(row: Readonly<Record<string, unknown>>): Record<string, Value>
  read(id: Key): Stored | undefined
  /** Answers the row's number. Columns not given take their default. */
  insert(stored: Stored): number
  update(id: Key, stored: Stored): void
  remove(id: Key): void
}

const ID = '$id'
/** Sets of columns that are updated together and whose statement is kept. */
const MOST_UPDATES = 200

/** @throws where a value has no stored form, such as an object in a plain column */
export function handOn(orm: BetterSQLite3Database, table: SQLiteTable): Hand {
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

  const makeRead = () =>
    orm
      .select(Object.fromEntries(names.map((name) => [name, sql<Value>`${columns[name]}`])))
      .from(table)
      .where(itself())
      .prepare()
  const makeInsert = () => orm.insert(table).values(marked(names)).prepare()
  const makeRemove = () => orm.delete(table).where(itself()).prepare()
  const makeUpdate = (keys: readonly string[]) =>
    orm.update(table).set(marked(keys)).where(itself()).prepare()

  let reading: ReturnType<typeof makeRead> | undefined
  let inserting: ReturnType<typeof makeInsert> | undefined
  let removing: ReturnType<typeof makeRemove> | undefined
  const updating = new LRUCache<string, ReturnType<typeof makeUpdate>>({ max: MOST_UPDATES })
  return {
    store(row) {
      const stored: Record<string, Value> = {}
      for (const [name, value] of Object.entries(row)) {
        const column = columns[name]
        if (column && value !== undefined) stored[name] = storedOf(column, value)
      }
      return stored
    },
    read: (id) => (reading ??= makeRead()).get({ [ID]: id }) as Stored | undefined,
    insert(stored) {
      inserting ??= makeInsert()
      return Number(inserting.run({ ...usual, ...stored }).lastInsertRowid)
    },
    update(id, stored) {
      const keys = Object.keys(stored)
      const which = keys.join()
      let statement = updating.get(which)
      if (!statement) updating.set(which, (statement = makeUpdate(keys)))
      statement.run({ ...stored, [ID]: id })
    },
    remove: (id) => void (removing ??= makeRemove()).run({ [ID]: id }),
  }
}
