import type { IsoDate } from '#core/brands.ts'
import { isoWeek } from '#core/calendar/dates.ts'
import { mondayOf } from '#core/query/due-groups.ts'
import type { ViewDefinition } from '#contract/query.ts'
import { sayDate, sayMonth } from '#web/parts/say.ts'
import { daysBetween, plusDays } from './span.ts'

/** The scale of a timeline: how wide its days are, which it shows, and what stands above them. */

type Step = ViewDefinition['step']
type Named = Exclude<Step, 'fit'>
/** Pixels a day is wide, and days before and after the middle, for each step. */
const SCALES = {
  day: { px: 40, back: 14, on: 50 },
  week: { px: 18, back: 35, on: 110 },
  month: { px: 7, back: 100, on: 300 },
  quarter: { px: 2.6, back: 280, on: 800 },
} as const satisfies Record<Named, { px: number; back: number; on: number }>

export interface Days {
  readonly first: string
  readonly last: string
}
/** Which days a timeline shows, how many pixels each is wide, and what names stand above them. */
export interface Scale extends Days {
  readonly px: number
  readonly names: Named
}
/** All the days there are: what lies on any of them is asked for where a timeline is to fit. */
export const EVERY_DAY: Days = { first: '1970-01-01', last: '2200-12-31' }
/** Days of room before and after what a timeline is fitted to; pixels for who is on the last. */
const ROOM = { days: 3, px: 110 }

/** The names that have room where days are so wide. */
const namesAt = (px: number): Named =>
  px >= 26 ? 'day' : px >= 8 ? 'week' : px >= 4 ? 'month' : 'quarter'

/** The days around a middle, from a Monday on. */
export const around = (middle: string, step: Named): Scale => ({
  first: mondayOf(plusDays(middle, -SCALES[step].back)),
  last: plusDays(middle, SCALES[step].on),
  px: SCALES[step].px,
  names: step,
})
/** Days on from the middle of what a step shows. */
export const reachOf = (step: Named): number => SCALES[step].on

/** All of some days, in so many pixels, as long as days stay between the widest and the narrowest. */
export function fitted(span: Days, width: number): Scale {
  const first = mondayOf(plusDays(span.first, -ROOM.days))
  const last = plusDays(span.last, ROOM.days)
  const least = (width - ROOM.px) / (daysBetween(first, last) + 1)
  const px = Math.max(SCALES.quarter.px, Math.min(SCALES.day.px, least))
  // What is shorter than the room it has is followed by days as they come.
  const fill = Math.floor(width / px) - 1
  return {
    first,
    last: plusDays(first, Math.max(fill, daysBetween(first, last))),
    px,
    names: namesAt(px),
  }
}

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
const NAMINGS: Readonly<Record<Named, { upper: Naming; lower: Naming }>> = {
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
export function headOf({ first, last, px, names }: Scale): { upper: Mark[]; lower: Mark[] } {
  const count = daysBetween(first, last) + 1
  const marks = ({ key, name }: Naming): Mark[] => {
    const out: { at: number; width: number; name: string }[] = []
    let last: string | undefined
    for (let i = 0; i < count; i++) {
      const day = plusDays(first, i)
      if (key(day) !== last) out.push({ at: i * px, width: 0, name: name(day) })
      last = key(day)
      out.at(-1)!.width += px
    }
    return out
  }
  const { upper, lower } = NAMINGS[names]
  return { upper: marks(upper), lower: marks(lower) }
}

/** The ground behind the bars, by weeks that begin on Monday: weekends shaded where they show. */
export function groundOf({ px }: Scale): Record<string, string> {
  if (px < 5) return {}
  const week = `transparent ${5 * px}px, var(--rest) ${5 * px}px`
  return {
    backgroundImage: `linear-gradient(90deg, ${week})`,
    backgroundSize: `${7 * px}px 100%`,
    // Vuetify's reset has everything stand there once.
    backgroundRepeat: 'repeat-x',
  }
}
