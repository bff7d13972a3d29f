import type { ClientId, LocalStamp, SeriesId } from '#core/brands.ts'
import { localStamp, stamp, toInstant, toLocal } from '#core/calendar/dates.ts'
import { afterEvent, isByEvents } from '#core/recurrence/course.ts'
import { plural } from '#core/text/speak.ts'
import type { Writer } from '../../engine/journal.ts'
import { drained } from '../../engine/portions.ts'
import type { Engine } from '../../engine/services.ts'
import { tasksIn } from '../templates/start.ts'
import { deal, settleAs, type Due } from './deal.ts'
import {
  broughtBy,
  dealtCount,
  lastScheduled,
  occurrenceAt,
  seriesById,
  type SeriesRecord,
} from './queries.ts'
import { planSeries } from './run.ts'

/** What events bring: the next of a series, once for each. */

/** Larger ones are made by a person, or by dates: what a rule does is one step. */
const MOST = 100

/** The moment of an event, or the second after the last one's: each is known by its own. */
function momentOf({ reader, firm }: Engine, write: Writer, id: SeriesId): LocalStamp {
  const written = (at: number): LocalStamp => {
    const { date, time } = toLocal(at, firm.zone())
    return stamp(date, time)
  }
  const own = written(write.at)
  const last = lastScheduled.get(reader, { id })?.scheduled ?? null
  if (last === null || last < own) return own
  const { date, time } = localStamp(last)
  return written(toInstant(date, time, firm.zone()) + 1_000)
}

/** What an event is known by, and whose it is: for them is what it brings, where a series says nobody. */
interface Event {
  readonly event: string
  readonly clientId: ClientId | null
}
/** What an event brings in a series; why it brings nothing, where it does not. */
function brought(engine: Engine, write: Writer, row: SeriesRecord, by: Event): Due | string {
  const { schedule, id, makes } = row
  const { reader, firm } = engine
  if (!isByEvents(schedule)) return `“${row.name}” goes by dates, and is not brought by rules`
  if (makes.kind === 'project' && tasksIn(engine, makes.templateId) > MOST)
    return `“${row.name}” makes more than ${plural(MOST, 'task')} at once`
  const made = dealtCount.get(reader, { id })?.count ?? 0
  const found = afterEvent(schedule, firm.today(), { cal: firm.calendar(), made })
  if (!found) return `“${row.name}” has not begun, or is at its end`
  return { scheduled: momentOf(engine, write, id), ...found, byHand: false, joins: [], ...by }
}

/** What an event did with a series, and what it left, as the run log tells it. */
interface Brought {
  readonly did?: string
  readonly left?: string
}
/** Deals with the next of a series, once for an event by its key; inside a change of a rule. */
export function bringNext(engine: Engine, write: Writer, id: SeriesId, by: Event): Brought {
  const { reader } = engine
  const row = seriesById.get(reader, { id })?.series
  if (!row || row.archivedAt !== null) return { left: 'The series that it brings is gone' }
  if (broughtBy.get(reader, { id, event: by.event })) return {}
  const one = brought(engine, write, row, by)
  if (typeof one === 'string') return { left: one }
  if (row.on) drained(deal(engine, write, row, one))
  else settleAs(engine, write, row, { one, became: { state: 'skipped', why: 'It was paused' } })
  planSeries(engine, write, id)
  return told(row, occurrenceAt.get(reader, { id, scheduled: one.scheduled })?.occurrence)
}
function told(
  { name }: SeriesRecord,
  became: { readonly state: string; readonly why: string } | undefined,
): Brought {
  return became?.state === 'made'
    ? { did: `Made the next of “${name}”` }
    : { left: `The next of “${name}” was ${became?.state}: ${became?.why.toLowerCase()}` }
}
