import { join } from 'node:path'
import Sqlite from 'better-sqlite3'

/**
 * Holds a firm's folder for one server: two would give out the same numbers. The lock is SQLite's
 * own on a file beside the database, so that it ends with the process, however that ends. Answers
 * how to let go.
 * @throws Error where another server holds it
 */
export function holdFolder(data: string): () => void {
  const file = join(data, 'fernwick.lock')
  const lock = new Sqlite(file, { timeout: 0 })
  try {
    lock.pragma('locking_mode = EXCLUSIVE')
    lock.exec('begin exclusive')
  } catch (error) {
    lock.close()
    if (error instanceof Sqlite.SqliteError && error.code.startsWith('SQLITE_BUSY'))
      throw new Error(
        `another Fernwick runs on the folder ${data}. ` +
          'Stop that one, or set FERNWICK_DATA to another folder.',
        { cause: error },
      )
    throw error
  }
  return () => lock.close()
}
