/** Days that are counted. */
export const DAY_UNITS = [
  { value: 'working', name: 'working days' },
  { value: 'calendar', name: 'calendar days' },
] as const
export type DayUnits = (typeof DAY_UNITS)[number]['value']
