import { plural } from '#core/text/speak.ts'
import type { Undone } from '#contract/journal.ts'
import { STATE_NAMES, type State } from '#contract/words.ts'

export {
  plural,
  awayWord,
  sayDate,
  sayDateAt,
  sayLongDate,
  sayMinutes,
  sayMonth,
  sayTime,
} from '#core/text/speak.ts'

export const sayState = (state: string): string => STATE_NAMES[state as State] ?? state

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
