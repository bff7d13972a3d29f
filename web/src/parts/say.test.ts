import { expect, it } from 'vitest'
import { initials, sayState } from './say.ts'

it('takes two initials', () =>
  expect(['Imogen Achterberg', 'Pell & Dray', 'Corrie'].map(initials)).toEqual(['IA', 'PD', 'C']))
it('names states', () =>
  expect([sayState('in-review'), sayState('dropped')]).toEqual(['In review', 'Dropped']))
