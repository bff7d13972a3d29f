import { isoDate } from '#core/calendar/dates.ts'
import { describe, expect, it } from 'vitest'
import { history, type Happened } from '../../test/histories.ts'
import { lateAudit } from './audit.ts'
import { beginning, replay } from './past.ts'
import { needRule } from './service.ts'

interface Line {
  readonly key: string
  readonly at: number
  readonly outcome: string
  readonly item: number | null
}
/** What a rule said and did since a moment, but what waited or came again. */
const real = ({ l }: Happened, rule: number, since: number) =>
  l
    .rows<Line>(
      'select key, at, outcome, itemId item from runs where ruleId = ? and at >= ? order by id',
      rule,
      since,
    )
    .filter(({ key }) => !/^(repeat|wait|failed)/.test(key))
/** What becomes true is noticed by a change or by the clock, whichever looks first in a minute. */
const line = ({ key, at, outcome, item }: Line, trigger: string): string =>
  `${new Date(at).toISOString().slice(0, 16)} ${outcome} ${trigger === 'becomes-true' ? item : key}`
const past = ({ l }: Happened, rule: number, since: number) => {
  const { name, ownerId, definition } = needRule(l.engine, rule)
  return l.engine.backIn(since, (history) =>
    replay(history, { name, ownerId, definition, rule }, l.engine.clock.now()),
  )
}

/** Where a rule was on, its trial and its run log; `seed` says which of its rules is looked at. */
function compared(seed: number): { readonly found: string[]; readonly wanted: string[] } {
  const h = history(seed, 14)
  const rule = h.rules[seed % h.rules.length]!
  // From the first deed on, or from a day's beginning in the midst of it.
  const from = seed % 3 ? h.moments[0]! : beginning(isoDate('2026-11-24'), h.l.engine.firm.zone())
  const { kind } = needRule(h.l.engine, rule).definition.trigger
  const lines = (all: readonly Line[]) => all.map((run) => line(run, kind)).sort()
  // Of what is late, nothing is forgotten.
  expect(lateAudit(h.l.engine, h.l.imogen).gaps, `history ${seed}`).toBe(0)
  return { found: lines(past(h, rule, from)), wanted: lines(real(h, rule, from)) }
}

describe('had it run', () => {
  const EACH = 250
  it.each([0, 1, 2, 3])(
    'is what the run log says where a rule was on, item and minute: histories by chance, %i',
    (part) => {
      let said = 0
      for (let seed = part * EACH; seed < (part + 1) * EACH; seed++) {
        const { found, wanted } = compared(seed)
        said += wanted.length
        expect(found, `history ${seed}`).toEqual(wanted)
      }
      // They say something: nearly one line for each, where most rules are woken rarely.
      expect(said).toBeGreaterThan(EACH / 2)
    },
    240_000,
  )
})
