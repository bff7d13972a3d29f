import type { Schedule } from '#core/recurrence/schedule.ts'

/** Which phrase of a sentence says a rule, and what each begins with. */

type Rule = Schedule['rule']
export type Phrase = 'workday' | 'daily' | 'weekly' | 'monthly' | 'nth' | 'yearly' | 'rule'

/** The parts of an RFC 5545 rule by their names. */
export const partsOf = (rule: Rule): ReadonlyMap<string, string> =>
  new Map(
    typeof rule === 'string'
      ? rule.split(';').map((part) => part.split('=') as [string, string])
      : [],
  )

const one = (value: string | undefined) => value !== undefined && /^-?\d+$/.test(value)
/** By the frequency and the parts that are there besides how often and until when. */
const SAID: Readonly<Record<string, (parts: ReadonlyMap<string, string>) => Phrase | null>> = {
  'DAILY ': () => 'daily',
  'WEEKLY BYDAY': (parts) => (/\d/.test(parts.get('BYDAY') ?? '') ? null : 'weekly'),
  'MONTHLY BYMONTHDAY': (parts) => (one(parts.get('BYMONTHDAY')) ? 'monthly' : null),
  'MONTHLY BYDAY': (parts) => (/^-?\d[A-Z]{2}$/.test(parts.get('BYDAY') ?? '') ? 'nth' : null),
  'YEARLY BYMONTH,BYMONTHDAY': (parts) =>
    one(parts.get('BYMONTH')) && one(parts.get('BYMONTHDAY')) ? 'yearly' : null,
}
/** The phrase that says a rule wholly; the rule as it is written, where none does. */
export function phraseOf(rule: Rule): Phrase {
  if (typeof rule !== 'string') return 'workday'
  const parts = partsOf(rule)
  const besides = [...parts.keys()]
    .filter((name) => !['FREQ', 'INTERVAL', 'UNTIL', 'COUNT'].includes(name))
    .sort()
  return SAID[`${parts.get('FREQ')} ${besides.join()}`]?.(parts) ?? 'rule'
}

/** A rule with some of its parts changed. */
export function withParts(rule: Rule, changes: Readonly<Record<string, string>>): string {
  const next = new Map([...partsOf(rule), ...Object.entries(changes)])
  if (next.get('INTERVAL') === '1') next.delete('INTERVAL')
  return [...next].map(([name, value]) => `${name}=${value}`).join(';')
}

/** What a phrase begins with. */
export const FIRST: Readonly<Record<Phrase, (rule: Rule) => Rule>> = {
  workday: () => ({ workday: 5, of: 'month' }),
  daily: () => 'FREQ=DAILY',
  weekly: () => 'FREQ=WEEKLY;BYDAY=MO',
  monthly: () => 'FREQ=MONTHLY;BYMONTHDAY=1',
  nth: () => 'FREQ=MONTHLY;BYDAY=1MO',
  yearly: () => 'FREQ=YEARLY;BYMONTH=4;BYMONTHDAY=5',
  rule: (rule) =>
    typeof rule === 'string' ? rule : 'FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=5',
}
