const DAY = 86_400_000

/** Days between two dates. */
export const daysBetween = (from: string, to: string): number =>
  Math.round((Date.parse(to) - Date.parse(from)) / DAY)
export const plusDays = (date: string, days: number): string =>
  new Date(Date.parse(date) + days * DAY).toISOString().slice(0, 10)

/** Something that lies on days, being moved or stretched with the pointer. */
export interface Drag {
  readonly id: number
  readonly part: 'whole' | 'start' | 'end'
  readonly start: string | null
  readonly due: string
}
export interface Moved {
  readonly id: number
  readonly start: string | null
  readonly due: string
}

/** Where a drag by some days leads: the whole moves, or one edge, which never crosses the other. */
export function dragged(drag: Drag, days: number): Moved {
  const { id, part } = drag
  if (part === 'whole')
    return { id, start: drag.start && plusDays(drag.start, days), due: plusDays(drag.due, days) }
  const first = drag.start ?? drag.due
  if (part === 'end') {
    const due = plusDays(drag.due, days)
    return {
      id,
      start: drag.start ?? (due > drag.due ? drag.due : null),
      due: due < first ? first : due,
    }
  }
  const start = plusDays(first, days)
  return { id, start: start > drag.due ? drag.due : start, due: drag.due }
}

/**
 * Days on or back by keyboard, or, stretching, its end; null where the end would come before the
 * start.
 */
export function nudged(at: Moved, by: number, stretch: boolean): Moved | null {
  const due = plusDays(at.due, by)
  if (!stretch) return { id: at.id, start: at.start && plusDays(at.start, by), due }
  const start = at.start ?? at.due
  return due < start ? null : { id: at.id, start, due }
}
