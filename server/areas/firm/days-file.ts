import ICAL from 'ical.js'
import type { IsoDate } from '#core/brands.ts'
import { addDays, isoDate, localStamp } from '#core/calendar/dates.ts'
import { isByDates } from '#core/recurrence/course.ts'
import { occurrences } from '#core/recurrence/schedule.ts'
import { Refusal } from '#core/refusal.ts'
import { plural } from '#core/text/speak.ts'
import type { HolidaysFound } from '#contract/firm.ts'
import type { Engine } from '../../engine/services.ts'
import { needStructure, type Viewer } from '../../engine/viewer.ts'
import { entriesIn, faultOf, isCancelled, startOf, textOf, timesOf } from '../imports/icalendar.ts'
import { checkedSchedule } from '../series/check.ts'
import { yearsAhead } from './begin.ts'
import { listHolidays } from './days-off.ts'

/** Holidays out of an iCalendar file (RFC 5545): its events of whole days, with those that come again. */

/** As many days as one event takes, as one file brings, and as many events as are read of it. */
const [LONGEST, MOST, MOST_EVENTS] = [62, 1_000, 1_000]

interface Span {
  readonly first: IsoDate
  readonly last: IsoDate
}
const dayOf = (time: ICAL.Time): IsoDate => isoDate(time.toString().slice(0, 10))

/** How many days an event takes; its end is the day after its last (RFC 5545, section 3.6.1). */
function lengthOf(event: ICAL.Component, start: ICAL.Time): number {
  const [end] = timesOf(event, 'dtend')
  const lasts: unknown = event.getFirstPropertyValue('duration')
  const seconds = end
    ? end.subtractDate(start).toSeconds()
    : lasts instanceof ICAL.Duration
      ? lasts.toSeconds()
      : 0
  return Math.min(Math.max(1, Math.round(seconds / 86_400)), LONGEST)
}

/** The days that an event begins on, within a span. @throws Refusal for a rule that cannot be read */
function beginsOn(engine: Engine, event: ICAL.Component, start: ICAL.Time, span: Span): IsoDate[] {
  const { firm } = engine
  const include = timesOf(event, 'rdate').map(dayOf)
  const rule = event.getFirstPropertyValue('rrule')
  if (rule === null) return [dayOf(start), ...include]
  const exclude = timesOf(event, 'exdate').map(dayOf)
  const asked = { start: dayOf(start), rule: String(rule), include, exclude }
  const schedule = checkedSchedule(engine, asked)
  if (!isByDates(schedule)) return []
  const found: IsoDate[] = []
  for (const { date } of occurrences(schedule, firm.calendar(), span.first)) {
    const day = localStamp(date).date
    if (day > span.last || found.push(day) > MOST) break
  }
  return found
}

/** The days of events of whole days, each once; why there are none of one stands in the notes. */
function daysOf(engine: Engine, events: readonly ICAL.Component[], span: Span, notes: string[]) {
  const days = new Map<IsoDate, string>()
  let elsewhere = 0
  for (const event of events) {
    const start = startOf(event)
    if (days.size > MOST) break
    if (!start) continue
    const name = textOf(event, 'summary').trim().slice(0, 80) || 'Holiday'
    const long = Array.from({ length: lengthOf(event, start) }, (_, i) => i)
    try {
      for (const date of beginsOn(engine, event, start, span).flatMap((first) =>
        long.map((i) => addDays(first, i)),
      ))
        if (date < span.first || date > span.last) elsewhere++
        else if (!days.has(date)) days.set(date, name)
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      notes.push(`${name}: ${error.message}`)
    }
  }
  if (elsewhere)
    notes.push(`${plural(elsewhere, 'day')} before this year or beyond the next ten left out.`)
  return [...days].sort(([a], [b]) => (a < b ? -1 : 1))
}

/** The holidays of a file, to be looked at before they are entered. @throws Refusal `bad-calendar` */
export function readHolidays(engine: Engine, viewer: Viewer, bytes: Buffer): HolidaysFound {
  needStructure(viewer, 'bring in holidays')
  const today = engine.firm.today()
  const span = {
    first: isoDate(`${today.slice(0, 4)}-01-01`),
    last: isoDate(`${yearsAhead(today).at(-1)}-12-31`),
  }
  const notes: string[] = []
  const all = entriesIn(bytes)
  const found = all.slice(0, MOST_EVENTS)
  if (all.length > found.length)
    notes.push(`Only the first ${MOST_EVENTS} of ${all.length} events were read.`)
  const sound = found.filter((event) => faultOf(event) === null)
  if (sound.length < found.length)
    notes.push(`${plural(found.length - sound.length, 'event')} that cannot be read left out.`)
  const events = sound.filter((event) => startOf(event) && !isCancelled(event))
  const whole = events.filter((event) => startOf(event)?.isDate)
  const timed = events.length - whole.length
  if (timed)
    notes.push(`${plural(timed, 'event')} with a time of day left out: a holiday is a day.`)
  const days = daysOf(engine, whole, span, notes)
  if (days.length > MOST) notes.push(`Only ${MOST} days of the file are read.`)
  const there = new Set<string>(listHolidays(engine, viewer).map(({ date }) => date))
  return {
    days: days
      .slice(0, MOST)
      .map(([date, name]) => ({ date, name, half: false, there: there.has(date) })),
    notes,
  }
}
