import type { IsoDate, LocalTime } from '#core/brands.ts'
import { calendar, WEEKDAYS, type Calendar, type Weekday } from '#core/calendar/calendar.ts'
import { toLocal } from '#core/calendar/dates.ts'
import type { Database } from '../database/open.ts'
import type { Clock } from './clock.ts'

/**
 * What everything about dates needs of the firm: its name, zone, calendar and the clock's local
 * day.
 */
export interface Firm {
  name(): string
  zone(): string
  calendar(): Calendar
  /** A person's own: the firm's holidays, their weekday hours, their time off. */
  calendarOf(personId: number): Calendar
  today(): IsoDate
  nowLocal(): { date: IsoDate; time: LocalTime }
  /** Forgets what was read; called when any of it changes. */
  forget(): void
}

interface FirmRow {
  name: string
  zone: string
  week: string
  hours: string
}

export function createFirm(db: Database, clock: Clock): Firm {
  let row: FirmRow | undefined
  let own: Calendar | undefined
  const personal = new Map<number, Calendar>()

  const read = (): FirmRow =>
    (row ??= (db.prepare('select name, zone, week, hours from firm where id = 1').get() as
      FirmRow | undefined) ?? {
      name: '',
      zone: 'Europe/London',
      week: '["MO","TU","WE","TH","FR"]',
      hours: '{}',
    })
  const holidays = () =>
    (
      db.prepare('select date, name, half from holidays').all() as {
        date: string
        name: string
        half: number
      }[]
    ).map((h) => ({ date: h.date, name: h.name, half: h.half === 1 }))
  const firmCalendar = (): Calendar =>
    (own ??= calendar({
      week: JSON.parse(read().week) as Weekday[],
      hours: JSON.parse(read().hours) as Record<Weekday, number>,
      holidays: holidays(),
    }))

  return {
    name: () => read().name,
    zone: () => read().zone,
    calendar: firmCalendar,
    calendarOf(personId) {
      let found = personal.get(personId)
      if (!found) {
        const person = db.prepare('select hours from people where id = ?').get(personId) as
          { hours: string | null } | undefined
        const hours = JSON.parse(person?.hours ?? read().hours) as Partial<Record<Weekday, number>>
        const week = person?.hours
          ? WEEKDAYS.filter((d) => (hours[d] ?? 0) > 0)
          : (JSON.parse(read().week) as Weekday[])
        const off = db
          .prepare('select firstDay, lastDay, reason from timeOff where personId = ?')
          .all(personId) as { firstDay: string; lastDay: string; reason: string }[]
        found = calendar({
          week,
          hours,
          holidays: [
            ...holidays(),
            ...off.map((o) => ({ date: `${o.firstDay}/${o.lastDay}`, name: o.reason || 'away' })),
          ],
        })
        personal.set(personId, found)
      }
      return found
    },
    today: () => toLocal(clock.now(), read().zone).date,
    nowLocal: () => toLocal(clock.now(), read().zone),
    forget() {
      row = own = undefined
      personal.clear()
    },
  }
}
