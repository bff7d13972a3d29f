import type { Logger } from 'pino'
import type { Reader } from '../database/query.ts'
import type { Clock } from './clock.ts'
import type { FileStore } from './files.ts'
import type { Firm } from './firm.ts'
import type { History } from './history.ts'
import type { Journal } from './journal.ts'

/** What a server is told from outside. */
export interface Told {
  readonly address: URL | null
  readonly proxies: number
  /** Whether a mail server was named. */
  readonly mail: boolean
}

/** What every service is handed: where data is read, how it is changed, what time it is. */
export interface Engine {
  readonly reader: Reader
  readonly clock: Clock
  readonly firm: Firm
  readonly journal: Journal
  readonly files: FileStore
  readonly log: Logger
  /** The address people open, for what is sent to them; null where nobody said. */
  readonly address: URL | null
  /** What the server was told as it was started: it goes before what the firm says. */
  readonly told: Told
  /** Leads a copy of the firm back to a moment and works on that; nothing of it is kept. */
  readonly backIn: <T>(from: number, work: (history: History) => T) => T
  /** Forgets what is remembered of some tables, where rows of theirs changed elsewhere. */
  readonly forget: (changed: ReadonlySet<string>) => void
}
