import type { IsoDate, LocalTime, PersonId } from '#core/brands.ts'
import { calendar, WEEKDAYS, type Calendar, type Weekday } from '#core/calendar/calendar.ts'
import { addDays, localTime, timeAfterMidnight, toInstant, toLocal } from '#core/calendar/dates.ts'
import type { DateWays } from '#contract/desks.ts'
import { PROJECT_STATE_NAMES, type ProjectNames } from '#contract/words.ts'
import type { Reader } from '../database/query.ts'
import type { Hours, Retention } from '../database/tables/people.ts'
import type { Clock } from './clock.ts'
import { allHolidays, firmRow, hoursOf, timeOffOf } from './queries.ts'

/** What everything about dates needs of the firm: its name, zone, calendar and the local day. */
export interface Firm {
  name(): string
  zone(): string
  /** Whether it is the demo's, with sign-in by one click. */
  demo(): boolean
  retention(): Retention
  /** What people open, and how many proxies are in front, as the firm says; null: as it was told. */
  address(): URL | null
  proxies(): number | null
  /** Whether a code from a second device is asked of all but guests; never in a demo. */
  demandsCodes(): boolean
  /** Since when nothing happens by itself: no rule, series or reminder; null while they go. */
  stoppedAt(): number | null
  /** How dates and times are written and picked. */
  dates(): DateWays
  /** What it calls the states of a project. */
  projectNames(): ProjectNames
  calendar(): Calendar
  /** A person's own: the firm's holidays, their weekday hours, their time off. */
  calendarOf(personId: PersonId): Calendar
  today(): IsoDate
  nowLocal(): { date: IsoDate; time: LocalTime }
  /** Forgets what was read; called when any of it changes. */
  forget(): void
}

interface FirmRow {
  readonly name: string
  readonly zone: string
  readonly week: readonly Weekday[]
  readonly hours: Hours
  readonly demo: boolean
  readonly retention: Retention
  readonly dates: Partial<DateWays>
  readonly address: string | null
  readonly proxies: number | null
  readonly demandsCodes: boolean
  readonly stoppedAt: number | null
  readonly projectNames: Partial<ProjectNames>
}
const USUAL_DATES: DateWays = { first: 'MO', clock: 24 }
/** Until there is a firm. */
const NONE: FirmRow = {
  name: '',
  zone: 'Europe/London',
  week: ['MO', 'TU', 'WE', 'TH', 'FR'],
  hours: {},
  demo: false,
  retention: {},
  dates: {},
  address: null,
  proxies: null,
  demandsCodes: false,
  stoppedAt: null,
  projectNames: {},
}

const DAY = 86_400_000
/** A day in a zone, and the moments it begins and ends at. */
interface LocalDay {
  readonly zone: string
  readonly date: IsoDate
  readonly from: number
  readonly to: number
}
function localDay(now: number, zone: string): LocalDay {
  const { date } = toLocal(now, zone)
  const midnight = localTime('00:00')
  return {
    ...{ zone, date },
    from: toInstant(date, midnight, zone),
    to: toInstant(addDays(date, 1), midnight, zone),
  }
}
/** Finds the local day of a moment, once for all moments of it. */
function days(): (now: number, zone: string) => LocalDay {
  let day: LocalDay | undefined
  return (now, zone) => {
    if (day?.zone !== zone || now < day.from || now >= day.to) day = localDay(now, zone)
    return day
  }
}

export function createFirm(reader: Reader, clock: Clock): Firm {
  let row: FirmRow | undefined
  let own: Calendar | undefined
  const personal = new Map<PersonId, Calendar>()

  const day = days()
  const read = (): FirmRow => (row ??= firmRow.get(reader) ?? NONE)
  const firmCalendar = (): Calendar =>
    (own ??= calendar({
      week: read().week,
      hours: read().hours,
      holidays: allHolidays.all(reader),
    }))
  function makeOwn(id: PersonId): Calendar {
    const hours = hoursOf.get(reader, { id })?.hours
    const off = timeOffOf.all(reader, { id }).map(({ firstDay, lastDay, reason, ...takes }) => ({
      ...{ date: `${firstDay}/${lastDay}`, name: reason || 'away' },
      ...takes,
    }))
    return calendar({
      week: hours ? WEEKDAYS.filter((day) => (hours[day] ?? 0) > 0) : read().week,
      hours: hours ?? read().hours,
      holidays: [...allHolidays.all(reader), ...off],
    })
  }

  return {
    name: () => read().name,
    zone: () => read().zone,
    demo: () => read().demo,
    retention: () => read().retention,
    address() {
      const { address } = read()
      return address !== null && URL.canParse(address) ? new URL(address) : null
    },
    proxies: () => read().proxies,
    demandsCodes: () => read().demandsCodes && !read().demo,
    stoppedAt: () => read().stoppedAt,
    dates: () => ({ ...USUAL_DATES, ...read().dates }),
    projectNames: () => ({ ...PROJECT_STATE_NAMES, ...read().projectNames }),
    calendar: firmCalendar,
    calendarOf(personId) {
      let found = personal.get(personId)
      if (!found) personal.set(personId, (found = makeOwn(personId)))
      return found
    },
    today: () => day(clock.now(), read().zone).date,
    nowLocal() {
      const now = clock.now()
      const { date, from, to, zone } = day(now, read().zone)
      // Where the clock is not changed that day, the time of day is how long it has lasted.
      return to - from === DAY ? { date, time: timeAfterMidnight(now - from) } : toLocal(now, zone)
    },
    forget() {
      row = own = undefined
      personal.clear()
    },
  }
}
