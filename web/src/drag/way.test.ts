import { expect, it } from 'vitest'
import { nextPlace, stepWithin, type Place } from './way.ts'

const box = (left: number, top: number, width: number, height: number) => ({
  ...{ left, top, right: left + width, bottom: top + height },
})
/** Two days of a strip above, and under them a list of rows beside a column of slips. */
const first: Place = { box: box(0, 0, 100, 80), grain: {} }
const second: Place = { box: box(100, 0, 100, 80), grain: {} }
const list: Place = { box: box(0, 100, 150, 400), grain: { y: 40 } }
const column: Place = { box: box(150, 100, 150, 400), grain: { y: 40 } }
const all = [first, second, list, column]

it('arrows go from row to row, and not out of their list by that', () => {
  expect(stepWithin(list, { x: 75, y: 300 }, 'down')).toEqual({ x: 75, y: 340 })
  expect(stepWithin(list, { x: 75, y: 490 }, 'down')).toBe(null)
  expect(stepWithin(list, { x: 75, y: 300 }, 'left')).toBe(null)
  expect(stepWithin(first, { x: 50, y: 40 }, 'down')).toBe(null)
})
it('from one place to the next that way: straight ahead where it lies so, else at its middle', () => {
  expect(nextPlace(all, { x: 75, y: 300 }, 'right')).toEqual({ x: 225, y: 300 })
  expect(nextPlace(all, { x: 225, y: 300 }, 'left')).toEqual({ x: 75, y: 300 })
  expect(nextPlace(all, { x: 75, y: 120 }, 'up')).toEqual({ x: 75, y: 40 })
  expect(nextPlace(all, { x: 225, y: 120 }, 'up')).toEqual({ x: 150, y: 40 })
  expect(nextPlace(all, { x: 50, y: 40 }, 'right')).toEqual({ x: 150, y: 40 })
})
it('into a list one comes at a row of it, and nowhere where there is nothing that way', () => {
  expect(nextPlace(all, { x: 50, y: 40 }, 'down')).toEqual({ x: 50, y: 120 })
  expect(nextPlace(all, { x: 50, y: 40 }, 'up')).toBe(null)
  expect(nextPlace(all, { x: 50, y: 40 }, 'left')).toBe(null)
  // The first day lies above, hardly to the left.
  expect(nextPlace(all, { x: 75, y: 300 }, 'left')).toBe(null)
  expect(nextPlace([], { x: 50, y: 40 }, 'down')).toBe(null)
})
