import {
  addWorkingDays,
  calendar,
  type Calendar,
  type CalendarInput,
} from '../calendar/calendar.ts'
import { isoDate } from '../calendar/dates.ts'
import { firstOccurrences } from '../recurrence/schedule.ts'
import { refuse, Refusal } from '../refusal.ts'
import { plan } from '../templates/plan.ts'
import { course, scheduleOf } from './course.ts'
import { ladder, rule } from './rules.ts'
import { templateOf } from './template-input.ts'
import { calendarOf, list, record, roll, text, whole, type Line } from './input.ts'

/** Working-day arithmetic: roll first, then add. */
function workdays(line: Line): object {
  const rolled = roll(line['roll'])
  const date = isoDate(line['date'])
  const n = whole(line['add'] ?? 0, 'add', -1_000_000, 1_000_000)
  return { date: addWorkingDays(calendarOf(line['calendar']), date, n, rolled) }
}

/** The occurrences of a schedule; what becomes of them up to a moment, where one is given. */
function recurrence(line: Line): object {
  if (line['kind'] !== undefined) return course(line)
  const found = firstOccurrences(
    scheduleOf(line),
    calendarOf(line['calendar']),
    whole(line['limit'] ?? 40, 'limit', 0, 10_000),
  )
  return {
    occurrences: found.map(({ scheduled, date, instant, moved }) => ({
      scheduled,
      date,
      instant: new Date(instant).toISOString().replace('.000Z', 'Z'),
      ...(moved?.because === 'clock-change' && { moved: moved.because }),
    })),
  }
}

/** A person's calendar: the firm's, with their own weekdays and time off laid on top. */
function personCalendar(firm: CalendarInput, own: Line, place: string): Calendar {
  const away = [
    ...list(own['away'], `${place}.away`),
    ...list(own['holidays'], `${place}.holidays`),
  ] as string[]
  const week = (own['week'] ?? firm.week) as CalendarInput['week']
  return calendar({ ...(week && { week }), holidays: [...(firm.holidays ?? []), ...away] }, place)
}

/** Starting a project from a template; the shapes are described in docs/calc.md. */
function planned(line: Line): object {
  const calendars = record(line['calendars'] ?? {}, 'calendars')
  const firm = record(calendars['firm'] ?? {}, 'calendars.firm') as CalendarInput
  const firmCalendar = calendar(firm, 'calendars.firm')
  const people = Object.entries(record(calendars['people'] ?? {}, 'calendars.people')).map(
    ([who, own]) =>
      [
        who,
        personCalendar(firm, record(own, `calendars.people.${who}`), `calendars.people.${who}`),
      ] as const,
  )
  const roles: Record<string, string | string[]> = {}
  for (const [role, who] of Object.entries(record(line['roles'] ?? {}, 'roles'))) {
    if (who === null) continue
    roles[role] = Array.isArray(who)
      ? who.map((w) => text(w, `roles.${role}`))
      : text(who, `roles.${role}`)
  }
  return plan({
    template: templateOf(line['template']),
    anchor: isoDate(line['anchor'], 'anchor'),
    answers: record(line['answers'] ?? {}, 'answers'),
    roles,
    firm: firmCalendar,
    people: Object.fromEntries(people),
    ...(line['today'] !== undefined && { today: isoDate(line['today'], 'today') }),
  })
}

export const KINDS: Readonly<Record<string, (line: Line) => object>> = {
  workdays,
  recurrence,
  plan: planned,
  ladder,
  rule,
}

/**
 * Answers one line of input with one line of output, whatever the input is: `{"id",…}` or
 * `{"id","error":{"code","message"}}`.
 */
export function answer(kind: string, line: string): string {
  let id: unknown = null
  try {
    let parsed: unknown
    try {
      parsed = JSON.parse(line)
    } catch {
      refuse('bad-json', 'This line is not JSON; write one JSON object a line.')
    }
    const input = record(parsed, 'line')
    id = input['id'] ?? null
    const work = Object.hasOwn(KINDS, kind)
      ? KINDS[kind]!
      : refuse('unknown-kind', `There is no kind “${kind}”; use ${Object.keys(KINDS).join(', ')}.`)
    return JSON.stringify({ id, ...work(input) })
  } catch (error) {
    if (error instanceof Refusal)
      return JSON.stringify({ id, error: { code: error.code, message: error.message } })
    return JSON.stringify({
      id,
      error: {
        code: 'internal',
        message: `The calculation failed: ${error instanceof Error ? error.message : String(error)}`,
      },
    })
  }
}
