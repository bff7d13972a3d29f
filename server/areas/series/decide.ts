import { isByDates } from '#core/recurrence/course.ts'
import type { LocalStamp, SeriesId } from '#core/brands.ts'
import { localStamp, stamp, toInstant, workDay } from '#core/calendar/dates.ts'
import { hasDate, type Coming } from '#core/recurrence/coming.ts'
import { Refusal, refuse } from '#core/refusal.ts'
import { sayDate } from '#core/text/speak.ts'
import type { DateOf, DecideBody, Decided } from '#contract/series.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Large, Steps } from '../../engine/portions.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, needStructure, type Viewer } from '../../engine/viewer.ts'
import { tasksIn } from '../templates/start.ts'
import { comingAt, comingOf, firstOf } from './coming.ts'
import { makeAfterAll, makeOne, reach } from './deal.ts'
import {
  dateByHand,
  isThere,
  occurrenceAt,
  seriesById,
  takenOn,
  type Known,
  type SeriesRecord,
} from './queries.ts'
import { planSeries } from './run.ts'
import { needSeries } from './service.ts'

/** What people decide about single dates of series: made now, left out, moved, put back. */

/** One date that something is decided about, as it stands. */
interface About {
  readonly row: SeriesRecord
  readonly scheduled: LocalStamp
  /** What became of it already. */
  readonly dealt: Known | undefined
}
const noDate = ({ row, scheduled }: Pick<About, 'row' | 'scheduled'>): never =>
  refuse(
    'no-such-date',
    `“${row.name}” has no date on ${sayDate(scheduled)} that is still to come.`,
    'dates',
  )
const dealtWith = ({ row, scheduled }: About): never =>
  refuse(
    'dealt-with',
    `“${row.name}”: ${sayDate(scheduled)} was dealt with already; what was made is changed as work is.`,
    'dates',
  )

/** The date as it is to come; one that was left out, as its schedule has it. */
function toCome(engine: Engine, { row, scheduled }: About): Coming {
  const found = comingAt(engine, row, scheduled)
  if (found) return found
  const decided = dateByHand.get(engine.reader, { id: row.id, scheduled })
  if (decided?.date !== null || !isByDates(row.schedule)) return noDate({ row, scheduled })
  if (!hasDate(row.schedule, engine.firm.calendar(), scheduled)) return noDate({ row, scheduled })
  const { date, time } = localStamp(scheduled)
  const instant = toInstant(date, time, row.schedule.zone)
  return { scheduled, date: scheduled, instant, moved: null, byHand: true, joins: [] }
}

const taskGone = ({ reader }: Engine, { occurrence: { taskId, projectId } }: Known): boolean =>
  !(taskId !== null && isThere.tasks.get(reader, { id: taskId })) &&
  !(projectId !== null && isThere.projects.get(reader, { id: projectId }))

function* makeNow(engine: Engine, write: Writer, about: About): Steps<void> {
  const { row, dealt } = about
  if (dealt) {
    const { occurrence } = dealt
    if (occurrence.state === 'made' && !taskGone(engine, dealt)) return dealtWith(about)
    const because = 'Somebody had it made after all'
    return void (yield* makeAfterAll(engine, write, row, { held: occurrence, because }))
  }
  const one = toCome(engine, about)
  const isFirst = firstOf(comingOf(engine, row))?.scheduled === one.scheduled
  yield* makeOne(engine, write, row, one)
  if (isFirst) reach(write, row, { one, next: firstOf(comingOf(engine, row)) })
}

/** Writes what is decided about a date, or takes the decision away. */
function decide(
  { reader }: Engine,
  write: Writer,
  { row, scheduled }: About,
  date: LocalStamp | null | 'as it was',
): void {
  const old = dateByHand.get(reader, { id: row.id, scheduled })
  if (date === 'as it was') {
    if (old) write.remove('seriesDates', old.id)
  } else if (old) write.update('seriesDates', old.id, { date })
  else write.insert('seriesDates', { seriesId: row.id, scheduled, date })
}

function skip(engine: Engine, write: Writer, about: About): void {
  const { dealt, row, scheduled } = about
  if (dealt?.occurrence.state === 'held') {
    const why = 'Left out by hand'
    return void write.update('occurrences', dealt.occurrence.id, { state: 'skipped', why })
  }
  if (dealt) return dealtWith(about)
  // Dates that fall on one time are one.
  const one = toCome(engine, about)
  for (const each of new Set([scheduled, one.scheduled, ...one.joins]))
    decide(engine, write, { ...about, scheduled: each, row }, null)
}

/** Where a date is moved to; one without a time keeps its own. @throws Refusal */
function target(engine: Engine, { row, scheduled }: About, to: string): LocalStamp {
  const { date, time } = localStamp(to, 'to')
  workDay(date, 'to')
  const own = localStamp(scheduled).time
  const there = stamp(date, own === null ? null : (time ?? own))
  if (date < engine.firm.today())
    refuse('past', `${sayDate(date)} is past; move it to today or later.`, 'to')
  const taken = takenOn.get(engine.reader, { id: row.id, date: there })?.scheduled
  const other = taken ?? otherOn(engine, row, { scheduled, there })
  if (other !== undefined && other !== scheduled)
    refuse(
      'date-taken',
      `“${row.name}” has one on ${sayDate(date)} already; choose another day.`,
      'to',
    )
  return there
}
/** Another date of a series that falls on the same time. */
function otherOn(
  engine: Engine,
  row: SeriesRecord,
  { scheduled, there }: { scheduled: LocalStamp; there: LocalStamp },
): LocalStamp | undefined {
  for (const one of comingOf(engine, row, undefined, localStamp(there).date)) {
    if (one.date > there) return undefined
    if (one.date === there && one.scheduled !== scheduled) return one.scheduled
  }
  return undefined
}

function* decideOne(
  engine: Engine,
  write: Writer,
  about: About,
  { deed, to }: DecideBody,
): Steps<void> {
  if (deed === 'make') return yield* makeNow(engine, write, about)
  if (deed === 'skip') return skip(engine, write, about)
  if (about.dealt) return dealtWith(about)
  if (deed === 'back') {
    const decided = dateByHand.get(engine.reader, { id: about.row.id, scheduled: about.scheduled })
    return decided ? decide(engine, write, about, 'as it was') : noDate(about)
  }
  toCome(engine, about)
  decide(engine, write, about, target(engine, about, to ?? ''))
}

function aboutOf(engine: Engine, { series, scheduled: text }: DateOf): About {
  const row = needSeries(engine, series)
  const { date, time } = localStamp(text, 'dates')
  const scheduled = stamp(date, time)
  return { row, scheduled, dealt: occurrenceAt.get(engine.reader, { id: series, scheduled }) }
}

/** As many things as deciding about dates touches. */
function sizeOf(engine: Engine, { dates, deed }: DecideBody): number {
  if (deed !== 'make') return dates.length
  return dates.reduce((sum, { series }) => {
    const makes = seriesById.get(engine.reader, { id: series })?.series.makes
    return sum + (makes?.kind === 'project' ? tasksIn(engine, makes.templateId) : 1)
  }, 0)
}

/**
 * Decides about dates of series: one change, one undo. Of several, those that it cannot be done with
 * are left, and said; of one, it is refused.
 * @throws Refusal `no-such-date`, `dealt-with`, `past`, `date-taken`
 */
export function decideDates(engine: Engine, viewer: Viewer, body: DecideBody): Large<Decided> {
  needStructure(viewer, 'decide about dates of series')
  const one = body.dates.length === 1
  return engine.journal.large({
    actor: actorOf(viewer),
    size: sizeOf(engine, body),
    *work(write) {
      const left: string[] = []
      const series = new Set<SeriesId>()
      for (const date of body.dates) {
        try {
          yield* decideOne(engine, write, aboutOf(engine, date), body)
          series.add(date.series)
        } catch (error) {
          if (one || !(error instanceof Refusal)) throw error
          left.push(error.message)
        }
        yield
      }
      for (const id of series) planSeries(engine, write, id)
      return { done: body.dates.length - left.length, left }
    },
  })
}
