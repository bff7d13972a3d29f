import ICAL from 'ical.js'
import type { LocalStamp } from '#core/brands.ts'
import { isoDate, localTime, stamp, toInstant, toLocal, zoneName } from '#core/calendar/dates.ts'
import type { ByHand } from '#core/recurrence/coming.ts'
import type { Schedule } from '#core/recurrence/schedule.ts'
import { Refusal } from '#core/refusal.ts'
import type { FoundSeries, SeriesFound } from '#contract/series.ts'
import type { Engine } from '../../engine/services.ts'
import { needStructure, type Viewer } from '../../engine/viewer.ts'
import { entriesIn, faultOf, isCancelled, startOf, textOf, timesOf } from '../imports/icalendar.ts'
import { checkedSchedule } from './check.ts'

/**
 * Recurring events of an iCalendar file (RFC 5545), read as series: RRULE, RDATE, EXDATE, and what was
 * moved or cancelled by a RECURRENCE-ID.
 */

/** As many series as one file brings. */
const MOST = 500
const two = (n: number): string => String(n).padStart(2, '0')

/** How times of one event become the firm's: in the event's zone, where it names one we know. */
interface Clock {
  readonly zone: string
  readonly local: (time: ICAL.Time) => LocalStamp
}
function clockOf(engine: Engine, event: ICAL.Component, notes: Set<string>): Clock {
  const own = engine.firm.zone()
  const named = event.getFirstProperty('dtstart')?.getParameter('tzid')
  let zone = own
  if (typeof named === 'string')
    try {
      zone = zoneName(named)
    } catch {
      notes.add(`The zone “${named}” is not known here; its times are taken as ${own}.`)
    }
  const local = (time: ICAL.Time): LocalStamp => {
    const { year, month, day, hour, minute, second, isDate } = time
    const date = isoDate(`${String(year).padStart(4, '0')}-${two(month)}-${two(day)}`)
    if (isDate) return stamp(date, null)
    const clock = localTime(`${two(hour)}:${two(minute)}:${two(second)}`)
    if (time.zone?.tzid !== 'UTC') return stamp(date, clock)
    const there = toLocal(toInstant(date, clock, 'UTC'), zone)
    return stamp(there.date, there.time)
  }
  return { zone, local }
}

/** Where single dates of an event were put, by the RECURRENCE-ID of those that say so. */
function movedIn(own: readonly ICAL.Component[], clock: Clock): ByHand[] {
  return own.flatMap((event): ByHand[] => {
    const id: unknown = event.getFirstPropertyValue('recurrence-id')
    const to = startOf(event)
    if (!(id instanceof ICAL.Time) || !to) return []
    return [{ scheduled: clock.local(id), date: isCancelled(event) ? null : clock.local(to) }]
  })
}

/** Events that say where one date of another was put, by the other's name. */
type Moves = Map<string, ICAL.Component[]>
function movesIn(all: readonly ICAL.Component[]): Moves {
  const moved: Moves = new Map()
  for (const event of all) {
    if (!event.hasProperty('recurrence-id') || faultOf(event) !== null) continue
    const uid = textOf(event, 'uid')
    const own = moved.get(uid)
    if (own) own.push(event)
    else moved.set(uid, [event])
  }
  return moved
}

/** One recurring event as a series; what of it cannot be is said in its place. */
function seriesOf(
  engine: Engine,
  event: ICAL.Component,
  { moved, notes }: { moved: Moves; notes: Set<string> },
): FoundSeries {
  const fault = faultOf(event)
  if (fault !== null) return { name: 'Unreadable', description: '', problem: fault }
  const name = textOf(event, 'summary').trim().slice(0, 120) || 'Untitled'
  const description = textOf(event, 'description').slice(0, 20_000)
  const bad = (problem: string): FoundSeries => ({ name, description, problem })
  const start = startOf(event)
  if (!start) return bad('It has no start.')
  const rules = event.getAllProperties('rrule').map((one) => String(one.getFirstValue()))
  if (rules.length > 1) return bad('It has several rules; a series has one.')
  const clock = clockOf(engine, event, notes)
  const list = (times: readonly ICAL.Time[]) => times.map((time) => clock.local(time)).slice(0, 500)
  const exclude = list(timesOf(event, 'exdate'))
  const include = list(timesOf(event, 'rdate'))
  const schedule: Schedule = {
    ...{ start: clock.local(start), zone: clock.zone, rule: rules[0] ?? 'FREQ=DAILY;COUNT=1' },
    ...(exclude.length && { exclude }),
    ...(include.length && { include }),
  }
  try {
    checkedSchedule(engine, schedule)
  } catch (error) {
    if (error instanceof Refusal) return bad(error.message)
    throw error
  }
  // A name is one event's (RFC 5545, section 3.8.4.7): a second one by it has nothing moved.
  const uid = textOf(event, 'uid')
  const own = moved.get(uid) ?? []
  moved.delete(uid)
  return { name, description, schedule, byHand: movedIn(own, clock) }
}

/** Whether an event comes again; one that only says where one date was put is a part of another. */
const comesAgain = (event: ICAL.Component): boolean =>
  !event.hasProperty('recurrence-id') && (event.hasProperty('rrule') || event.hasProperty('rdate'))

/** The recurring events of an iCalendar file, to be looked at. @throws Refusal `bad-calendar` */
export function readSeries(engine: Engine, viewer: Viewer, bytes: Buffer): SeriesFound {
  needStructure(viewer, 'bring in series')
  const all = entriesIn(bytes)
  const repeating = all.filter(comesAgain)
  const notes = new Set<string>()
  const moved = movesIn(all)
  const series = repeating.slice(0, MOST).map((event) => seriesOf(engine, event, { moved, notes }))
  if (repeating.length > MOST) notes.add(`Only the first ${MOST} of ${repeating.length} are shown.`)
  const whole = all.filter((event) => !event.hasProperty('recurrence-id')).length
  return { series, notes: [...notes], single: whole - repeating.length }
}
