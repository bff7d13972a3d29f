import { existsSync, statSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import Sqlite from 'better-sqlite3'
import type { SQLiteTable } from 'drizzle-orm/sqlite-core'
import { drizzle } from 'drizzle-orm/better-sqlite3'
import { migrate } from 'drizzle-orm/better-sqlite3/migrator'
import { readMigrationFiles } from 'drizzle-orm/migrator'
import { plainText } from '#core/text/rich.ts'
import { CARRIES } from './carried.ts'
import { handOn, type Hand } from './hand.ts'
import { readerOn, type Reader } from './query.ts'

/** The firm's database. Areas are handed its reader; the hands are the journal's. */
export interface Database {
  readonly sqlite: Sqlite.Database
  readonly reader: Reader
  readonly hand: (table: SQLiteTable) => Hand
  /** Runs work in a transaction; inside another one, in a savepoint. */
  readonly transact: <T>(work: () => T) => T
  /**
   * The same, with no savepoint for what is nested in it: one keeps every page written after it once
   * more (SQLite, “Savepoints”), which costs as much as a small change does. Where any part fails,
   * whoever catches that, nothing of all is kept and there is no answer.
   */
  readonly lightly: <T>(work: () => T) => { readonly result: T } | undefined
  /** Runs questions that all see the firm at one moment. */
  readonly snapshot: <T>(work: () => T) => T
  /**
   * The same firm as it stands, in memory: what happens there happens nowhere else. A bare one has no
   * triggers and takes rows in any order: nothing is looked up in it by its words.
   */
  readonly copy: (how?: { readonly bare: boolean }) => Database
  /** Statistics for the planner, where they are missing or old; cheap when there is nothing to do. */
  readonly optimize: () => void
  readonly close: () => void
}

/** The folder of migrations, beside the sources; the bundle names its own. */
export const migrationsFolder = (): string =>
  process.env['FERNWICK_MIGRATIONS'] ?? fileURLToPath(new URL('./migrations', import.meta.url))

/** What triggers and migrations call: words of HTML, definitions carried over. */
export function addFunctions(sqlite: Sqlite.Database): void {
  // The full-text index holds words, not tags.
  sqlite.function('plain_text', { deterministic: true }, (html) => plainText(String(html ?? '')))
  for (const [name, carry] of Object.entries(CARRIES))
    sqlite.function(name, { deterministic: true }, carry)
}

/** What is set anew for every connection: what was acknowledged survives a power cut, unless told. */
function settings(sqlite: Sqlite.Database): void {
  sqlite.pragma('journal_mode = WAL')
  const quick = process.env['FERNWICK_SYNCHRONOUS'] === 'NORMAL'
  sqlite.pragma(`synchronous = ${quick ? 'NORMAL' : 'FULL'}`)
  addFunctions(sqlite)
}

/** @throws Error where a file is not what this version may open */
function checkFile(sqlite: Sqlite.Database, file: string): void {
  const known = readMigrationFiles({ migrationsFolder: migrationsFolder() })
  const newest = Math.max(...known.map(({ folderMillis }) => folderMillis))
  const table = sqlite
    .prepare("select 1 from sqlite_master where type = 'table' and name = '__drizzle_migrations'")
    .get()
  const last = table
    ? sqlite.prepare('select max(created_at) from __drizzle_migrations').pluck().get()
    : null
  if (Number(last) > newest)
    throw new Error(
      `the database ${file} was written by a newer Fernwick. ` +
        'Start that version, or restore a backup that this one wrote.',
    )
}

/**
 * Opens (or makes) the firm's database and brings it to the newest schema. Foreign keys are off
 * while migrations run, since a table rebuilt under them would cascade, and are checked before they
 * are on again.
 * @throws Error for a file that is empty, newer than this version, or whose rows point at nothing
 */
export function openDatabase(file: string): Database {
  if (existsSync(file) && statSync(file).size === 0)
    throw new Error(
      `the database ${file} is empty (0 bytes), so it is no firm. ` +
        'Restore a backup; or remove the file to begin a new firm.',
    )
  const sqlite = new Sqlite(file)
  try {
    checkFile(sqlite, file)
    settings(sqlite)
    sqlite.pragma('foreign_keys = OFF')
    migrate(drizzle(sqlite), { migrationsFolder: migrationsFolder() })
    const broken = sqlite.pragma('foreign_key_check') as unknown[]
    if (broken.length)
      throw new Error(
        `the database ${file} has ${broken.length} rows that point at nothing; restore a backup.`,
      )
    // From here on nobody is kept waiting for another program: see `patiently`.
    sqlite.pragma('busy_timeout = 0')
  } catch (error) {
    sqlite.close()
    throw error
  }
  return databaseOn(sqlite)
}

/** Opens the firm's database only to read it, beside whoever writes it. */
export function openReading(file: string): Database {
  const sqlite = new Sqlite(file, { readonly: true, fileMustExist: true })
  addFunctions(sqlite)
  return databaseOn(sqlite)
}

/** Takes off what follows from rows, and what they must point at. */
function strip(sqlite: Sqlite.Database): void {
  sqlite.pragma('foreign_keys = OFF')
  const triggers = sqlite.prepare("select name from sqlite_master where type = 'trigger'").pluck()
  for (const name of triggers.all()) sqlite.exec(`drop trigger "${String(name)}"`)
}

/** Transactions over a connection. */
function transactionsOn(
  sqlite: Sqlite.Database,
): Pick<Database, 'transact' | 'lightly' | 'snapshot'> {
  const run = sqlite.transaction((work: () => unknown) => work())
  /** What is done lightly just now, and why none of it is to be kept. */
  let light: { broken?: { readonly by: unknown } } | undefined
  function partOf(all: NonNullable<typeof light>, work: () => unknown): unknown {
    if (all.broken) throw all.broken.by
    try {
      return work()
    } catch (error) {
      all.broken ??= { by: error }
      throw error
    }
  }
  const transact = <T>(work: () => T) => (light ? partOf(light, work) : run.immediate(work)) as T
  return {
    transact,
    lightly<T>(work: () => T) {
      // What it is a part of may have savepoints.
      if (sqlite.inTransaction) return { result: transact(work) }
      const mine: NonNullable<typeof light> = (light = {})
      const whole = () => {
        const done = work()
        if (mine.broken) throw mine.broken.by
        return done
      }
      try {
        return { result: run.immediate(() => partOf(mine, whole)) as T }
      } catch (error) {
        // Else it could not begin, or not be committed.
        if (!mine.broken) throw error
        return undefined
      } finally {
        light = undefined
      }
    },
    // What is asked before the first wait; a promise of the rest may come out of it.
    snapshot: <T>(work: () => T) => (run.deferred(() => [work()]) as [T])[0],
  }
}

function databaseOn(sqlite: Sqlite.Database): Database {
  sqlite.pragma('foreign_keys = ON')
  const orm = drizzle(sqlite)
  const optimize = () => void sqlite.pragma('optimize')
  const hands = new WeakMap<SQLiteTable, Hand>()
  return {
    sqlite,
    ...transactionsOn(sqlite),
    reader: readerOn(sqlite),
    hand(table) {
      let hand = hands.get(table)
      if (!hand) hands.set(table, (hand = handOn(sqlite, orm, table)))
      return hand
    },
    copy({ bare } = { bare: false }) {
      const image = sqlite.serialize()
      // In a file, these two say that changes are kept in a second one beside it (the SQLite file
      // format, 1.3.3): memory has none.
      image[18] = image[19] = 1
      const twin = new Sqlite(image)
      settings(twin)
      const copied = databaseOn(twin)
      if (bare) strip(twin)
      return copied
    },
    optimize,
    close: () => {
      optimize()
      sqlite.close()
    },
  }
}
