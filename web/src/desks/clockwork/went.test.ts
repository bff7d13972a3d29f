import { expect, it } from 'vitest'
import type { Went } from '#contract/series.ts'
import { sayStood, sayWent } from './went.ts'

const TODAY = '2026-12-01'
const how = (went: Went, lateBy: number, date = '2026-11-27') =>
  sayWent({ went, lateBy, date }, TODAY)

it('says how late a date is, and that of a project to come only work in it is', () => {
  expect(how('on-time', 0)).toBe('on time')
  expect(how('late', 1)).toBe('1 working day late')
  expect(how('overdue', 2)).toBe('overdue by 2 working days')
  expect(how('overdue', 0)).toBe('overdue')
  expect(how('overdue', 2, '2026-12-07')).toBe('work in it is overdue by 2 working days')
  expect(how('overdue', 0, '2026-12-01T15:00')).toBe('work in it is overdue')
})
it('says the day with it', () => {
  const date = { date: '2026-12-07', stand: 'overdue', lateBy: 1 } as never
  expect(sayStood(date, TODAY)).toBe('Mon 7 Dec: work in it is overdue by 1 working day')
  expect(sayStood({ ...(date as object), stand: 'expected' } as never, TODAY)).toMatch(
    /: expected$/,
  )
})
