import { daysBetween } from './span.ts'

export interface Lying {
  readonly start: string
  readonly due: string
}
export interface Bar<T extends Lying> {
  readonly item: T
  /** Column it begins in, columns it covers, and the lane it lies in, all from 0. */
  readonly from: number
  readonly span: number
  readonly lane: number
  /** It goes on before the first or after the last day shown. */
  readonly before: boolean
  readonly after: boolean
}

/**
 * Lays things across a row of days, none over another: long ones first, then as they come. Beyond
 * `most` lanes they are only counted, day by day.
 */
export function layWeek<T extends Lying>(
  items: readonly T[],
  first: string,
  width: number,
  most: number,
): { bars: Bar<T>[]; more: number[]; rows: number } {
  const here = items
    .map((item) => ({ item, a: daysBetween(first, item.start), b: daysBetween(first, item.due) }))
    .filter(({ a, b }) => b >= 0 && a < width)
    .map((x, i) => ({ ...x, i, from: Math.max(0, x.a), to: Math.min(width - 1, x.b) }))
    .sort((x, y) => x.from - y.from || y.to - y.from - (x.to - x.from) || x.i - y.i)
  const ends: number[] = []
  const more = Array.from({ length: width }, () => 0)
  const bars: Bar<T>[] = []
  for (const { item, a, b, from, to } of here) {
    let lane = ends.findIndex((end) => end < from)
    if (lane < 0) lane = ends.length
    if (lane >= most) {
      for (let day = from; day <= to; day++) more[day]!++
      continue
    }
    ends[lane] = to
    bars.push({ item, from, span: to - from + 1, lane, before: a < 0, after: b >= width })
  }
  return { bars, more, rows: ends.length }
}
