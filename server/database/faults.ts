import Sqlite from 'better-sqlite3'

/** Faults of the machine rather than of the program, told apart. */

/** Another program writes to the database just now. */
export const isBusy = (error: unknown): boolean =>
  error instanceof Sqlite.SqliteError && /^SQLITE_(BUSY|LOCKED)/.test(error.code)

/** What is written points at nothing, or stands there already. */
export const isConstraint = (error: unknown): boolean =>
  error instanceof Sqlite.SqliteError && error.code.startsWith('SQLITE_CONSTRAINT')

/** There is no room left where the data lies. */
export const isFull = (error: unknown): boolean =>
  error instanceof Error &&
  'code' in error &&
  /^(SQLITE_FULL|SQLITE_IOERR_WRITE|ENOSPC|EDQUOT)$/.test(String(error.code))

/** How long is waited for another program, in milliseconds, and how often is looked. */
const PATIENCE = 2_000
const LOOK = 50

/** Does work again while another program holds the database; others are not kept waiting. */
export async function patiently<T>(work: () => T | Promise<T>): Promise<T> {
  for (let waited = 0; ; waited += LOOK)
    try {
      return await work()
    } catch (error) {
      if (!isBusy(error) || waited >= PATIENCE) throw error
      await new Promise((next) => setTimeout(next, LOOK))
    }
}
