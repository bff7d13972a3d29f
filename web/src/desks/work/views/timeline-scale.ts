import type { IsoDate } from '#core/brands.ts'
import { isoWeek } from '#core/calendar/dates.ts'
import { mondayOf } from '#core/query/due-groups.ts'
import type { ViewDefinition } from '#contract/query.ts'
import { sayDate, sayMonth } from '#web/parts/say.ts'
import { daysBetween, plusDays } from './span.ts'

/** The scale of a timeline: how wide its days are, which it shows, and what stands above them. */

type Step = ViewDefinition['step']
/** Pixels a day is wide, and days before and after the middle, for each step. */
export const SCALES = {
  day: { px: 40, back: 14, on: 50 },
  week: { px: 18, back: 35, on: 110 },
  month: { px: 7, back: 100, on: 300 },
  quarter: { px: 2.6, back: 280, on: 800 },
} as const satisfies Record<Step, { px: number; back: number; on: number }>

export interface Days {
  readonly first: string
  readonly last: string
}
/** The days around a middle, from a Monday on. */
export const daysAround = (middle: string, step: Step): Days => ({
  first: mondayOf(plusDays(middle, -SCALES[step].back)),
  last: plusDays(middle, SCALES[step].on),
})

/** A stretch of the head with a name, in pixels. */
export interface Mark {
  readonly at: number
  readonly width: number
  readonly name: string
}
interface Naming {
  /** What days have in common that lie under one name. */
  readonly key: (day: string) => string
  readonly name: (day: string) => string
}
const quarterOf = (day: string) => Math.floor((Number(day.slice(5, 7)) - 1) / 3) + 1
const monthly: Naming = {
  key: (day) => day.slice(0, 7),
  name: (day) => `${sayMonth(day)} ${day.slice(0, 4)}`,
}
const yearly: Naming = { key: (day) => day.slice(0, 4), name: (day) => day.slice(0, 4) }
/** The upper line of the head, and the lower, for each step. */
const NAMINGS: Readonly<Record<Step, { upper: Naming; lower: Naming }>> = {
  day: {
    upper: monthly,
    lower: {
      key: (day) => day,
      name: (day) => `${sayDate(day).slice(0, 1)} ${Number(day.slice(8))}`,
    },
  },
  week: {
    upper: monthly,
    lower: {
      key: mondayOf,
      name: (day) => `${Number(mondayOf(day).slice(8))} ${sayMonth(mondayOf(day)).slice(0, 3)}`,
    },
  },
  month: {
    upper: monthly,
    lower: { key: mondayOf, name: (day) => `${isoWeek(day as IsoDate).week}` },
  },
  quarter: {
    upper: yearly,
    lower: {
      key: (day) => `${day.slice(0, 4)}q${quarterOf(day)}`,
      name: (day) => `Quarter ${quarterOf(day)}`,
    },
  },
}

/** What stands above the days: years or months, and below them quarters, weeks or days. */
export function headOf(days: Days, step: Step): { upper: Mark[]; lower: Mark[] } {
  const count = daysBetween(days.first, days.last) + 1
  const { px } = SCALES[step]
  const marks = ({ key, name }: Naming): Mark[] => {
    const out: { at: number; width: number; name: string }[] = []
    let last: string | undefined
    for (let i = 0; i < count; i++) {
      const day = plusDays(days.first, i)
      if (key(day) !== last) out.push({ at: i * px, width: 0, name: name(day) })
      last = key(day)
      out.at(-1)!.width += px
    }
    return out
  }
  const { upper, lower } = NAMINGS[step]
  return { upper: marks(upper), lower: marks(lower) }
}

/** The ground behind the bars, by weeks that begin on Monday: weekends shaded where they show. */
export function groundOf(step: Step): Record<string, string> {
  const { px } = SCALES[step]
  if (px < 7) return {}
  const week = `transparent ${5 * px}px, var(--rest) ${5 * px}px`
  return {
    backgroundImage: `linear-gradient(90deg, ${week})`,
    backgroundSize: `${7 * px}px 100%`,
  }
}
