import type { SeriesId, TemplateId } from '#core/brands.ts'
import { firstMadeUp, isAfter, isByDates, isByEvents } from '#core/recurrence/course.ts'
import type { Coming } from '#core/recurrence/coming.ts'
import type { AlarmKind } from '../../engine/handlers.ts'
import { ENGINE, type Deriver, type Entry, type Writer } from '../../engine/journal.ts'
import { alarmById, alarmByKey, type AlarmRow } from '../../engine/queries.ts'
import type { Large, Steps } from '../../engine/portions.ts'
import { recordRun } from '../../engine/runs.ts'
import type { Engine } from '../../engine/services.ts'
import { movesDays } from '../rules/ladder-alarms.ts'
import { tasksIn } from '../templates/start.ts'
import { comingOf, dueBy, firstOf, isOver, madeFor } from './coming.ts'
import { deal, makeAfterAll, passBy, reach } from './deal.ts'
import { openBefore } from './make.ts'
import { passUndone } from './reached.ts'
import {
  allSeries,
  heldOf,
  dealtCount,
  lastDealt,
  lastProject,
  openCount,
  seriesById,
  seriesOfItem,
  type SeriesRecord,
} from './queries.ts'

/** What a series does by itself: its next date dealt with, its next alarm put up. */

type Readers = Pick<Engine, 'reader' | 'firm'>

/** Whether nothing is left of a series; one that waits for something to be closed goes on. */
function isAtEnd({ reader, firm }: Readers, { schedule, id }: SeriesRecord): boolean {
  if (isByDates(schedule)) return true
  if (isByEvents(schedule)) {
    const { count = Infinity, until } = schedule
    const many = dealtCount.get(reader, { id })?.count ?? 0
    return many >= count || (until !== undefined && firm.today() > until)
  }
  const last = lastDealt.get(reader, { id })
  return last === undefined || isOver(last)
}

/** Puts up the one alarm of a series for what comes next, or ends it when nothing is left. */
function wake(
  engine: Readers,
  write: Writer,
  row: SeriesRecord,
  { next, waits }: { next: Coming | null; waits: boolean },
): void {
  if (next) {
    // What is due at once is no backlog: it was due at no time before.
    const at = Math.max(madeFor(engine, row, next).at, write.at)
    write.insert('alarms', { ...alarmOf(row.id), at })
    if (row.endedAt !== null) write.update('series', row.id, { endedAt: null })
  } else if (!waits && row.endedAt === null && isAtEnd(engine, row))
    write.update('series', row.id, { endedAt: write.at })
}
const alarmOf = (id: SeriesId) =>
  ({ kind: 'series', key: `series:${id}`, itemKind: 'series', itemId: id }) as const

/** Plans a series anew, by how it stands now. */
export function planSeries(engine: Readers, write: Writer, id: SeriesId): void {
  const { reader } = engine
  const old = alarmByKey.get(reader, { key: alarmOf(id).key })
  if (old) write.remove('alarms', old.id)
  const row = seriesById.get(reader, { id })?.series
  if (!row?.on) return
  const held = heldOf.get(reader, { id })
  if (held && !openBefore(engine, row))
    return void write.insert('alarms', { ...alarmOf(id), at: write.at })
  wake(engine, write, row, { next: firstOf(comingOf(engine, row)), waits: held !== undefined })
}

/** Other working days, or another zone, move when what was not made yet is made. */
export const seriesDays =
  (engine: Readers): Deriver =>
  (write, entries) => {
    if (!entries.some(movesDays)) return
    for (const { series } of allSeries.all(engine.reader))
      if (series.on && series.endedAt === null) planSeries(engine, write, series.id)
  }

/**
 * What waits for the one before, or follows its completion, is planned anew when that is closed; what
 * people decided about a date, at once.
 */
export const seriesFollow =
  (engine: Readers): Deriver =>
  (write, entries) => {
    const found = new Set<SeriesId>()
    for (const entry of entries) {
      const id = concerned(engine, entry)
      if (id !== null) found.add(id)
    }
    for (const id of found) planSeries(engine, write, id)
    for (const entry of entries)
      if (entry.entity === 'series' && entry.undoes !== null) undone(engine, write, entry)
  }
const COURSE = ['schedule', 'on', 'reached', 'archivedAt', 'leadDays', 'ways']
/** Where an undo changes the course of a series, that goes on from now. */
function undone(engine: Readers, write: Writer, { entityId, action, after }: Entry): void {
  const anew = action === 'made' || (after !== null && ('schedule' in after || 'since' in after))
  if (!anew && !COURSE.some((column) => after !== null && column in after)) return
  const row = seriesById.get(engine.reader, { id: entityId })?.series
  if (row && (row.on || anew)) passUndone(engine, write, row, { anew })
  planSeries(engine, write, entityId)
}
const ENDS = ['closedAt', 'archivedAt']
const touchesEnd = ({ action, after }: Entry): boolean =>
  action === 'changed' && ENDS.some((column) => after !== null && column in after)
/** The series whose work was closed, opened again or removed, or of whose dates something was decided. */
function concerned({ reader }: Readers, entry: Entry): SeriesId | null {
  const { entity, entityId, action, item, before } = entry
  if (entity === 'seriesDates') return item?.id ?? null
  if (entity !== 'tasks' && entity !== 'projects') return null
  if (action === 'removed') return Number(before?.['seriesId']) || null
  return touchesEnd(entry)
    ? (seriesOfItem[entity].get(reader, { id: entityId })?.seriesId ?? null)
    : null
}

const HOUR = 3_600_000
/** What stood due this long past its time, stood due while nothing ran. */
const DOWN = HOUR

/** Whether an alarm stood due while nothing ran, and its series makes not all of that up. */
const wasDown = (row: SeriesRecord | undefined, alarm: AlarmRow, now: number): boolean =>
  row?.on === true && now - alarm.at > DOWN && (row.ways.catchUp ?? 'each') !== 'each'

/** Leaves out what came due while nothing ran, as far as the series makes nothing up for it. */
function* missBacklog(engine: Engine, write: Writer, row: SeriesRecord): Steps<void> {
  const due = dueBy(engine, row, write.at)
  const first = firstMadeUp(row.ways.catchUp ?? 'each', due.length)
  let now = row
  for (const [i, one] of due.slice(0, first).entries()) {
    passBy(engine, write, now, { one, state: 'missed', why: 'It came due while nothing ran' })
    now = reach(write, now, { one, next: due[i + 1] ?? null })
    yield
  }
}

/** Does the next thing that is to be done, and plans what comes after it. */
function* dealNext(engine: Engine, write: Writer, row: SeriesRecord, alarm: number): Steps<void> {
  const { id } = row
  const held = heldOf.get(engine.reader, { id })
  if (held && !openBefore(engine, row)) {
    const because = 'It was held until the one before was closed'
    yield* makeAfterAll(engine, write, row, { held, because })
    return planSeries(engine, write, id)
  }
  const [one, next = null] = firstTwo(comingOf(engine, row))
  if (!one || madeFor(engine, row, one).at > write.at) return planSeries(engine, write, id)
  yield* deal(engine, write, row, one)
  const now = reach(write, row, { one, next })
  if (held || isAfter(row.schedule)) return planSeries(engine, write, id)
  goOn(engine, write, now, { alarm, next })
}
/** Goes on to what comes next, which mostly is known. */
function goOn(
  engine: Engine,
  write: Writer,
  row: SeriesRecord,
  { alarm, next }: { alarm: number; next: Coming | null },
): void {
  const { reader } = engine
  // Somebody may have changed the series meanwhile: then another alarm stands, or none.
  if (!alarmById.get(reader, { id: alarm })) return planSeries(engine, write, row.id)
  write.remove('alarms', alarm)
  wake(engine, write, row, { next, waits: !next && !!heldOf.get(reader, { id: row.id }) })
}
function firstTwo<T>(all: Iterable<T>): [T?, T?] {
  const found: [T?, T?] = []
  for (const one of all) if (found.push(one) === 2) break
  return found
}

/** As many things as the next project of a series is made of, with what it takes over. */
function projectSize(engine: Engine, { id, ways }: SeriesRecord, template: TemplateId): number {
  const before = ways.openTasks && lastProject.get(engine.reader, { id })
  const open = before && openCount.get(engine.reader, { project: before.id })?.count
  return tasksIn(engine, template) + (open ?? 0)
}
/** As many things as an alarm of a series makes. */
function sizeOf(engine: Engine, row: SeriesRecord | undefined, alarm: AlarmRow): number {
  if (!row) return 0
  const now = engine.clock.now()
  const missed = wasDown(row, alarm, now) ? dueBy(engine, row, now).length : 0
  const { makes } = row
  return missed + (makes.kind === 'project' ? projectSize(engine, row, makes.templateId) : 1)
}
/** An alarm of a series: what is due dealt with, the next alarm put up. */
function runSeries(engine: Engine, alarm: AlarmRow): Large<void> {
  const { reader, journal } = engine
  const { id: key, itemId: id } = alarm
  const rowNow = () => seriesById.get(reader, { id })?.series
  return journal.large({
    actor: { kind: 'series', id },
    size: sizeOf(engine, rowNow(), alarm),
    *work(write) {
      // Somebody may have changed the series since: then another alarm stands.
      if (!alarmById.get(reader, { id: key })) return
      let row = rowNow()
      if (row && wasDown(row, alarm, write.at)) {
        yield* missBacklog(engine, write, row)
        row = rowNow()
      }
      if (row?.on) yield* dealNext(engine, write, row, key)
      else write.remove('alarms', key)
    },
  })
}

function seriesFailed({ journal }: Engine, alarm: AlarmRow, reason: string): void {
  journal.change(ENGINE, (write) => {
    write.update('alarms', alarm, { at: write.at + HOUR })
    recordRun(write, {
      key: `failed:${alarm.id}:${alarm.at}:${write.at}`,
      ...{ by: { series: alarm.itemId }, about: null, outcome: 'failed' },
      summary: 'Could not make the next one; trying again in an hour',
      reasons: [reason],
    })
  })
}

export const seriesKind: AlarmKind = { kind: 'series', run: runSeries, failed: seriesFailed }
