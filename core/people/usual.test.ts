import { expect, it } from 'vitest'
import { usualFor } from './usual.ts'

it('roles are filled by those called so, in whatever letters; others stay open', () => {
  const roles = [
    { key: 'reviewer', name: 'Reviewer' },
    { key: 'books', name: 'Bookkeeper' },
  ]
  const usual = [
    { role: 'REVIEWER', personId: 4 },
    { role: 'Payroll', personId: 5 },
  ]
  expect([...usualFor(roles, usual)]).toEqual([['reviewer', 4]])
})
