import pino, { type Logger } from 'pino'
import { reminderAlarms, reminderKind } from './areas/reminders/alarms.ts'
import { hearNotices } from './areas/notices/service.ts'
import { forgetAtWork } from './areas/rules/at-work.ts'
import { forgetRules, hearRules } from './areas/rules/react.ts'
import { ladderAlarms } from './areas/rules/ladder-alarms.ts'
import { ladderKind } from './areas/rules/climb.ts'
import { placingKind } from './areas/rules/placing.ts'
import { repeatKind } from './areas/rules/repeat.ts'
import { againKind } from './areas/rules/again.ts'
import { checkKind } from './areas/rules/becoming.ts'
import { datedKind } from './areas/rules/dated.ts'
import { waitKind } from './areas/rules/wait.ts'
import { forgetNames } from './areas/search/names.ts'
import { nightlyAudit } from './areas/series/audit.ts'
import { seriesDays, seriesFollow, seriesKind } from './areas/series/run.ts'
import { seriesWork } from './areas/series/people.ts'
import { openWork, stateDates, stateTallies } from './areas/tasks/derived.ts'
import { startTallies, templateVersions } from './areas/templates/derived.ts'
import type { Database } from './database/open.ts'
import { ENTITIES } from './database/tables/engine.ts'
import { handClock, type Clock } from './engine/clock.ts'
import { createEngine, type Deriving, type Forgets, type Replays } from './engine/engine.ts'
import { changedSince, newestEntry } from './engine/queries.ts'
import { memoryFiles, type FileStore } from './engine/files.ts'
import type { Daily, Handlers } from './engine/handlers.ts'
import type { Deriver } from './engine/journal.ts'
import { createRunner, type Runner } from './engine/runner.ts'
import type { Engine, Told } from './engine/services.ts'

/** Hands the engine what the areas do: the same for live, tests and rehearsal. */

/** What is remembered of rows, until any of theirs changes. */
const FORGETS: readonly Forgets[] = [forgetNames, forgetAtWork, forgetRules]

/** Rows that follow from others, written in the transaction that changes those. */
const derive = ({ reader, clock, firm }: Deriving): readonly Deriver[] => [
  ladderAlarms(reader, clock, firm),
  reminderAlarms(reader, clock, firm),
  stateDates(reader),
  openWork(reader),
  stateTallies(reader),
  startTallies(reader),
  templateVersions(reader),
  seriesWork(reader),
  seriesDays({ reader, firm }),
  seriesFollow({ reader, firm }),
]
/** What follows from rows where the firm is led back: what rules ask, and what wakes them. */
const REPLAYS: Replays = {
  back: ({ reader }) => [stateDates(reader), openWork(reader)],
  again: ({ reader, clock, firm }) => [
    ladderAlarms(reader, clock, firm),
    stateDates(reader),
    openWork(reader),
  ],
}
const CHORES: Daily = [nightlyAudit]
const HANDLERS: Handlers = {
  listeners: [hearNotices, hearRules],
  alarms: [
    placingKind,
    ladderKind,
    repeatKind,
    waitKind,
    againKind,
    datedKind,
    checkKind,
    reminderKind,
    seriesKind,
  ],
}

const SILENT = pino({ level: 'silent' })

export interface Assembly {
  readonly engine: Engine
  readonly runner: Runner
  readonly chores: Daily
}
/** What surrounds a firm; left out, it logs nothing, keeps files in memory and has no address. */
interface Surroundings {
  readonly log?: Logger
  readonly files?: FileStore
  readonly told?: Told
}
/** A firm's engine and what makes it go, over a database and a clock. */
export function assemble(
  db: Database,
  clock: Clock,
  { log = SILENT, files = memoryFiles(), told }: Surroundings = {},
): Assembly {
  const engine = createEngine(db, clock, {
    ...{ log, files, derive, forgets: FORGETS, replays: REPLAYS },
    ...(told && { told }),
  })
  engine.journal.recover()
  return { engine, runner: createRunner(engine, HANDLERS), chores: CHORES }
}

/** A firm that is only read, while somebody else writes it. */
export interface Reading {
  readonly engine: Engine
  /** Runs work at a moment, over what stands then; what was remembered of what changed is forgotten. */
  readonly at: <T>(now: number, work: () => T) => T
}

/** The engine of a thread that reads: the services are the same, and none of them can write. */
export function reading(db: Database, files: FileStore): Reading {
  const clock = handClock(0)
  const none = { log: SILENT, derive: () => [] }
  const engine = createEngine(db, clock, { ...none, files, forgets: FORGETS, replays: REPLAYS })
  let known = newestEntry.get(engine.reader)?.id ?? 0
  function catchUp(): void {
    const newest = newestEntry.get(engine.reader)?.id ?? 0
    if (newest === known) return
    const rows = changedSince.all(engine.reader, { after: known })
    // Entries that went, as those of a change that was stopped, do not say what they were of.
    const changed = newest < known ? ENTITIES : rows.map((row) => row.entity)
    engine.forget(new Set(changed))
    known = newest
  }
  return {
    engine,
    at(now, work) {
      clock.set(now)
      return db.snapshot(() => {
        catchUp()
        return work()
      })
    },
  }
}
