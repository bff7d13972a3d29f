import { plural } from '#core/text/speak.ts'
import { action } from './action.ts'
import { DAY_UNITS, type DayUnits } from './units.ts'

const FROM = [
  { value: 'today', name: 'after today' },
  { value: 'due', name: 'after its due date' },
] as const
/** Days are counted after today, or after the due date; a task without one stays as it is then. */
export const moveDue = action<
  'move-due',
  {
    readonly days: number
    readonly unit: DayUnits
    readonly from: (typeof FROM)[number]['value']
  }
>({
  kind: 'move-due',
  name: 'Move its due date',
  args: {
    days: { type: 'number', label: 'How many days', least: 0, most: 365 },
    unit: { type: 'choice', label: 'Which days', choices: DAY_UNITS },
    from: { type: 'choice', label: 'Counted from', choices: FROM },
  },
  blank: { days: 1, unit: 'working', from: 'today' },
  changes: () => [{ place: 'task.changed:due' }],
  words: ({ days, unit, from }) =>
    `make it due ${plural(days, unit === 'working' ? 'working day' : 'day')} after ${
      from === 'today' ? 'that day' : 'its due date'
    }`,
})
