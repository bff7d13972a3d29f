import type { Schedule } from '../recurrence/schedule.ts'
import { DAY_NAMES, short } from './names.ts'

/** What people type for how often something comes again, read as a schedule's rule. */

const CODES = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU']
const WORKING = 'MO,TU,WE,TH,FR'
/** "fri", "fridays": MO to SU. */
const codeOf = (word: string): string | undefined =>
  CODES[
    DAY_NAMES.findIndex((name) => {
      const day = name.toLowerCase()
      return word === day || word === `${day}s` || word === short(day)
    })
  ]
const COUNTS: ReadonlyMap<string, number> = new Map([
  ...(['first', 'second', 'third', 'fourth'] as const).map((word, i) => [word, i + 1] as const),
  ['last', -1],
])
const countOf = (word: string): number | undefined =>
  COUNTS.get(word) ?? (/^\d{1,2}(?:st|nd|rd|th)$/.test(word) ? parseInt(word, 10) : undefined)

const UNITS = { day: 'DAILY', week: 'WEEKLY', month: 'MONTHLY', year: 'YEARLY' } as const
const ADVERBS: Readonly<Record<string, string>> = {
  daily: 'FREQ=DAILY',
  weekly: 'FREQ=WEEKLY',
  fortnightly: 'FREQ=WEEKLY;INTERVAL=2',
  monthly: 'FREQ=MONTHLY',
  quarterly: 'FREQ=MONTHLY;INTERVAL=3',
  yearly: 'FREQ=YEARLY',
}
type Rule = Schedule['rule']
const spaced = (rule: string, interval: number): string =>
  interval > 1 ? `${rule};INTERVAL=${interval}` : rule

/** "day", "2 weeks", "3 months": how often, by the calendar. */
function byUnit(t: string): string | null {
  if (/^(?:working ?day|weekday|work ?day)$/.test(t)) return `FREQ=WEEKLY;BYDAY=${WORKING}`
  if (t === 'quarter') return 'FREQ=MONTHLY;INTERVAL=3'
  const found = /^(?:(\d{1,2}|other|second) )?(day|week|month|year)s?$/.exec(t)
  if (!found) return null
  const interval = found[1] === undefined ? 1 : Number(found[1]) || 2
  return spaced(`FREQ=${UNITS[found[2] as keyof typeof UNITS]}`, interval)
}

/** "friday", "mon and thu", "other friday": days of the week. */
function onWeekdays(t: string): string | null {
  const [, other, names] = /^(other |second )?(.+)$/.exec(t) ?? []
  const days = names?.split(/ and | ?& ?|, ?| /).map((word) => codeOf(word)) ?? []
  if (!days.length || days.some((day) => day === undefined)) return null
  const listed = CODES.filter((code) => days.includes(code)).join(',')
  return spaced(`FREQ=WEEKLY;BYDAY=${listed}`, other ? 2 : 1)
}

type Period = Exclude<Rule, string>['of']
const IN_MONTH = new RegExp(
  [
    String.raw`^(?:the )?(?<count>\S+)`,
    String.raw`(?: (?<what>(?:working|work|business) day|\w+?))??`,
    String.raw`(?: (?:of|in) (?:the|each|every) (?<of>week|month|quarter|year))?$`,
  ].join(''),
)

/** "15th", "last day", "first friday", "last working day", each "of the month". */
function inMonth(t: string): Rule | null {
  const said = IN_MONTH.exec(t)?.groups
  const count = said && countOf(said['count']!)
  if (count === undefined) return null
  const { what = '', of = 'month' } = said as { what?: string; of?: Period }
  if (what.includes(' ')) return count <= 22 ? { workday: count, of } : null
  return of === 'month' ? monthly(count, what) : null
}
/** A day of every month: by its number, or as the first or last of a weekday. */
function monthly(count: number, what: string): string | null {
  const day = codeOf(what)
  if (day) return Math.abs(count) <= 5 ? `FREQ=MONTHLY;BYDAY=${count}${day}` : null
  const dated = what === 'day' || (what === '' && count > 0)
  return dated && count <= 31 ? `FREQ=MONTHLY;BYMONTHDAY=${count}` : null
}

/**
 * How often, as people say it, and how many times, if that is said ("every friday, 6 times"):
 * "every friday", "every mon and thu", "every other week", "every 15th",
 * "every last working day of the month", "monthly"; as a rule of RFC 5545 or a working day counted
 * within a period. Null where it says no such thing.
 */
export function readEvery(text: string): Rule | null {
  const whole = text.trim().toLowerCase().replace(/\s+/g, ' ')
  const [, often = whole, times] = /^(.+?),? (?:for )?(\d{1,4}) times$/.exec(whole) ?? []
  const rule = readOften(often)
  if (times === undefined || rule === null) return rule
  // A working day counted within a period has no end of its own yet.
  return typeof rule === 'string' && Number(times) > 0 ? `${rule};COUNT=${Number(times)}` : null
}
function readOften(t: string): Rule | null {
  if (ADVERBS[t]) return ADVERBS[t]
  const said = /^(?:every|each) (.+)$/.exec(t)?.[1]
  return said === undefined ? null : (byUnit(said) ?? inMonth(said) ?? onWeekdays(said))
}
