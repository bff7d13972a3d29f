import type { Entry } from './journal.ts'
import type { Engine } from './services.ts'
import { climb, remindAgain, ruleFailed, type LadderAlarm } from '../areas/rules/climb.ts'
import {
  makeOccurrence,
  nextOccurrence,
  planSeries,
  type SeriesRow,
} from '../areas/series/service.ts'
import { noticesFor } from '../areas/notices/service.ts'
import { sayDate } from '#core/text/speak.ts'

interface AlarmRow extends Omit<LadderAlarm, 'ruleId' | 'taskId' | 'rung'> {
  ruleId: number | null
  taskId: number | null
  seriesId: number | null
  rung: number | null
}

export interface Runner {
  /**
   * Does all that is due now: journal entries not yet acted on, then alarms, each in one
   * transaction.
   */
  tick(): { entries: number; alarms: number }
  /** The instant of the next alarm, or null. */
  nextAt(): number | null
}

const BATCH = 500
const READER = 'notices'

/** One occurrence of a series: made, written into the run log, the next alarm put up. */
function runSeries(engine: Engine, seriesId: number): void {
  const { db, journal } = engine
  const row = db.prepare('select * from series where id = ?').get(seriesId) as SeriesRow
  journal.change({ kind: 'series', id: seriesId }, (write) => {
    const next = row.on ? nextOccurrence(engine, row) : null
    if (next) {
      const made = makeOccurrence(engine, write, row, next)
      write.insert('runs', {
        key: `series:${seriesId}:${next.scheduled}`,
        seriesId,
        version: row.version,
        taskId: made.taskId,
        projectId: made.projectId,
        outcome: 'done',
        at: write.at,
        summary: `Made “${made.name}”`,
        reasons: JSON.stringify([
          `For ${sayDate(next.date)}${next.moved ? `, moved from ${sayDate(next.scheduled)} (${next.moved.name || next.moved.because})` : ''}`,
          row.leadDays ? `Made ${row.leadDays} working days ahead` : 'Made on the day',
        ]),
      })
    }
    planSeries(engine, write, seriesId)
  })
}

/**
 * The engine's loop. Its cost grows with what is due, never with what exists: alarms are read by an
 * index
 * on their instant, the journal from a stored position.
 */
export function createRunner(engine: Engine): Runner {
  const { db, journal, clock, log } = engine
  const readEntries = db.prepare(
    'select id, at, actorKind, actorId, depth, entity, entityId, action, taskId, projectId, after from journal where id > ? order by id limit ?',
  )
  const readAlarm = db.prepare('select * from alarms where at <= ? order by at, id limit 1')
  const readNext = db.prepare('select min(at) as at from alarms')

  const position = (): { id: number; journalId: number } => {
    const found = db.prepare('select id, journalId from positions where name = ?').get(READER) as
      { id: number; journalId: number } | undefined
    return (
      found ?? {
        id: journal.change({ kind: 'engine', id: null }, (write) =>
          write.insert('positions', { name: READER, journalId: 0 }),
        ),
        journalId: 0,
      }
    )
  }

  function readJournal(): number {
    let done = 0
    for (;;) {
      const { id, journalId } = position()
      const rows = readEntries.all(journalId, BATCH) as {
        id: number
        at: number
        actorKind: Entry['actor']['kind']
        actorId: number | null
        depth: number
        entity: Entry['entity']
        entityId: number
        action: Entry['action']
        taskId: number | null
        projectId: number | null
        after: string | null
      }[]
      if (rows.length === 0) return done
      journal.change({ kind: 'engine', id: null }, (write) => {
        for (const row of rows)
          noticesFor(engine, write, {
            ...row,
            actor: { kind: row.actorKind, id: row.actorId },
            before: null,
            after: row.after ? (JSON.parse(row.after) as Record<string, unknown>) : null,
          })
        write.update('positions', id, { journalId: rows.at(-1)!.id })
      })
      done += rows.length
    }
  }

  function runAlarm(alarm: AlarmRow): void {
    try {
      journal.together(() => {
        if (alarm.kind === 'series') runSeries(engine, alarm.seriesId!)
        else if (alarm.kind === 'ladder') climb(engine, alarm as LadderAlarm)
        else remindAgain(engine, alarm as LadderAlarm)
      })
    } catch (error) {
      log.error({ err: error, alarm }, 'an alarm could not be acted on')
      if (alarm.kind === 'series') {
        journal.change({ kind: 'engine', id: null }, (write) => {
          write.update('alarms', alarm.id, { at: clock.now() + 3_600_000 })
          write.insert('runs', {
            key: `failed:${alarm.id}:${alarm.at}:${write.at}`,
            seriesId: alarm.seriesId,
            outcome: 'failed',
            summary: 'Could not make the next one; trying again in an hour',
            reasons: JSON.stringify([error instanceof Error ? error.message : String(error)]),
            at: write.at,
          })
        })
      } else ruleFailed(engine, alarm as LadderAlarm, error)
    }
  }

  return {
    tick() {
      let entries = readJournal()
      let alarms = 0
      for (
        let alarm = readAlarm.get(clock.now()) as AlarmRow | undefined;
        alarm;
        alarm = readAlarm.get(clock.now()) as AlarmRow | undefined
      ) {
        runAlarm(alarm)
        if (++alarms >= 100_000) break
      }
      if (alarms) entries += readJournal()
      return { entries, alarms }
    },
    nextAt: () => (readNext.get() as { at: number | null }).at,
  }
}
