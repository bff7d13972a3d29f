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

/** A calendar as an iCalendar file (RFC 5545), with CRLF line ends. */
export function icalendar(name: string, entries: readonly CalendarEntry[]): string {
  const lines = [
    'BEGIN:VCALENDAR',
    'VERSION:2.0',
    'PRODID:-//Fernwick//Work//EN',
    'CALSCALE:GREGORIAN',
    'METHOD:PUBLISH',
    `X-WR-CALNAME:${text(name)}`,
  ]
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
  lines.push('END:VCALENDAR')
  return `${lines.map(fold).join('\r\n')}\r\n`
}
