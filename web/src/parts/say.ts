import { sayMoment } from '#core/fields/say.ts'
import { plural } from '#core/text/speak.ts'
import type { Undone } from '#contract/journal.ts'
import { STATE_NAMES, type State } from '#contract/words.ts'

export { plural, sayDate, sayLongDate, sayMinutes, sayMonth } from '#core/text/speak.ts'

/** A time of day by 24 hours, “15:00”, or by 12, “3:00 pm”. */
export function sayTime(time: string, clock: 12 | 24): string {
  if (clock === 24) return time
  const hour = Number(time.slice(0, 2))
  return `${hour % 12 || 12}${time.slice(2)} ${hour < 12 ? 'am' : 'pm'}`
}

export const sayState = (state: string): string => STATE_NAMES[state as State] ?? state

/** An instant as people say it: "10:42" today, "yesterday, 10:42", "Wed 18 Nov, 10:42". */
export function sayInstant(at: number, today: string, zone: string): string {
  return sayMoment(at, { today, zone })
}

/** What taking a change back did, and what of it stays, in a sentence or two. */
export const sayUndone = ({ count, left }: Undone): string =>
  [`Taken back: ${plural(count, 'thing')} as before.`, ...left].join(' ')

export const initials = (name: string): string =>
  name
    .split(/[\s&]+/)
    .filter(Boolean)
    .map((w) => w[0])
    .slice(0, 2)
    .join('')
    .toUpperCase()
