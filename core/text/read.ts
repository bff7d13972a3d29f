import type { Minutes } from '../brands.ts'

/** What people type for numbers and lengths of time, read; null where it is none. */

/**
 * A number: "1250.5", "1,250.50", "1 250,5". A comma or point before exactly three last digits
 * parts thousands only where digits are grouped all along; a lone comma before any other count of
 * digits is a decimal comma.
 */
export function readNumber(text: string): number | null {
  const t = text
    .trim()
    .replace(/[\s\u00a0\u202f'’]/g, '')
    .replace(/^\u2212/, '-')
  if (/^[-+]?\d+(\.\d+)?$/.test(t) || /^[-+]?\.\d+$/.test(t)) return Number(t)
  if (/^[-+]?\d{1,3}(,\d{3})+(\.\d+)?$/.test(t)) return Number(t.replaceAll(',', ''))
  if (/^[-+]?\d{1,3}(\.\d{3})+,\d+$/.test(t)) return Number(t.replaceAll('.', '').replace(',', '.'))
  return /^[-+]?\d+,\d+$/.test(t) ? Number(t.replace(',', '.')) : null
}

/**
 * A length of time in minutes: "30m", "1h 30m", "1.5h", "1:30", "90 min", "2 hours"; a bare number
 * only where `bare` says so.
 */
export function readMinutes(text: string, bare = false): Minutes | null {
  const t = text.trim().toLowerCase()
  if (bare && /^\d{1,5}$/.test(t)) return Number(t) as Minutes
  const clock = /^(\d{1,3}):([0-5]\d)$/.exec(t)
  if (clock) return bare ? ((Number(clock[1]) * 60 + Number(clock[2])) as Minutes) : null
  const found =
    /^(?:(\d{1,3}(?:\.\d{1,2})?) ?(?:h|hr|hrs|hour|hours))? ?(?:(\d{1,4}) ?(?:m|min|mins|minute|minutes))?$/.exec(
      t,
    )
  if (!found || (!found[1] && !found[2])) return null
  return Math.round(Number(found[1] ?? 0) * 60 + Number(found[2] ?? 0)) as Minutes
}
