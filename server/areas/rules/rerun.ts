import type { RuleId, RunId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import { rungsOf, type Deed, type RunEntry } from '#contract/rules.ts'
import type { Changed } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { needStructure, type Viewer } from '../../engine/viewer.ts'
import { listRuns, needRun } from './log.ts'
import { ruleById, type RuleRecord } from './queries.ts'
import { carryOut, judge, type Planned } from './run.ts'
import { sayVerdict, tellTo } from './say.ts'
import { factsAbout, inScope, subjectRests, type Subject } from './subject.ts'

/** A run that is asked for once more, by hand. */

/** What a run did: of a ladder, its rung, by the end of its key. */
function deedsOf({ definition }: RuleRecord, key: string): readonly Deed[] {
  const rungs = rungsOf(definition)
  if (rungs.length === 0) return definition.actions ?? []
  const parts = key.split(':')
  const rung = rungs.find((each) => parts.includes(each.key))
  return rung?.actions ?? refuse('gone', 'The rung that ran is not on the ladder any more.')
}
const isSubject = (item: { kind: string; id: number }): item is Subject =>
  item.kind === 'task' || item.kind === 'project' || item.kind === 'client'

/** The rule of a run, where it may act at all. @throws Refusal `gone`, `off` */
function ruleOf(engine: Engine, id: RuleId | null): RuleRecord {
  const rule = id === null ? undefined : ruleById.get(engine.reader, { id })
  if (!rule) return refuse('gone', 'The rule of this run is gone.')
  if (!rule.on) refuse('off', `“${rule.name}” is switched off: switch it on first.`)
  if (engine.firm.stoppedAt() !== null) refuse('off', 'Everything automatic is stopped.')
  return rule
}
/** What a run was on, as it is now. @throws Refusal `gone` */
function itemOf(engine: Engine, item: { kind: string; id: number }) {
  const facts = isSubject(item) ? factsAbout(engine, item) : undefined
  return isSubject(item) && facts ? { about: item, facts } : refuse('gone', 'It is gone.', 'item')
}

/**
 * Runs the rule of a run on the same thing again, as both are now, provided that what it asks holds.
 * @throws Refusal `not-found`, `gone`, `off`, `rests`, `not-here`, `does-not-hold`
 */
export function runAgain(engine: Engine, viewer: Viewer, id: RunId): Changed<RunEntry> {
  needStructure(viewer, 'run rules by hand')
  const { reader, clock, journal } = engine
  const run = needRun(engine, viewer, id)
  const rule = ruleOf(engine, run.ruleId)
  const { about, facts } = itemOf(engine, { kind: run.itemKind ?? '', id: run.itemId ?? 0 })
  if (!inScope(reader, rule, facts)) refuse('not-here', 'The rule does not act there any more.')
  if (subjectRests(engine, about)) refuse('rests', `The ${about.kind} stands still.`)
  const verdict = judge(engine, rule, facts)
  const reasons = sayVerdict(engine, verdict)
  if (!verdict.holds)
    refuse('does-not-hold', `It does not hold now. ${tellTo(viewer)(reasons[0] ?? '')}`)
  const planned: Planned = {
    ...{ rule, about, task: facts, key: `rerun:${id}:${clock.now()}`, name: 'Run again' },
    because: [`Asked for by ${viewer.name}`, ...reasons],
  }
  const { change } = journal.change({ kind: 'rule', id: rule.id }, (write) => {
    carryOut(engine, write, planned, deedsOf(rule, run.key))
  })
  const [newest] = listRuns(engine, viewer, { ruleId: rule.id })
  return { result: newest ?? refuse('gone', 'It was not written down.'), change }
}
