import { expect, it } from 'vitest'
import { spotAfter, type Laid, type Spot } from './calendar-keys.ts'
import { layWeek } from './lanes.ts'

const task = (id: number, start: string, due: string) => ({ id, start, due })
/** November 2026 from Monday the 23rd, two weeks of it. */
function sheet(most = 3): Laid<ReturnType<typeof task>> {
  const tasks = [
    task(1, '2026-11-23', '2026-11-25'),
    task(2, '2026-11-23', '2026-11-23'),
    task(3, '2026-11-26', '2026-11-26'),
    task(4, '2026-11-29', '2026-12-01'),
  ]
  const weeks = ['2026-11-23', '2026-11-30'].map((first) => ({
    first,
    ...layWeek(tasks, first, 7, most),
  }))
  return { sheet: 'month', weeks, width: 7 }
}
const walk = (from: Spot, keys: readonly string[], laid = sheet()) =>
  keys.reduce<Spot | null>((at, key) => at && spotAfter(laid, at, key), from)
const day = (date: string): Spot => ({ day: `2026-${date}`, on: null })

it('goes from day to day, over the end of a week, and off the sheet', () => {
  expect(walk(day('11-27'), ['ArrowRight', 'ArrowRight', 'ArrowRight'])).toEqual(day('11-30'))
  expect(walk(day('11-30'), ['ArrowLeft'])).toEqual(day('11-29'))
  expect(walk(day('11-23'), ['ArrowLeft'])).toEqual(day('11-22'))
  expect(walk(day('11-25'), ['Home'])).toEqual(day('11-23'))
  expect(walk(day('11-25'), ['End'])).toEqual(day('11-29'))
  expect(walk(day('11-25'), ['PageDown'])).toEqual(day('12-01'))
})
it('goes down to what lies on a day, then to the week below, and the same way up', () => {
  const down = (n: number) => walk(day('11-23'), Array<string>(n).fill('ArrowDown'))
  expect(down(1)).toEqual({ day: '2026-11-23', on: 1 })
  expect(down(2)).toEqual({ day: '2026-11-23', on: 2 })
  expect(down(3)).toEqual(day('11-30'))
  expect(walk(day('11-30'), ['ArrowUp'])).toEqual({ day: '2026-11-23', on: 2 })
  expect(walk(day('11-23'), ['ArrowUp'])).toBe(null)
  expect(walk(day('11-30'), ['ArrowDown', 'ArrowDown'])).toBe(null)
})
it('goes aside past a task that goes on, to what lies in its lane or above it', () => {
  expect(walk({ day: '2026-11-24', on: 1 }, ['ArrowRight'])).toEqual({ day: '2026-11-26', on: 3 })
  expect(walk({ day: '2026-11-23', on: 2 }, ['ArrowRight'])).toEqual({ day: '2026-11-24', on: 1 })
  expect(walk({ day: '2026-11-26', on: 3 }, ['ArrowRight'])).toEqual(day('11-27'))
  // What goes on into the next week is left behind there too.
  expect(walk({ day: '2026-11-30', on: 4 }, ['ArrowRight'])).toEqual(day('12-02'))
})
it('comes to what says how many more there are', () => {
  const laid = sheet(1)
  expect(walk(day('11-23'), ['ArrowDown', 'ArrowDown'], laid)).toEqual({
    day: '2026-11-23',
    on: 'more',
  })
  expect(walk(day('11-30'), ['ArrowUp'], laid)).toEqual({ day: '2026-11-23', on: 'more' })
})
it('a key that leads nowhere leads nowhere', () => {
  expect(spotAfter(sheet(), day('11-23'), 'q')).toBe(null)
})
