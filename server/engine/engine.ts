import pino, { type Logger } from 'pino'
import type { Database } from '../database/open.ts'
import { tellFollowers } from '../areas/notices/followers.ts'
import { stateDates } from '../areas/tasks/state-dates.ts'
import { ladderAlarms } from './alarms.ts'
import type { Clock } from './clock.ts'
import { memoryFiles, type FileStore } from './files.ts'
import { createFirm } from './firm.ts'
import { createJournal, type Follower } from './journal.ts'
import type { Engine } from './services.ts'

const FIRM_TABLES = new Set(['firm', 'holidays', 'people', 'timeOff'])

/** Puts the engine together over a database and a clock; the same for live, tests and rehearsal. */
export function createEngine(
  db: Database,
  clock: Clock,
  log: Logger = pino({ level: 'silent' }),
  files: FileStore = memoryFiles(),
): Engine {
  const firm = createFirm(db, clock)
  const forget: Follower = (_, entries) => {
    if (entries.some((e) => FIRM_TABLES.has(e.entity))) firm.forget()
  }
  const journal = createJournal(db, clock, [
    forget,
    ladderAlarms(db, clock, firm),
    stateDates(db),
    tellFollowers(db, firm),
  ])
  return { db, clock, firm, journal, log, files }
}
