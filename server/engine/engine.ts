import pino, { type Logger } from 'pino'
import type { Database } from '../database/open.ts'
import { tellFollowers } from '../areas/notices/followers.ts'
import { ladderAlarms } from '../areas/rules/ladder-alarms.ts'
import { forgetNames } from '../areas/search/names.ts'
import { seriesWork } from '../areas/series/people.ts'
import { openWork, stateDates, stateTallies } from '../areas/tasks/derived.ts'
import { startTallies, templateVersions } from '../areas/templates/derived.ts'
import type { Clock } from './clock.ts'
import { memoryFiles, type FileStore } from './files.ts'
import { createFirm } from './firm.ts'
import { createJournal, type Deriver } from './journal.ts'
import type { Engine } from './services.ts'

/** Tables that the firm's calendar and those of its people are read from. */
const FIRM_TABLES: ReadonlySet<string> = new Set(['firm', 'holidays', 'people', 'timeOff'])

/** Puts the engine together over a database and a clock; the same for live, tests and rehearsal. */
export function createEngine(
  db: Database,
  clock: Clock,
  log: Logger = pino({ level: 'silent' }),
  files: FileStore = memoryFiles(),
): Engine {
  const { reader } = db
  const firm = createFirm(reader, clock)
  const forgetFirm: Deriver = (_, entries) => {
    if (entries.some((entry) => FIRM_TABLES.has(entry.entity))) firm.forget()
  }
  const journal = createJournal(db, clock, [
    forgetFirm,
    forgetNames(reader),
    ladderAlarms(reader, clock, firm),
    stateDates(reader),
    openWork(reader),
    stateTallies(reader),
    startTallies(reader),
    templateVersions(reader),
    seriesWork(reader),
    tellFollowers(reader, firm),
  ])
  return { reader, clock, firm, journal, log, files }
}
