/** What is chosen from where a reminder is set: which days, from which date, how often. */

export const REMINDER_UNITS = [
  { value: 'working', name: 'working days' },
  { value: 'calendar', name: 'calendar days' },
] as const
export const REMINDER_DATES = [
  { value: 'before due', name: 'before it is due' },
  { value: 'after due', name: 'after it was due' },
  { value: 'before start', name: 'before it starts' },
] as const
export const REMINDER_OFTEN = [
  { value: 0, name: 'once' },
  { value: 1, name: 'every working day until it is done' },
]
