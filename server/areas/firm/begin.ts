import { WEEKDAYS, type Weekday } from '#core/calendar/calendar.ts'
import { addDays, toLocal } from '#core/calendar/dates.ts'
import { refuse } from '#core/refusal.ts'
import { accountOf, type FirmBody, type Usual } from '#contract/firm.ts'
import { ENGINE } from '../../engine/journal.ts'
import { firmRow } from '../../engine/queries.ts'
import type { Engine } from '../../engine/services.ts'
import { currencyOf } from './currencies.ts'
import { publicHolidays, regionsOf, type Place } from './holidays.ts'

/** For so many years ahead a firm knows its holidays from the beginning. */
const YEARS_AHEAD = 10

/** The years whose holidays are kept, seen from a day: the one before it, and ten after. */
export function yearsAhead(today: string): number[] {
  const year = Number(today.slice(0, 4))
  return Array.from({ length: YEARS_AHEAD + 2 }, (_, i) => year - 1 + i)
}

export const hasBegun = ({ reader }: Pick<Engine, 'reader'>): boolean =>
  firmRow.get(reader) !== undefined

/** @throws Refusal `already-begun` */
export function needNone(engine: Engine): void {
  if (hasBegun(engine)) refuse('already-begun', 'There is a firm here already; sign in to it.')
}

/** The days that are worked in a country, from Unicode's CLDR: all but its weekend. */
function weekOf(country: string): Weekday[] {
  const locale: Intl.Locale & { weekInfo?: { weekend: readonly number[] } } = new Intl.Locale(
    'und',
    { region: country },
  )
  const weekend = locale.weekInfo?.weekend ?? [6, 7]
  return WEEKDAYS.filter((_, i) => !weekend.includes(i + 1))
}

/** What is usual in a place, to begin with. @throws Refusal `no-such-place` */
export async function usualIn({ clock }: Engine, place: Place): Promise<Usual> {
  const { regions, zones } = await regionsOf(place.country)
  const today = toLocal(clock.now(), zones[0] ?? 'UTC').date
  const year = Number(today.slice(0, 4))
  const days = await publicHolidays(place, [year, year + 1])
  const end = addDays(today, 365)
  return {
    ...{ regions, zones, currency: currencyOf(place.country), week: weekOf(place.country) },
    holidays: days.filter(({ date }) => date >= today && date < end),
  }
}

/**
 * Makes the firm and whoever is first in it, its owner; answers their number.
 * @throws Refusal `already-begun`, `no-such-place`
 */
export async function beginFirm(
  engine: Engine,
  body: FirmBody,
  hash: (password: string) => Promise<string>,
): Promise<number> {
  const { name, country, region, zone, hours, currency, person } = body
  const years = yearsAhead(toLocal(engine.clock.now(), zone).date)
  const days = await publicHolidays({ country, region }, years)
  const passwordHash = await hash(person.password)
  // Whoever else began meanwhile was first.
  needNone(engine)
  return engine.journal.change(ENGINE, (write) => {
    const week = WEEKDAYS.filter((day) => hours[day])
    write.insert('firm', { id: 1, name, country, region, zone, week, hours, currency })
    for (const day of days) write.insert('holidays', day)
    const email = accountOf(person.email)
    return write.insert('people', { name: person.name, email, access: 'owner', passwordHash })
  }).result
}
