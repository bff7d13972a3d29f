import { describe, expect, it } from 'vitest'
import { periodIn } from './round.ts'

describe('the period of a round', () => {
  it.each([
    ['month', '2026-02-10', '2026-02-01', '2026-02-28', 'February 2026'],
    ['quarter', '2026-11-28', '2026-10-01', '2026-12-31', 'Q4 2026'],
    ['week', '2026-11-29', '2026-11-23', '2026-11-29', 'Week 48, 2026'],
    ['year', '2026-11-29', '2026-01-01', '2026-12-31', '2026'],
    ['day', 'nonsense', '2026-11-01', '2026-11-30', 'November 2026'],
    [undefined, undefined, '2026-11-01', '2026-11-30', 'November 2026'],
  ])('of %s at %s', (of, at, first, last, name) =>
    expect(periodIn(of, at, '2026-11-28')).toMatchObject({ first, last, name }),
  )
})
