import pino, { type Logger } from 'pino'
import { hearNotices } from './areas/notices/service.ts'
import { forgetRules, hearRules } from './areas/rules/react.ts'
import { ladderAlarms } from './areas/rules/ladder-alarms.ts'
import { ladderKind } from './areas/rules/climb.ts'
import { repeatKind } from './areas/rules/repeat.ts'
import { forgetNames } from './areas/search/names.ts'
import { seriesKind } from './areas/series/make.ts'
import { seriesWork } from './areas/series/people.ts'
import { openWork, stateDates, stateTallies } from './areas/tasks/derived.ts'
import { startTallies, templateVersions } from './areas/templates/derived.ts'
import type { Database } from './database/open.ts'
import type { Clock } from './engine/clock.ts'
import { createEngine, type Deriving } from './engine/engine.ts'
import { memoryFiles, type FileStore } from './engine/files.ts'
import type { Handlers } from './engine/handlers.ts'
import type { Deriver } from './engine/journal.ts'
import { createRunner, type Runner } from './engine/runner.ts'
import type { Engine } from './engine/services.ts'

/** Hands the engine what the areas do: the same for live, tests and rehearsal. */

/** Rows that follow from others, written in the transaction that changes those. */
const derive = ({ reader, clock, firm }: Deriving): readonly Deriver[] => [
  forgetNames(reader),
  forgetRules(reader),
  ladderAlarms(reader, clock, firm),
  stateDates(reader),
  openWork(reader),
  stateTallies(reader),
  startTallies(reader),
  templateVersions(reader),
  seriesWork(reader),
]
const HANDLERS: Handlers = {
  listeners: [hearNotices, hearRules],
  alarms: [ladderKind, repeatKind, seriesKind],
}

export interface Assembly {
  readonly engine: Engine
  readonly runner: Runner
}
/** A firm's engine and what makes it go, over a database and a clock. */
export function assemble(
  db: Database,
  clock: Clock,
  log: Logger = pino({ level: 'silent' }),
  files: FileStore = memoryFiles(),
): Assembly {
  const engine = createEngine(db, clock, { log, files, derive })
  return { engine, runner: createRunner(engine, HANDLERS) }
}
