import { describe, expect, it } from 'vitest'
import { FIRST, phraseOf, withParts, type Phrase } from './rule-phrase.ts'

describe('the phrase that says a rule', () => {
  it.each([
    ['FREQ=DAILY;INTERVAL=3;COUNT=4', 'daily'],
    ['FREQ=WEEKLY;BYDAY=MO,FR;INTERVAL=2', 'weekly'],
    ['FREQ=WEEKLY', 'rule'],
    ['FREQ=MONTHLY;BYMONTHDAY=-1;UNTIL=20271231', 'monthly'],
    ['FREQ=MONTHLY;BYMONTHDAY=1,15', 'rule'],
    ['FREQ=MONTHLY;BYDAY=-1FR', 'nth'],
    ['FREQ=MONTHLY;BYDAY=MO;BYSETPOS=1', 'rule'],
    ['FREQ=YEARLY;BYMONTH=4;BYMONTHDAY=5', 'yearly'],
    ['FREQ=YEARLY;BYMONTH=4,5;BYMONTHDAY=5', 'rule'],
    ['nonsense', 'rule'],
  ])('%s is said as %s', (rule, phrase) => expect(phraseOf(rule)).toBe(phrase))
  it('each begins as itself', () => {
    for (const phrase of Object.keys(FIRST) as Phrase[])
      expect(phraseOf(FIRST[phrase]({ workday: 1, of: 'week' }))).toBe(phrase)
  })
  it('an interval of one is left out', () => {
    expect(withParts('FREQ=DAILY;INTERVAL=3', { INTERVAL: '1' })).toBe('FREQ=DAILY')
  })
})
