/** Days of the week, Monday first, and months, as English says them. */
export const DAY_NAMES = 'Monday Tuesday Wednesday Thursday Friday Saturday Sunday'.split(' ')
export const MONTH_NAMES = (
  'January February March April May June July ' + 'August September October November December'
).split(' ')
/** "Mon", "Jan". */
export const short = (name: string): string => name.slice(0, 3)
