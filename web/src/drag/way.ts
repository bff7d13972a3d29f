/** Where arrows lead from one place things can be put down to the next; in pixels of the window. */

export interface Point {
  readonly x: number
  readonly y: number
}
export interface Box {
  readonly left: number
  readonly top: number
  readonly right: number
  readonly bottom: number
}
export type Direction = 'up' | 'down' | 'left' | 'right'

/** Somewhere things can be put down: its box, and how far apart places in it lie, where it has any. */
export interface Place {
  readonly box: Box
  readonly grain: { readonly x?: number; readonly y?: number }
}

const STEP: Readonly<Record<Direction, Point>> = {
  up: { x: 0, y: -1 },
  down: { x: 0, y: 1 },
  left: { x: -1, y: 0 },
  right: { x: 1, y: 0 },
}
export const within = ({ x, y }: Point, { left, top, right, bottom }: Box): boolean =>
  x >= left && x <= right && y >= top && y <= bottom
const clamp = (n: number, from: number, to: number) => Math.max(from, Math.min(to, n))

/** One coordinate of where one comes into a box: straight ahead, else at its middle. */
function into(from: number, [low, high]: readonly [number, number], grain = 0): number {
  if (grain) return clamp(from, low + grain / 2, high - grain / 2)
  return from >= low && from <= high ? from : (low + high) / 2
}
/** Where something is put down in a box that one comes to from a point. */
const entry = ({ box, grain }: Place, from: Point, along: 'x' | 'y'): Point => {
  const middle = { x: (box.left + box.right) / 2, y: (box.top + box.bottom) / 2 }
  const x = into(from.x, [box.left, box.right], grain.x)
  const y = into(from.y, [box.top, box.bottom], grain.y)
  // The way one goes one comes to its middle, or to its nearest row.
  return {
    x: along === 'x' && !grain.x ? middle.x : x,
    y: along === 'y' && !grain.y ? middle.y : y,
  }
}

/** A step within the place one is at; null where it would lead out of it, or it has no such steps. */
export function stepWithin({ box, grain }: Place, from: Point, direction: Direction): Point | null {
  const { x, y } = STEP[direction]
  const by = x ? grain.x : grain.y
  if (!by) return null
  const to = { x: from.x + x * by, y: from.y + y * by }
  return within(to, box) ? to : null
}

/**
 * The nearest other place in a direction, as one comes to it from a point; null where there is none.
 * What lies straight ahead is nearer than what lies aside, and what lies mostly aside is not there.
 */
export function nextPlace(
  places: readonly Place[],
  from: Point,
  direction: Direction,
): Point | null {
  const { x, y } = STEP[direction]
  let best: { to: Point; far: number } | null = null
  for (const place of places) {
    if (within(from, place.box)) continue
    const to = entry(place, from, x ? 'x' : 'y')
    const ahead = (to.x - from.x) * x + (to.y - from.y) * y
    if (ahead <= 1) continue
    const aside = Math.abs((to.x - from.x) * y) + Math.abs((to.y - from.y) * x)
    if (aside > 2 * ahead) continue
    const far = ahead + 3 * aside
    if (!best || far < best.far) best = { to, far }
  }
  return best?.to ?? null
}
