import { plural } from '#core/text/speak.ts'
import { action } from './action.ts'

const UNITS = [
  { value: 'hours', name: 'hours' },
  { value: 'working', name: 'working days' },
  { value: 'calendar', name: 'calendar days' },
] as const
export type WaitUnit = (typeof UNITS)[number]['value']
/** What comes after it comes so much later: days end at 09:00 of the last of them. */
export const wait = action<'wait', { readonly amount: number; readonly unit: WaitUnit }>({
  kind: 'wait',
  name: 'Wait',
  needs: 'any',
  args: {
    amount: { type: 'number', label: 'How long', least: 1, most: 365 },
    unit: { type: 'choice', label: 'Counted in', choices: UNITS },
  },
  blank: { amount: 1, unit: 'working' },
  words: ({ amount, unit }) =>
    `wait ${plural(amount, unit === 'hours' ? 'hour' : unit === 'working' ? 'working day' : 'day')}`,
})
