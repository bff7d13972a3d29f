import { plural } from '#core/text/speak.ts'
import { DAY_UNITS, type DayUnits } from '../actions/units.ts'
import { trigger } from './trigger.ts'

const SIDES = [
  { value: 'before', name: 'before' },
  { value: 'after', name: 'after' },
] as const
/** It comes once for each date; one that is set when its moment is past brings nothing. */
export const dated = trigger<
  'dated',
  {
    readonly days: number
    readonly unit: DayUnits
    readonly side: (typeof SIDES)[number]['value']
    readonly field: string
    readonly time: string
  }
>({
  kind: 'dated',
  name: 'it is so long before or after a date of a task',
  args: {
    days: { type: 'number', label: 'How many days', least: 0, most: 365 },
    unit: { type: 'choice', label: 'Which days', choices: DAY_UNITS },
    side: { type: 'choice', label: 'Before or after', choices: SIDES },
    field: { type: 'field', label: 'Which date', of: 'dated' },
    time: { type: 'time', label: 'At' },
  },
  blank: { days: 2, unit: 'working', side: 'before', field: 'due', time: '09:00' },
  words({ days, unit, side, field, time }, say) {
    const date = `the ${say.field(field).replace(/ date$/, '')} date of a task, at ${time}`
    if (days === 0) return `it is the day of ${date}`
    return `it is ${plural(days, unit === 'working' ? 'working day' : 'day')} ${side} ${date}`
  },
})
