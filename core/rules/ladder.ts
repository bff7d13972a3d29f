import type { Instant, IsoDate, LocalTime } from '../brands.ts'
import { workingDayAfter, type Calendar, type DayUnit } from '../calendar/calendar.ts'
import { addDays, toInstant } from '../calendar/dates.ts'

/**
 * When a rung fires: so many days late at a time of day, or so many hours after the due was missed.
 */
export type RungDelay =
  | { readonly days: number; readonly unit: DayUnit; readonly time?: LocalTime | undefined }
  | { readonly hours: number }

export interface Due {
  readonly date: IsoDate
  readonly time: LocalTime | null
}

/** The time of day a rung of days fires at when it names none. */
export const RUNG_TIME = '09:00' as LocalTime

/** The moment a due is missed: its time, or the end of its day where it has none. */
export const missedAt = (due: Due, zone: string): Instant =>
  due.time === null
    ? toInstant(addDays(due.date, 1), null, zone)
    : toInstant(due.date, due.time, zone)

/**
 * When a rung fires for a due: on the n-th working or calendar day after it, or so many hours after
 * it was missed.
 */
export function rungAt(delay: RungDelay, due: Due, cal: Calendar, zone: string): Instant {
  if ('hours' in delay)
    return (missedAt(due, zone) + Math.round(delay.hours * 3_600_000)) as Instant
  const day =
    delay.unit === 'calendar'
      ? addDays(due.date, delay.days)
      : workingDayAfter(cal, due.date, delay.days)
  return toInstant(day, delay.time ?? RUNG_TIME, zone)
}

export interface LadderStanding {
  /** Rungs reached by `now`, lowest first (indexes into the ladder as given). */
  readonly reached: readonly { rung: number; at: Instant }[]
  readonly next: { rung: number; at: Instant } | null
}

/**
 * Where a due stands on a ladder at a moment: the rungs behind it in the order they fire, and the
 * one ahead.
 */
export function evaluateLadder(
  rungs: readonly RungDelay[],
  due: Due,
  cal: Calendar,
  zone: string,
  now: number,
): LadderStanding {
  const order = rungs
    .map((delay, rung) => ({ rung, at: rungAt(delay, due, cal, zone) }))
    .sort((a, b) => a.at - b.at || a.rung - b.rung)
  return { reached: order.filter((r) => r.at <= now), next: order.find((r) => r.at > now) ?? null }
}
