import { expect, it } from 'vitest'
import type { Went } from '#contract/series.ts'
import { sayStood, sayWent } from './went.ts'

const TODAY = '2026-12-01'
const BOOKS = { id: 1, name: 'Books' }
const how = (
  went: Went,
  lateBy: number,
  date = '2026-11-27',
  project: typeof BOOKS | null = null,
) => sayWent({ went, lateBy, date, project }, TODAY)

it('says how late a date is, and that of a project to come only work in it is', () => {
  expect(how('on-time', 0)).toBe('on time')
  expect(how('late', 1)).toBe('1 working day late')
  expect(how('overdue', 2)).toBe('overdue by 2 working days')
  expect(how('overdue', 0)).toBe('overdue')
  expect(how('overdue', 2, '2026-12-07', BOOKS)).toBe('work in it is overdue by 2 working days')
  expect(how('overdue', 0, '2026-12-01', BOOKS)).toBe('work in it is overdue')
  expect(how('overdue', 1, '2026-11-30', BOOKS)).toBe('overdue by 1 working day')
  // A task that was due at a time of today.
  expect(how('overdue', 0, '2026-12-01T09:00')).toBe('overdue')
})
it('says the day with it', () => {
  const date = { date: '2026-12-07', stand: 'overdue', lateBy: 1, project: BOOKS } as never
  expect(sayStood(date, TODAY)).toBe('Mon 7 Dec: work in it is overdue by 1 working day')
  expect(sayStood({ ...(date as object), stand: 'expected' } as never, TODAY)).toMatch(
    /: expected$/,
  )
})
