import { fileURLToPath } from 'node:url'
import Sqlite from 'better-sqlite3'
import { drizzle } from 'drizzle-orm/better-sqlite3'
import { migrate } from 'drizzle-orm/better-sqlite3/migrator'
import { plainText } from '#core/text/rich.ts'

export interface Database {
  readonly sqlite: Sqlite.Database
  /** A prepared statement, kept: hot paths ask for the same text again and again. */
  readonly prepare: (sql: string) => Sqlite.Statement
  /** Runs work in a transaction; inside another one, in a savepoint. */
  readonly transact: <T>(work: () => T) => T
  readonly close: () => void
}

/** The folder of migrations, beside the sources; the bundle names its own. */
export const migrationsFolder = (): string =>
  process.env['FERNWICK_MIGRATIONS'] ?? fileURLToPath(new URL('./migrations', import.meta.url))

/**
 * Opens (or makes) the firm's database and brings it to the newest schema. Foreign keys are off
 * while
 * migrations run, since a table rebuilt under them would cascade, and are checked before they are
 * on again.
 */
export function openDatabase(file: string): Database {
  const sqlite = new Sqlite(file)
  sqlite.pragma('journal_mode = WAL')
  sqlite.pragma(
    `synchronous = ${process.env['FERNWICK_SYNCHRONOUS'] === 'FULL' ? 'FULL' : 'NORMAL'}`,
  )
  // The full-text index holds words, not tags; its triggers call this.
  sqlite.function('plain_text', { deterministic: true }, (html) => plainText(String(html ?? '')))
  sqlite.pragma('foreign_keys = OFF')
  migrate(drizzle(sqlite), { migrationsFolder: migrationsFolder() })
  const broken = sqlite.pragma('foreign_key_check') as unknown[]
  if (broken.length)
    throw new Error(
      `The database ${file} has ${broken.length} rows that point at nothing; restore a backup.`,
    )
  sqlite.pragma('foreign_keys = ON')

  const statements = new Map<string, Sqlite.Statement>()
  const run = sqlite.transaction((work: () => unknown) => work())
  return {
    sqlite,
    prepare(sql) {
      let statement = statements.get(sql)
      if (!statement) statements.set(sql, (statement = sqlite.prepare(sql)))
      return statement
    },
    transact: <T>(work: () => T) => run.immediate(work) as T,
    close: () => sqlite.close(),
  }
}
