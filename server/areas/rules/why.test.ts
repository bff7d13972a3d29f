import { describe, expect, it } from 'vitest'
import { toLocal } from '#core/calendar/dates.ts'
import { explain } from '#core/conditions/compile.ts'
import { history, type Happened } from '../../test/histories.ts'
import { taskFields } from '../fields/queries.ts'
import { beginning, ownRuns } from './past.ts'
import { ruleById } from './queries.ts'
import { ruleNow } from './run.ts'
import { sayTests } from './say.ts'
import { factsAbout, offHere, reaches, subjectRests, type Subject } from './subject.ts'
import { stoodIn, whyNot, type Asked } from './why.ts'

/** How a rule and a task stand now, looked at directly. */
function standsNow({ l }: Happened, id: number, about: Subject) {
  const { engine } = l
  const rule = ruleById.get(engine.reader, { id })!
  const facts = factsAbout(engine, about)
  const { definition } = rule
  const asks = explain(definition.conditions, taskFields(engine.reader))
  const verdict = facts && asks.verdict(facts, ruleNow(engine))
  const within = facts !== undefined && reaches(definition, facts)
  return {
    ...{ on: rule.on, since: rule.since, definition },
    stopped: engine.firm.stoppedAt() !== null,
    ...{ there: facts !== undefined, reaches: within },
    off: facts !== undefined && offHere(engine.reader, id, facts),
    rests: subjectRests(engine, about),
    holds: verdict?.holds ?? false,
    tests: verdict ? sayTests(engine, verdict) : [],
  }
}
const today = ({ engine }: Happened['l'], at: number): number =>
  beginning(toLocal(at, engine.firm.zone()).date, engine.firm.zone())
/** What its run log says of a task on that day so far, but what waited or came again. */
const saidNow = ({ l }: Happened, rule: number, { id }: Subject) =>
  ownRuns
    .all(l.engine.reader, { rule, since: today(l, l.clock.now()) })
    .filter((run) => run.item === id && !/^(repeat|wait|failed)/.test(run.key))
    .map(({ outcome, at }) => `${outcome} ${at}`)
    .sort()

interface Case {
  readonly asked: Asked
  readonly stood: ReturnType<typeof standsNow>
  readonly said: readonly string[]
}

describe('why nothing happened', () => {
  const EACH = 125
  it.each([0, 1, 2, 3])(
    'is answered as it was, rebuilt from the journal: histories by chance, %i',
    (part) => {
      const seen = { off: 0, stopped: 0, failing: 0, said: 0, rests: 0 }
      for (let seed = part * EACH; seed < (part + 1) * EACH; seed++) {
        const cases: Case[] = []
        const h = history(5_000 + seed, 12, {
          switching: true,
          watch(at, nth) {
            if (nth !== 2 + (seed % 9)) return
            const rule = at.rules[seed % 4]!
            const about = { kind: 'task', id: at.tasks[seed % 6]! } as const
            const asked = { rule, about, at: at.l.clock.now() }
            cases.push({ asked, stood: standsNow(at, rule, about), said: saidNow(at, rule, about) })
          },
        })
        const { asked, stood, said } = cases[0]!
        const {
          rule,
          facts,
          time: _,
          runs,
          ...rest
        } = h.l.engine.backIn(today(h.l, asked.at), (back) => stoodIn(back, asked))
        const { on, since, definition } = rule!
        const found = { on, since, definition, there: facts !== undefined, ...rest }
        expect(found, `history ${seed}`).toEqual(stood)
        // What was said is told by letting the rule run anew, where it was at work all that day.
        if (stood.on && (stood.since ?? 0) < today(h.l, asked.at))
          expect(runs.map((run) => `${run.outcome} ${run.at}`).sort(), `said ${seed}`).toEqual(said)
        const why = whyNot(h.l.engine, h.l.imogen, asked)
        expect(why.ran).toBe(said.some((each) => each.startsWith('done')))
        if (!stood.on) expect(why.ran || why.answer === 'The rule was switched off').toBe(true)
        seen.off += Number(!stood.on || stood.off)
        seen.stopped += Number(stood.stopped)
        seen.failing += Number(!stood.holds)
        seen.rests += Number(stood.rests)
        seen.said += said.length
      }
      // Every way of standing comes up.
      for (const count of Object.values(seen)) expect(count).toBeGreaterThan(0)
    },
    240_000,
  )
})
