import { WEEKDAYS, type Weekday } from '#core/calendar/calendar.ts'
import { readMinutes, readNumber } from '#core/text/read.ts'
import { sayMinutes } from '#core/text/speak.ts'
import type { Coded, FirmBody, Usual, WeekHours } from '#contract/firm.ts'

/** What is asked of a firm that begins, as it is typed. */
export interface Beginning extends Omit<FirmBody, 'hours' | 'region' | 'key'> {
  region: string
  hours: Record<Weekday, string>
}
/** A working day that nobody said otherwise of. */
const USUAL_DAY = 450

export const blank = (): Beginning => ({
  ...{ name: '', country: '', region: '', zone: '', currency: '' },
  hours: hoursOf(WEEKDAYS.slice(0, 5)),
  person: { name: '', email: '', password: '' },
})
/** A usual day on each that is worked, as it is written. */
export const hoursOf = (week: readonly Weekday[]): Record<Weekday, string> => {
  const written = (day: Weekday) => (week.includes(day) ? sayMinutes(USUAL_DAY) : '')
  const [MO, TU, WE, TH, FR, SA, SU] = WEEKDAYS.map(written) as [
    ...[string, string, string, string, string, string, string],
  ]
  return { MO, TU, WE, TH, FR, SA, SU }
}

/** Minutes of a day: “7h 30m”, “7:30”, a bare number in hours; 0 for none, null where it is no length. */
export function readDay(text: string): number | null {
  if (text.trim() === '' || text.trim() === '-') return 0
  const bare = readNumber(text)
  const minutes = bare === null ? readMinutes(text, true) : Math.round(bare * 60)
  return minutes !== null && minutes >= 0 && minutes <= 1440 ? minutes : null
}
/** The hours as they are sent; those of a day that cannot be read are left out. */
export const readWeek = (hours: Beginning['hours']): WeekHours =>
  Object.fromEntries(
    WEEKDAYS.flatMap((day) => {
      const minutes = readDay(hours[day])
      return minutes ? [[day, minutes]] : []
    }),
  )
export const bodyOf = (written: Beginning, key: string | null): FirmBody => ({
  ...written,
  region: written.region || null,
  hours: readWeek(written.hours),
  ...(key !== null && { key }),
})

/** Where the browser is, as far as it says: a country that is known, else none. */
export const likelyCountry = (languages: readonly string[], known: readonly Coded[]): string =>
  languages
    .map((tag) => new Intl.Locale(tag).region ?? '')
    .find((region) => known.some(({ code }) => code === region)) ?? ''
/** The zone of a country to begin with: the browser's own where that is one of them. */
export const likelyZone = ({ zones }: Pick<Usual, 'zones'>, own: string): string =>
  zones.includes(own) ? own : (zones[0] ?? own)

/** All zones and currencies that there are, to choose from. */
export const ZONES = Intl.supportedValuesOf('timeZone').map((code) => ({ code, name: code }))
const money = new Intl.DisplayNames('en', { type: 'currency' })
export const CURRENCIES = Intl.supportedValuesOf('currency').map((code) => ({
  ...{ code, name: `${code}, ${money.of(code) ?? code}` },
}))

/** Hours as they are typed, from minutes. */
export function weekOf(minutes: WeekHours): Record<Weekday, string> {
  const hours = hoursOf([])
  for (const day of WEEKDAYS) hours[day] = minutes[day] ? sayMinutes(minutes[day]) : ''
  return hours
}
/** What of a week cannot be read, by its day. */
export const weekFaults = (hours: Record<Weekday, string>): Record<string, string> =>
  Object.fromEntries(
    WEEKDAYS.filter((day) => readDay(hours[day]) === null).map((day) => [
      `hours.${day}`,
      'Hours of a day, such as 7h 30m',
    ]),
  )
