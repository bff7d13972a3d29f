import type { Instant, IsoDate, LocalStamp } from '../brands.ts'
import { localStamp, stamp, toInstant, toLocal, zoneName } from '../calendar/dates.ts'
import {
  settle,
  type AfterCompletion,
  type Made,
  type Past,
  type Recurrence,
  type Stretch,
} from '../recurrence/course.ts'
import { CATCH_UPS, OVERLAPS, type Schedule, type WorkdayOrdinal } from '../recurrence/schedule.ts'
import { refuse } from '../refusal.ts'
import { calendarOf, list, oneOf, record, roll, text, whole, type Line } from './input.ts'

/** What becomes of a series up to a moment, by a history that is given. */

const KINDS = ['calendar', 'working-day', 'after-completion', 'after-event'] as const
const UNITS = ['calendar', 'working', 'week', 'month'] as const

const zoneOf = (line: Line): string => zoneName(line['zone'] ?? 'UTC')

/** The schedule that a line gives. */
export function scheduleOf(line: Line): Schedule {
  const rule = line['rule']
  const rolled = roll(line['roll'])
  return {
    start: text(line['start'], 'start') as LocalStamp,
    zone: zoneOf(line),
    rule: typeof rule === 'string' ? rule : (record(rule, 'rule') as unknown as WorkdayOrdinal),
    exclude: list(line['exclude'], 'exclude') as string[],
    include: list(line['include'], 'include') as string[],
    ...(rolled && { roll: rolled }),
  }
}

function moment(value: unknown, place: string, zone: string): { date: IsoDate; at: Instant } {
  const { date, time } = localStamp(text(value, place), place)
  return { date, at: toInstant(date, time, zone) }
}
function waitOf(value: unknown): AfterCompletion {
  const rule = record(value, 'rule')
  return {
    after: whole(rule['after'], 'rule.after', 0, 10_000),
    unit: oneOf(rule['unit'] ?? 'calendar', UNITS, 'rule.unit'),
  }
}
function recurrenceOf(line: Line): Recurrence {
  const kind = oneOf(line['kind'], KINDS, 'kind')
  const zone = zoneOf(line)
  if (kind === 'after-event')
    return {
      ...{ kind, zone },
      events: list(line['events'], 'events').map((each, i) => {
        const { date, time } = localStamp(text(each, `events[${i}]`), `events[${i}]`)
        return stamp(date, time)
      }),
    }
  if (kind !== 'after-completion') return { kind: 'dates', schedule: scheduleOf(line) }
  const start = text(line['start'], 'start') as LocalStamp
  return { kind, start, zone, wait: waitOf(line['rule']), roll: roll(line['roll']) ?? 'none' }
}
/** What was made, in order. */
function historyOf(line: Line, zone: string): Past[] {
  return list(line['history'], 'history')
    .map((each, i): Past => {
      const place = `history[${i}]`
      const entry = record(each, place)
      const { date, time } = localStamp(entry['scheduled'], `${place}.scheduled`)
      const closed = entry['closedOn'] ?? null
      const at = closed === null ? null : moment(closed, `${place}.closedOn`, zone)
      return {
        scheduled: stamp(date, time),
        ...{ closedAt: at?.at ?? null, closedOn: at?.date ?? null },
      }
    })
    .sort((a, b) => (a.scheduled < b.scheduled ? -1 : 1))
}
const stretchesOf = (value: unknown, place: string, zone: string): Stretch[] =>
  list(value, place).map((each, i) => {
    const entry = record(each, `${place}[${i}]`)
    const from = moment(entry['from'], `${place}[${i}].from`, zone).at
    const to = moment(entry['to'], `${place}[${i}].to`, zone).at
    if (to < from)
      refuse('bad-date', `${place}[${i}]: it ends before it begins.`, `${place}[${i}].to`)
    return { from, to }
  })

export function course(line: Line): object {
  const zone = zoneOf(line)
  const local = (at: number): string => {
    const { date, time } = toLocal(at, zone)
    return stamp(date, time)
  }
  const told = ({ scheduled, date, at, moved }: Made) => ({
    ...{ scheduled, date, at: local(at) },
    ...(moved !== undefined && { moved }),
  })
  const { made, held, missed, skipped, next } = settle(recurrenceOf(line), {
    history: historyOf(line, zone),
    now: moment(line['now'], 'now', zone).at,
    cal: calendarOf(line['calendar']),
    ways: {
      overlap: oneOf(line['overlap'] ?? 'make-anyway', OVERLAPS, 'overlap'),
      catchUp: oneOf(line['catchUp'] ?? 'each', CATCH_UPS, 'catchUp'),
      leadDays: whole(line['lead'] ?? 0, 'lead', 0, 1_000),
      paused: stretchesOf(line['paused'], 'paused', zone),
      down: stretchesOf(line['down'], 'down', zone),
    },
  })
  return { made: made.map(told), held, missed, skipped, next: next && told(next) }
}
