import type Holidays from 'date-holidays'
import type { IsoDate } from '#core/brands.ts'
import { addDays, isoDate } from '#core/calendar/dates.ts'
import { refuse } from '#core/refusal.ts'
import type { Coded } from '#contract/firm.ts'

/** Public holidays by country and region, as the package `date-holidays` has them. */

/** Where holidays are kept: ISO 3166-1, and ISO 3166-2 without the country. */
export interface Place {
  readonly country: string
  readonly region: string | null
}
export interface NamedDay {
  readonly date: IsoDate
  readonly name: string
  readonly half: boolean
}
const DAY = 86_400_000

/** Read when it is asked for: most starts of a server never do. */
const load = async (): Promise<typeof Holidays> => (await import('date-holidays')).default

const coded = (names: Readonly<Record<string, string>> | undefined): Coded[] =>
  Object.entries(names ?? {})
    .map(([code, name]) => ({ code, name }))
    .sort((a, b) => a.name.localeCompare(b.name, 'en'))

/** All countries, by their English names. */
export async function countries(): Promise<Coded[]> {
  const Source = await load()
  return coded(new Source().getCountries('en'))
}

/** The source for a place. @throws Refusal `no-such-place` */
async function sourceOf({ country, region }: Place): Promise<Holidays> {
  const Source = await load()
  const all = new Source()
  if (!(country in all.getCountries('en')))
    refuse('no-such-place', `“${country}” is no country that is known here.`, 'country')
  if (region !== null && !(region in (all.getStates(country, 'en') ?? {})))
    refuse('no-such-place', `“${region}” is no region of that country.`, 'region')
  return region === null ? new Source(country) : new Source(country, region)
}

/** Regions of a country whose holidays are their own, and the zones of its clocks. */
export async function regionsOf(country: string): Promise<{ regions: Coded[]; zones: string[] }> {
  const source = await sourceOf({ country, region: null })
  const Source = await load()
  return { regions: coded(new Source().getStates(country, 'en')), zones: source.getTimezones() }
}

/**
 * Public holidays of some years, in order; those of several days are each of them, what ends within
 * its day is half a day. @throws Refusal `no-such-place`
 */
export async function publicHolidays(place: Place, years: readonly number[]): Promise<NamedDay[]> {
  const source = await sourceOf(place)
  const found = years.flatMap((year) =>
    source
      .getHolidays(year, 'en')
      .filter((h) => h.type === 'public')
      .flatMap((h) => {
        const long = (h.end.getTime() - h.start.getTime()) / DAY
        const first = isoDate(h.date.slice(0, 10))
        const name = h.name.replace(/ \(substitute day\)/, ' (substitute)')
        return Array.from({ length: Math.max(1, Math.round(long)) }, (_, i) => ({
          ...{ date: addDays(first, i), name, half: long < 0.75 },
        }))
      }),
  )
  const days = new Map<string, NamedDay>()
  // Where two fall on one day, the first is named; a whole one goes before half of one.
  for (const day of found) if (days.get(day.date)?.half !== false) days.set(day.date, day)
  return [...days.values()].sort((a, b) => (a.date < b.date ? -1 : 1))
}
