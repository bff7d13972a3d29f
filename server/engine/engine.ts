import type { Logger } from 'pino'
import type { Database } from '../database/open.ts'
import type { Clock } from './clock.ts'
import type { FileStore } from './files.ts'
import { createFirm, type Firm } from './firm.ts'
import { createJournal, type Deriver } from './journal.ts'
import type { Reader } from '../database/query.ts'
import type { Engine } from './services.ts'

/** Tables that the firm's calendar and those of its people are read from. */
const FIRM_TABLES: ReadonlySet<string> = new Set(['firm', 'holidays', 'people', 'timeOff'])

/** What derivers are made of. */
export interface Deriving {
  readonly reader: Reader
  readonly clock: Clock
  readonly firm: Firm
}

interface Parts {
  readonly log: Logger
  readonly files: FileStore
  /** What is derived from every change, inside its transaction, in this order. */
  readonly derive: (parts: Deriving) => readonly Deriver[]
}

/** Puts the engine together over a database and a clock. */
export function createEngine(db: Database, clock: Clock, { log, files, derive }: Parts): Engine {
  const { reader } = db
  const firm = createFirm(reader, clock)
  const forgetFirm: Deriver = (_, entries) => {
    if (entries.some((entry) => FIRM_TABLES.has(entry.entity))) firm.forget()
  }
  const journal = createJournal(db, clock, [forgetFirm, ...derive({ reader, clock, firm })])
  return { reader, clock, firm, journal, log, files }
}
