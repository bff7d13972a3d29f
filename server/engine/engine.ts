import type { Logger } from 'pino'
import type { Database } from '../database/open.ts'
import type { Clock } from './clock.ts'
import type { FileStore } from './files.ts'
import { createFirm, type Firm } from './firm.ts'
import { backIn, type Rebuilding } from './history.ts'
import { createJournal, type Deriver } from './journal.ts'
import type { Reader } from '../database/query.ts'
import type { Engine, Told } from './services.ts'

/** Tables that the firm's calendar and those of its people are read from. */
const FIRM_TABLES: ReadonlySet<string> = new Set(['firm', 'holidays', 'people', 'timeOff'])

/** What derivers are made of. */
export interface Deriving {
  readonly reader: Reader
  readonly clock: Clock
  readonly firm: Firm
}

/** Makes what forgets what is remembered of some tables, when rows of theirs change. */
export type Forgets = (reader: Reader) => (changed: ReadonlySet<string>) => void

const NOTHING_TOLD: Told = { address: null, proxies: 0, mail: false }
/** What derivers of a firm that is led back, and on again, derive: as far as the past is asked. */
export interface Replays {
  readonly back: (parts: Deriving) => readonly Deriver[]
  readonly again: (parts: Deriving) => readonly Deriver[]
}
interface Parts {
  readonly log: Logger
  readonly files: FileStore
  readonly told?: Told
  /** What is derived from every change, inside its transaction, in this order. */
  readonly derive: (parts: Deriving) => readonly Deriver[]
  readonly forgets: readonly Forgets[]
  readonly replays: Replays
}

/** Puts the engine together over a database and a clock. */
export function createEngine(db: Database, clock: Clock, parts: Parts): Engine {
  const { log, files, told = NOTHING_TOLD, derive, forgets, replays } = parts
  const { reader } = db
  const firm = createFirm(reader, clock)
  const each = forgets.map((make) => make(reader))
  function forget(changed: ReadonlySet<string>): void {
    for (const table of changed) if (FIRM_TABLES.has(table)) firm.forget()
    for (const one of each) one(changed)
  }
  const forgetting: Deriver = (_, entries) => forget(new Set(entries.map((entry) => entry.entity)))
  const journal = createJournal(db, clock, [forgetting, ...derive({ reader, clock, firm })], {
    forget,
    failed: (error) => log.error({ err: error }, 'a change could not be taken back; trying again'),
  })
  const rebuild: Rebuilding = (copy, time) => {
    // What a rule does there is not done: nothing else follows from it.
    const engine = createEngine(copy, time, { ...parts, derive: () => [] })
    const deriving = { reader: engine.reader, clock: time, firm: engine.firm }
    return {
      engine,
      following: { back: replays.back(deriving), again: replays.again(deriving) },
    }
  }
  return {
    ...{ reader, clock, firm, journal, log, files, told, forget },
    backIn: (from, work) => backIn(db, from, rebuild, work),
    get address() {
      return told.address ?? firm.address()
    },
  }
}
