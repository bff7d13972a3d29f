import type { ClientId, LocalStamp, OccurrenceId } from '#core/brands.ts'
import { localStamp } from '#core/calendar/dates.ts'
import type { Coming } from '#core/recurrence/coming.ts'
import { deedFor, isAfter, isByEvents, type Deed } from '#core/recurrence/course.ts'
import { plural, sayDate } from '#core/text/speak.ts'
import type { Makes } from '#contract/series.ts'
import type { Outcome, OccurrenceState } from '#contract/words.ts'
import type { Item, Writer } from '../../engine/journal.ts'
import type { Steps } from '../../engine/portions.ts'
import { hasRun, recordRun } from '../../engine/runs.ts'
import type { Engine } from '../../engine/services.ts'
import { projectAtRest } from '../tasks/rest.ts'
import { closeBefore, itemOf, makeWork, moveBefore, openBefore, type Made } from './make.ts'
import { heldOf, lastDealt, type OccurrenceRecord, type SeriesRecord } from './queries.ts'

/** What becomes of one date of a series, once and written down: made, held, missed or skipped. */

/** The scheduled times that one date stands for. */
const keysOf = ({ scheduled, joins }: Pick<Coming, 'scheduled' | 'joins'>): LocalStamp[] => [
  scheduled,
  ...joins,
]
/** What a date became. */
interface Became {
  readonly state: OccurrenceState
  readonly why?: string
  readonly made?: Pick<Made, 'taskId' | 'projectId'>
}
/** A date that is dealt with; what brought it, where that was an event. */
export type Due = Coming & { readonly event?: string; readonly clientId?: ClientId | null }
/** Writes what became of a date; the unique key on it is what keeps it single. */
export function settleAs(
  { reader }: Pick<Engine, 'reader'>,
  write: Writer,
  row: SeriesRecord,
  { one, became }: { one: Due; became: Became },
): void {
  const follows: OccurrenceId = isAfter(row.schedule)
    ? (lastDealt.get(reader, { id: row.id })?.occurrence.id ?? 0)
    : 0
  for (const scheduled of keysOf(one))
    write.insert('occurrences', {
      ...{ seriesId: row.id, scheduled, date: one.date, follows },
      ...{ event: one.event ?? null, clientId: one.clientId ?? null },
      ...{ state: became.state, why: became.why ?? '', madeAt: write.at },
      ...{ taskId: became.made?.taskId ?? null, projectId: became.made?.projectId ?? null },
    })
}

/** Whether what comes next in a series was scheduled earlier than this: then it is not passed by. */
const isBehind = (next: Coming | null, one: Coming): boolean =>
  next !== null && !next.byHand && keysOf(one).some((key) => next.scheduled < key)
/** The series has come so far, and is answered so; what was moved by hand says nothing of it. */
export function reach(
  write: Writer,
  row: SeriesRecord,
  { one, next }: { one: Coming; next: Coming | null },
): SeriesRecord {
  if (one.byHand || isBehind(next, one)) return row
  const reached = keysOf(one).at(-1)!
  if (row.reached !== null && reached <= row.reached) return row
  write.update('series', row.id, { reached })
  return { ...row, reached }
}

/** A line of the run log about a date of a series. */
interface Told {
  readonly scheduled: LocalStamp
  readonly outcome: Outcome
  readonly summary: string
  readonly reasons: readonly string[]
  readonly about?: Item | null
}
export function tell(
  { reader }: Engine,
  write: Writer,
  row: SeriesRecord,
  { scheduled, about = null, ...rest }: Told,
): void {
  const key = `series:${row.id}:${scheduled}`
  recordRun(write, {
    // What was held and is made later is told of twice.
    key: hasRun(reader, key) ? `${key}:${write.at}` : key,
    ...{ by: { series: row.id }, version: row.version, about, ...rest },
  })
}

/** Why a date is made when it is. */
function reasonsOf(row: SeriesRecord, one: Coming, made: Made): string[] {
  const { moved, scheduled, date, byHand, joins } = one
  const from = moved
    ? `, moved from ${sayDate(scheduled)} (${moved.name || moved.because})`
    : byHand
      ? `, moved by hand from ${sayDate(scheduled)}`
      : ''
  const others = joins.map((each) => sayDate(each)).join(', ')
  return [
    `For ${sayDate(date)}${from}${others && `; also for ${others}`}`,
    isByEvents(row.schedule)
      ? 'A rule brought it'
      : row.leadDays
        ? `Made ${plural(row.leadDays, 'working day')} ahead`
        : 'Made on the day',
    ...(made.why === undefined ? [] : [made.why]),
  ]
}

/** Makes a date, whatever the one before. */
export function* makeOne(engine: Engine, write: Writer, row: SeriesRecord, one: Due): Steps<Made> {
  const made = yield* makeWork(engine, write, row, one)
  settleAs(engine, write, row, { one, became: { state: 'made', made } })
  tell(engine, write, row, {
    ...{ scheduled: one.scheduled, about: itemOf(made), outcome: 'done' },
    ...{ summary: `Made “${made.name}”`, reasons: reasonsOf(row, one, made) },
  })
  return made
}

/** Makes what was held, missed or skipped after all. */
export function* makeAfterAll(
  engine: Engine,
  write: Writer,
  row: SeriesRecord,
  { held, because }: { held: OccurrenceRecord; because: string },
): Steps<Made> {
  const made = yield* makeWork(engine, write, row, held)
  const { taskId, projectId, name } = made
  write.update('occurrences', held.id, {
    ...{ state: 'made' as const, why: '', taskId, projectId, madeAt: write.at },
  })
  tell(engine, write, row, {
    ...{ scheduled: held.scheduled, about: itemOf(made), outcome: 'done' },
    summary: `Made “${name}”`,
    reasons: [`For ${sayDate(held.date)}`, because],
  })
  return made
}

/** Passes by a date, and says so: it is not made up for later. */
export function passBy(
  engine: Engine,
  write: Writer,
  row: SeriesRecord,
  { one, state = 'skipped', why }: { one: Due; state?: 'skipped' | 'missed'; why: string },
): void {
  settleAs(engine, write, row, { one, became: { state, why } })
  tell(engine, write, row, {
    ...{ scheduled: one.scheduled, outcome: 'skipped', reasons: [why] },
    summary: `${state === 'missed' ? 'Missed' : 'Passed by'} ${sayDate(one.date)}`,
  })
}

/** What a series makes goes into a project that stands still. */
const atRest = ({ reader }: Engine, makes: Makes): boolean =>
  makes.kind === 'task' && makes.projectId !== null && projectAtRest(reader, makes.projectId)

/** What is to be done about a date that is due. */
function deedOf(engine: Engine, row: SeriesRecord): Deed {
  const { overlap = 'make-anyway' } = row.ways
  if (overlap === 'make-anyway' || isAfter(row.schedule)) return 'make'
  // What waits already goes first.
  if (overlap === 'hold' && heldOf.get(engine.reader, { id: row.id })) return 'hold'
  return deedFor(overlap, openBefore(engine, row) !== null)
}

function hold(engine: Engine, write: Writer, row: SeriesRecord, one: Due): void {
  const why = 'the one before is still open'
  settleAs(engine, write, row, { one, became: { state: 'held', why } })
  tell(engine, write, row, {
    ...{ scheduled: one.scheduled, outcome: 'skipped' },
    summary: `Held ${sayDate(one.date)}`,
    reasons: ['The one before is still open; it is made once that is closed'],
  })
}

function* leadOn(engine: Engine, write: Writer, row: SeriesRecord, one: Due): Steps<void> {
  const before = openBefore(engine, row)!
  const moved = yield* moveBefore(engine, write, before, one.date)
  settleAs(engine, write, row, { one, became: { state: 'made', made: moved } })
  tell(engine, write, row, {
    ...{ scheduled: one.scheduled, about: itemOf(moved), outcome: 'done' },
    summary: `Moved “${moved.name}” to ${sayDate(one.date)}`,
    reasons: [`It was still open when the one for ${localStamp(one.date).date} came`],
  })
}

/** Deals with a date that is due, by how things stand. */
export function* deal(engine: Engine, write: Writer, row: SeriesRecord, one: Due): Steps<void> {
  if (atRest(engine, row.makes)) {
    const why = 'Its project stands still: it is finished, archived, proposed or on hold'
    return passBy(engine, write, row, { one, why })
  }
  const deed = deedOf(engine, row)
  if (deed === 'hold') return hold(engine, write, row, one)
  if (deed === 'move-before') return yield* leadOn(engine, write, row, one)
  if (deed === 'close-before') closeBefore(engine, write, openBefore(engine, row)!)
  yield* makeOne(engine, write, row, one)
}
