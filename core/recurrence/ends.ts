import type { IsoDate, LocalStamp } from '../brands.ts'
import { addDays, isoDate, localStamp } from '../calendar/dates.ts'
import type { Calendar } from '../calendar/calendar.ts'
import { occurrences, type Schedule } from './schedule.ts'

type Rule = Schedule['rule']

/** When a rule ends (RFC 5545, section 3.3.10): after a date, after so many times, or never. */
export type RuleEnd =
  | { readonly on: 'never' }
  | { readonly on: 'date'; readonly date: string }
  | { readonly on: 'count'; readonly times: number }

const partsOf = (rule: string) => rule.split(';').filter(Boolean)

/** The end that a rule has. */
export function endOf(rule: Rule): RuleEnd {
  if (typeof rule !== 'string') {
    if (rule.until !== undefined) return { on: 'date', date: rule.until }
    return rule.count === undefined ? { on: 'never' } : { on: 'count', times: rule.count }
  }
  for (const part of partsOf(rule)) {
    const [name, value = ''] = part.split('=')
    const day = /^(\d{4})(\d{2})(\d{2})/.exec(value)
    if (name === 'COUNT') return { on: 'count', times: Number(value) }
    if (name === 'UNTIL' && day) return { on: 'date', date: `${day[1]}-${day[2]}-${day[3]}` }
  }
  return { on: 'never' }
}

/** A rule with another end; `timed`: its dates have times of day, so its last day is whole. */
export function withEnd<R extends Rule>(rule: R, end: RuleEnd, timed: boolean): R
export function withEnd(rule: Rule, end: RuleEnd, timed: boolean): Rule {
  if (typeof rule !== 'string') {
    const { workday, of } = rule
    if (end.on === 'date') return { workday, of, until: isoDate(end.date) }
    return end.on === 'count' ? { workday, of, count: end.times } : { workday, of }
  }
  const parts = partsOf(rule).filter((part) => !/^(UNTIL|COUNT)=/.test(part))
  if (end.on === 'count') parts.push(`COUNT=${end.times}`)
  if (end.on === 'date')
    parts.push(`UNTIL=${end.date.replaceAll('-', '')}${timed ? 'T235959' : ''}`)
  return parts.join(';')
}

/** The schedule as it is up to a day, which it does not reach any more. */
export function endedBefore(schedule: Schedule, day: IsoDate): Schedule {
  const { start, rule, include } = schedule
  const timed = localStamp(start).time !== null
  return {
    ...schedule,
    rule: withEnd(rule, { on: 'date', date: addDays(day, -1) }, timed),
    ...(include && { include: include.filter((text) => localStamp(text).date < day) }),
  }
}

/** The end that a schedule has from one of its dates on: of so many times, those that are left. */
export function endLeft(schedule: Schedule, cal: Calendar, scheduled: LocalStamp): RuleEnd {
  const end = endOf(schedule.rule)
  if (end.on !== 'count') return end
  let before = 0
  for (const each of occurrences({ ...schedule, exclude: [], include: [] }, cal)) {
    if (each.scheduled >= scheduled) break
    before++
  }
  return { ...end, times: Math.max(1, end.times - before) }
}

/**
 * A schedule as it begins at a time and not before, ending so. A rule that is counted from its start by
 * an interval keeps its rhythm where it begins on a date of its own.
 */
export function begunAt(schedule: Schedule, start: LocalStamp, end: RuleEnd): Schedule {
  const { date, time } = localStamp(start)
  const { include, rule } = schedule
  return {
    ...schedule,
    start,
    rule: end.on === 'count' ? withEnd(rule, end, time !== null) : rule,
    ...(include && { include: include.filter((text) => localStamp(text).date >= date) }),
  }
}
