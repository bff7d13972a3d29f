import type { LocalStamp } from '../brands.ts'
import { zoneOf } from '../calendar/zone.ts'

/**
 * One entry of a calendar. All-day ones lie on local dates, `last` included; timed ones at an
 * instant.
 */
export interface CalendarEntry {
  readonly uid: string
  readonly summary: string
  readonly description: string
  readonly categories: readonly string[]
  readonly when:
    | { readonly first: string; readonly last: string }
    | { readonly at: number; readonly minutes: number }
  /** When it was last changed, in epoch milliseconds. */
  readonly stamp: number
}

// RFC 5545, 3.3.11: backslash, semicolon, comma and line breaks are escaped in text.
const text = (value: string): string =>
  value
    .replace(/\\/g, '\\\\')
    .replace(/;/g, '\\;')
    .replace(/,/g, '\\,')
    .replace(/\r\n|\r|\n/g, '\\n')
const utc = (at: number): string =>
  new Date(at)
    .toISOString()
    .replace(/[-:]/g, '')
    .replace(/\.\d{3}/, '')
const day = (date: string): string => date.replaceAll('-', '')
const next = (date: string): string =>
  new Date(Date.parse(date) + 86_400_000).toISOString().slice(0, 10)

/**
 * RFC 5545, 3.1: no line is longer than 75 octets; longer ones go on after a line break and a
 * space. Letters are never torn apart.
 */
function fold(line: string): string {
  const out: string[] = []
  let part = ''
  let octets = 0
  for (const letter of line) {
    const size = new TextEncoder().encode(letter).length
    if (octets + size > (out.length ? 74 : 75)) {
      out.push(part)
      part = ''
      octets = 0
    }
    part += letter
    octets += size
  }
  out.push(part)
  return out.join('\r\n ')
}

const begun = (name: string): string[] => [
  'BEGIN:VCALENDAR',
  'VERSION:2.0',
  'PRODID:-//Fernwick//Work//EN',
  'CALSCALE:GREGORIAN',
  'METHOD:PUBLISH',
  `X-WR-CALNAME:${text(name)}`,
]
const ended = (lines: readonly string[]): string =>
  `${[...lines, 'END:VCALENDAR'].map(fold).join('\r\n')}\r\n`

/** A calendar as an iCalendar file (RFC 5545), with CRLF line ends. */
export function icalendar(name: string, entries: readonly CalendarEntry[]): string {
  const lines = begun(name)
  for (const entry of entries) {
    lines.push(
      'BEGIN:VEVENT',
      `UID:${entry.uid}`,
      `DTSTAMP:${utc(entry.stamp)}`,
      `SUMMARY:${text(entry.summary)}`,
    )
    if ('at' in entry.when)
      lines.push(`DTSTART:${utc(entry.when.at)}`, `DURATION:PT${Math.max(1, entry.when.minutes)}M`)
    // The end of an all-day event is the day after its last: RFC 5545, 3.6.1.
    else
      lines.push(
        `DTSTART;VALUE=DATE:${day(entry.when.first)}`,
        `DTEND;VALUE=DATE:${day(next(entry.when.last))}`,
      )
    if (entry.description) lines.push(`DESCRIPTION:${text(entry.description)}`)
    if (entry.categories.length) lines.push(`CATEGORIES:${entry.categories.map(text).join(',')}`)
    lines.push('TRANSP:TRANSPARENT', 'END:VEVENT')
  }
  return ended(lines)
}

/** An event that comes again: by a rule, or on dates that are named; local times in its zone. */
export interface RecurringEntry {
  readonly uid: string
  readonly summary: string
  readonly description: string
  readonly start: LocalStamp
  readonly zone: string
  readonly rule: string | null
  readonly exclude: readonly LocalStamp[]
  readonly include: readonly LocalStamp[]
  /** Where single dates were put; null, they were left out. */
  readonly byHand: readonly { readonly scheduled: LocalStamp; readonly date: LocalStamp | null }[]
  readonly stamp: number
}
/** A local time as a property writes it (RFC 5545, 3.3.5, form 3): a date alone, or one in a zone. */
function local(name: string, stamps: readonly LocalStamp[], zone: string): string {
  const timed = stamps.some((each) => each.length > 10)
  const written = stamps.map((each) => {
    const [date = '', time = '00:00'] = each.split('T')
    return timed ? `${day(date)}T${`${time.replaceAll(':', '')}00`.slice(0, 6)}` : day(date)
  })
  return `${name}${timed ? `;TZID=${zone}` : ';VALUE=DATE'}:${written.join(',')}`
}
const offset = (seconds: number): string => {
  const minutes = Math.round(Math.abs(seconds) / 60)
  const part = (n: number) => String(n).padStart(2, '0')
  return `${seconds < 0 ? '-' : '+'}${part(Math.floor(minutes / 60))}${part(minutes % 60)}`
}
/** A zone with its changes of some years, each an observance of its own (RFC 5545, 3.6.5). */
function zoneLines(zone: string, years: readonly [number, number]): string[] {
  const { local: show } = zoneOf(zone)
  const offsetAt = (at: number) => show(at) - at
  const [from, to] = years.map((year) => Date.UTC(year, 0, 1) / 1_000) as [number, number]
  const HOUR = 3_600
  const observed = (at: number, before: number) => [
    'BEGIN:STANDARD',
    `DTSTART:${utc((at + before) * 1_000).slice(0, -1)}`,
    `TZOFFSETFROM:${offset(before)}`,
    `TZOFFSETTO:${offset(offsetAt(at))}`,
    'END:STANDARD',
  ]
  const lines = ['BEGIN:VTIMEZONE', `TZID:${zone}`, ...observed(from, offsetAt(from))]
  for (let at = from + HOUR; at < to; at += HOUR) {
    const before = offsetAt(at - HOUR)
    if (offsetAt(at) !== before) lines.push(...observed(at, before))
  }
  return [...lines, 'END:VTIMEZONE']
}

/** Events that come again as an iCalendar file (RFC 5545), their zones from one year to another. */
export function recurring(
  name: string,
  entries: readonly RecurringEntry[],
  years: readonly [number, number],
): string {
  const lines = begun(name)
  const timed = entries.filter(({ start }) => start.length > 10)
  for (const zone of new Set(timed.map((entry) => entry.zone)))
    lines.push(...zoneLines(zone, years))
  for (const entry of entries) {
    const { uid, start, zone, rule, exclude, include } = entry
    const head = (at: LocalStamp, more: readonly string[]) => [
      'BEGIN:VEVENT',
      `UID:${uid}`,
      `DTSTAMP:${utc(entry.stamp)}`,
      `SUMMARY:${text(entry.summary)}`,
      local('DTSTART', [at], zone),
      ...(entry.description ? [`DESCRIPTION:${text(entry.description)}`] : []),
      ...more,
      'TRANSP:TRANSPARENT',
      'END:VEVENT',
    ]
    const out = [...exclude, ...entry.byHand.flatMap((one) => (one.date ? [] : [one.scheduled]))]
    lines.push(
      ...head(start, [
        ...(rule === null ? [] : [`RRULE:${rule}`]),
        ...(out.length ? [local('EXDATE', out, zone)] : []),
        ...(include.length ? [local('RDATE', include, zone)] : []),
      ]),
    )
    for (const { scheduled, date } of entry.byHand)
      if (date) lines.push(...head(date, [local('RECURRENCE-ID', [scheduled], zone)]))
  }
  return ended(lines)
}
