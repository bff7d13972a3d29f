import type { Group } from '#core/conditions/condition.ts'
import { action, type Who } from './action.ts'
import { DAY_UNITS, type DayUnits } from './units.ts'

/** It ends when the task is closed, or what is asked of it holds. */
export const keepReminding = action<
  'keep-reminding',
  {
    readonly who: Who
    readonly time: string
    readonly unit: DayUnits
    readonly until: Group
    readonly text: string
  }
>({
  kind: 'keep-reminding',
  name: 'Remind daily until',
  args: {
    until: { type: 'conditions', label: 'Until' },
    who: { type: 'who', label: 'Who' },
    time: { type: 'time', label: 'At' },
    unit: { type: 'choice', label: 'On which days', choices: DAY_UNITS },
    text: { type: 'text', label: 'What to say', most: 500 },
  },
  blank: {
    who: { is: 'assignees' },
    ...{ time: '09:00', unit: 'working' },
    until: { match: 'all', of: [] },
    text: '{task} for {client} wants doing',
  },
  words: ({ who, time, unit, until }, say) =>
    `remind ${say.who(who)} every ${unit === 'working' ? 'working day' : 'day'} at ${time} until ` +
    (until.of.length ? 'what is asked holds or it is closed' : 'it is closed'),
})
