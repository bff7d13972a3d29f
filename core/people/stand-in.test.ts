import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { PersonId } from '../brands.ts'
import { actingFor, ringThrough, type Present } from './stand-in.ts'

const id = (n: number) => n as PersonId
const chain = (pairs: Record<number, number>) => (of: PersonId) => id(pairs[of] ?? 0) || null

describe('a ring of managers or stand-ins', () => {
  it('is named, whoever closes it', () => {
    expect(ringThrough(id(1), id(1), chain({}))).toEqual([1, 1])
    expect(ringThrough(id(1), id(2), chain({ 2: 3, 3: 1 }))).toEqual([1, 2, 3, 1])
    expect(ringThrough(id(1), id(2), chain({ 2: 3 }))).toBeNull()
  })
  it('never is where every link was asked about before it was made', () => {
    const links = fc.array(fc.tuple(fc.integer({ min: 1, max: 8 }), fc.integer({ min: 1, max: 8 })))
    fc.assert(
      fc.property(links, (wanted) => {
        const made: Record<number, number> = {}
        for (const [from, to] of wanted)
          if (!ringThrough(id(from), id(to), chain(made))) made[from] = to
        for (const start of Object.keys(made).map(Number)) {
          let steps = 0
          for (let at = made[start]; at !== undefined && steps < 20; at = made[at]) steps++
          expect(steps).toBeLessThan(8)
        }
      }),
    )
  })
})

describe('who acts for somebody', () => {
  const people: Record<number, Present> = {
    1: { active: true, away: true, standInId: id(2) },
    2: { active: true, away: true, standInId: id(3) },
    3: { active: true, away: false, standInId: null },
    4: { active: true, away: true, standInId: null },
    5: { active: true, away: true, standInId: id(6) },
    6: { active: false, away: false, standInId: null },
    7: { active: true, away: true, standInId: id(8) },
    8: { active: true, away: true, standInId: id(7) },
  }
  it.each([
    [1, 3, 'the stand-in of an absent stand-in'],
    [2, 3, 'a stand-in'],
    [3, 3, 'who is there, themselves'],
    [4, 4, 'nobody named: themselves'],
    [5, 5, 'a stand-in who left: themselves'],
    [7, 7, 'two away who name each other: themselves'],
  ])('for %i it is %i: %s', (of, acts) =>
    expect(actingFor(id(of), (one) => people[one])).toBe(acts),
  )
})
