import { plural } from '#core/text/speak.ts'
import { action } from './action.ts'
import { DAY_UNITS, type DayUnits } from './units.ts'

/** A date other than its due, counted from the day it runs; the due date has an action of its own. */
export const setDate = action<
  'set-date',
  { readonly field: string; readonly days: number; readonly unit: DayUnits }
>({
  kind: 'set-date',
  name: 'Set a date',
  args: {
    field: { type: 'field', label: 'Which date', of: 'dates' },
    days: { type: 'number', label: 'How many days on', least: 0, most: 365 },
    unit: { type: 'choice', label: 'Which days', choices: DAY_UNITS },
  },
  blank: { field: 'start', days: 0, unit: 'working' },
  changes: ({ field }) => [{ place: `task.changed:${field}` }],
  words: ({ field, days, unit }, say) =>
    `set its ${say.field(field)} to ${
      days === 0 ? 'that day' : `${plural(days, unit === 'working' ? 'working day' : 'day')} on`
    }`,
})
