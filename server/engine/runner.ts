import { noticesFor } from '../areas/notices/service.ts'
import { climb, remindAgain, ruleFailed } from '../areas/rules/climb.ts'
import { runSeries } from '../areas/series/make.ts'
import { ENGINE, type Entry } from './journal.ts'
import { dueAlarm, entriesAfter, nextAlarm, positionOf, type AlarmRow } from './queries.ts'
import type { Engine } from './services.ts'

export interface Runner {
  /** Does all that is due now: journal entries not yet acted on, then alarms, each in one transaction. */
  tick(): { entries: number; alarms: number }
  /** The instant of the next alarm, or null. */
  nextAt(): number | null
}

/** What people are told of is read from the journal under this name. */
const POSITION = 'notices'
/** As many alarms as one tick acts on. */
const MOST_ALARMS = 100_000
const HOUR = 3_600_000

/** What each kind of alarm does. */
const HANDLERS: Readonly<Record<AlarmRow['kind'], (engine: Engine, alarm: AlarmRow) => void>> = {
  series: (engine, alarm) => runSeries(engine, alarm.itemId),
  ladder: climb,
  repeat: remindAgain,
}

function seriesFailed({ journal }: Engine, alarm: AlarmRow, error: unknown): void {
  journal.change(ENGINE, (write) => {
    write.update('alarms', alarm, { at: write.at + HOUR })
    write.insert('runs', {
      key: `failed:${alarm.id}:${alarm.at}:${write.at}`,
      seriesId: alarm.itemId,
      outcome: 'failed',
      summary: 'Could not make the next one; trying again in an hour',
      reasons: [error instanceof Error ? error.message : String(error)],
      at: write.at,
    })
  })
}

function runAlarm(engine: Engine, alarm: AlarmRow): void {
  try {
    engine.journal.together(() => HANDLERS[alarm.kind](engine, alarm))
  } catch (error) {
    engine.log.error({ err: error, alarm }, 'an alarm could not be acted on')
    if (alarm.kind === 'series') seriesFailed(engine, alarm, error)
    else ruleFailed(engine, alarm, error)
  }
}

/** Where the journal was read up to; the position is made when it is first asked for. */
function position({ reader, journal }: Engine) {
  const found = positionOf.get(reader, { name: POSITION })
  if (found) return found
  const row = { name: POSITION, journalId: 0 }
  return { id: journal.change(ENGINE, (write) => write.insert('positions', row)).result, ...row }
}

/** Acts on the journal's entries from the stored position on, in portions. */
function readJournal(engine: Engine): number {
  const { reader, journal } = engine
  for (let done = 0; ;) {
    const at = position(engine)
    const rows = entriesAfter.all(reader, { after: at.journalId })
    const last = rows.at(-1)
    if (!last) return done
    journal.change(ENGINE, (write) => {
      for (const { actorKind, actorId, itemKind, itemId, ...row } of rows) {
        const item = itemKind === null || itemId === null ? null : { kind: itemKind, id: itemId }
        const entry: Entry = { ...row, actor: { kind: actorKind, id: actorId }, item, before: null }
        noticesFor(engine, write, entry)
      }
      write.update('positions', at.id, { journalId: last.id })
    })
    done += rows.length
  }
}

/**
 * The engine's loop. Its cost grows with what is due, never with what exists: alarms are read by an
 * index on their instant, the journal from a stored position.
 */
export function createRunner(engine: Engine): Runner {
  const { reader, clock } = engine
  const due = () => dueAlarm.get(reader, { now: clock.now() })
  return {
    tick() {
      let entries = readJournal(engine)
      let alarms = 0
      for (let alarm = due(); alarm && alarms < MOST_ALARMS; alarm = due()) {
        runAlarm(engine, alarm)
        alarms++
      }
      if (alarms) entries += readJournal(engine)
      return { entries, alarms }
    },
    nextAt: () => nextAlarm.get(reader)?.at ?? null,
  }
}
