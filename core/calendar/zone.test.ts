import { Temporal } from 'temporal-polyfill'
import { expect, it } from 'vitest'
import type { IsoDate, LocalTime } from '../brands.ts'
import { fromEpochDay, timeOfDay, toInstant, toLocal } from './dates.ts'
import { chance } from '../test/chance.ts'
import { zoneOf } from './zone.ts'

/**
 * Against Temporal (temporal-polyfill), whose `compatible` is what RFC 5545, 3.3.5, asks for. Among
 * the zones: changes at midnight (Beirut, São Paulo), of half an hour (Lord Howe), of two hours
 * (Troll), four a year (Casablanca), a day that was skipped (Apia), seconds off (Monrovia until 1972).
 */
const ZONES = [
  ...['UTC', 'Europe/London', 'Europe/Dublin', 'Europe/Lisbon', 'America/New_York', 'Asia/Tokyo'],
  ...['Asia/Beirut', 'America/Sao_Paulo', 'Australia/Lord_Howe', 'Antarctica/Troll'],
  ...['Africa/Casablanca', 'Pacific/Apia', 'Africa/Monrovia', 'Asia/Kathmandu', 'America/Caracas'],
]
const DAY = 86_400
const plain = (local: number) =>
  Temporal.Instant.fromEpochMilliseconds(local * 1_000)
    .toZonedDateTimeISO('UTC')
    .toPlainDateTime()

/** Local times by chance over three centuries, and around each change of some years. */
function* locals(zone: string): Generator<number> {
  const { below } = chance(7)
  for (let i = 0; i < 300; i++) {
    const year = 1900 + below(300)
    yield Date.UTC(year, 0, 1) / 1_000 + below(366 * DAY)
  }
  for (const year of [1971, 1999, 2011, 2026, 2075]) {
    let at: Temporal.ZonedDateTime | null = Temporal.ZonedDateTime.from(`${year}-01-01[${zone}]`)
    for (let i = 0; i < 3; i++) {
      at = at.getTimeZoneTransition('next')
      if (!at) break
      const shown = (at.epochMilliseconds + at.offsetNanoseconds / 1e6) / 1_000
      for (const near of [-90_000, -7_200, -3_600, -1_800, -1, 0, 1, 1_800, 3_600, 7_200, 90_000])
        yield shown + near
    }
  }
}

it.each(ZONES)('%s shows what Temporal says', (zone) => {
  const { instant, local, dayStart } = zoneOf(zone)
  for (const shown of locals(zone)) {
    const at = plain(shown).toZonedDateTime(zone, { disambiguation: 'compatible' })
    expect([shown, instant(shown) * 1_000]).toEqual([shown, at.epochMilliseconds])
    const there = Temporal.Instant.fromEpochMilliseconds(shown * 1_000).toZonedDateTimeISO(zone)
    expect([shown, local(shown) - shown]).toEqual([shown, there.offsetNanoseconds / 1e9])
    const day = plain(shown).toPlainDate()
    const midnight = Math.floor(shown / DAY) * DAY
    expect([shown, dayStart(midnight) * 1_000]).toEqual([
      shown,
      day.toZonedDateTime(zone).epochMilliseconds,
    ])
    const [date, time] = [fromEpochDay(midnight / DAY), timeOfDay(shown - midnight)]
    expect(toInstant(date, time, zone)).toBe(at.epochMilliseconds)
    const back = at.toPlainDateTime()
    expect(toLocal(at.epochMilliseconds, zone)).toEqual({
      date: back.toPlainDate().toString(),
      time: back.toPlainTime().toString({ smallestUnit: back.second ? 'second' : 'minute' }),
    })
  }
})
it('the years are asked in any order', () => {
  const ask = (zone: string, year: number) =>
    toInstant(`${String(year).padStart(4, '0')}-07-01` as IsoDate, '12:00' as LocalTime, zone)
  for (const zone of ['Europe/London', 'Asia/Tokyo'])
    for (const year of [2026, 1975, 2150, 1940, 9990, 200, 2026])
      expect(ask(zone, year)).toBe(
        Temporal.PlainDateTime.from(`${String(year).padStart(4, '0')}-07-01T12:00`).toZonedDateTime(
          zone,
        ).epochMilliseconds,
      )
})
it('what is no zone is refused, again and again', () => {
  for (let i = 0; i < 2; i++) expect(() => zoneOf('Mars/Olympus')).toThrow(RangeError)
})
