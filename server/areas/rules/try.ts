import { explain } from '#core/conditions/compile.ts'
import type { TaskFacts } from '#core/fields/facts.ts'
import { Refusal, refuse } from '#core/refusal.ts'
import {
  rungsOf,
  type Deed,
  type FilledText,
  type RuleText,
  type RuleTrial,
  type RuleTry,
} from '#contract/rules.ts'
import { triggerKind } from '#contract/triggers/index.ts'
import type { Engine } from '../../engine/services.ts'
import { needStructure, type Viewer } from '../../engine/viewer.ts'
import { taskFields } from '../fields/queries.ts'
import { personName } from '../people/queries.ts'
import { checkRule } from './check.ts'
import type { RuleRecord } from './queries.ts'
import { carryOut, ruleNow, type CarriedOut, type Planned } from './run.ts'
import { sayTests, tellTo, testsTo } from './say.ts'
import { factsAbout, reaches, seesAbout, subjectRests, type Subject } from './subject.ts'
import { filler } from './texts.ts'

/** A rule tried on one item: it is carried out as it would be, and all of it taken back. */

/** A rule that is not kept yet, as one that ran. */
const asRecord = ({ name, ownerId, definition }: RuleTry, at: number): RuleRecord => ({
  ...{ id: 0, name, on: true, ownerId, definition, pausedBecause: null, failures: 0 },
  ...{ since: null, version: 0, updatedAt: at },
})

class TakenBack extends Error {}
/** Carries something out and takes it back; answers what it came to, or why it would fail. */
function tried(engine: Engine, planned: Planned, deeds: readonly Deed[]): CarriedOut | string {
  let done: CarriedOut | undefined
  try {
    engine.journal.together(() => {
      engine.journal.change({ kind: 'rule', id: null }, (write) => {
        done = carryOut(engine, write, planned, deeds)
      })
      throw new TakenBack()
    })
  } catch (error) {
    if (error instanceof Refusal) return error.message
    if (!(error instanceof TakenBack)) throw error
  }
  return done ?? ''
}

/** One part of a trial: of a rung, or of all that a rule does. */
function part(
  engine: Engine,
  viewer: Viewer,
  planned: Planned,
  deeds: readonly Deed[],
): RuleTrial['parts'][number] {
  const done = tried(engine, planned, deeds)
  const { name } = planned
  if (typeof done === 'string') return { name, did: [], left: [], says: [], failed: done }
  const { did, left, why, seen, empty, news } = done
  return {
    ...{ name, did, failed: null },
    left: [...seen.map(tellTo(viewer)), ...why, ...left, ...empty],
    says: news.map(({ to, text, mail }) => ({
      ...{ to: personName(engine.reader, to) ?? '', text, mail: mail !== undefined },
    })),
  }
}

/** @throws Refusal `not-found` for what is gone, or not theirs to see */
const knownOf = (engine: Engine, viewer: Viewer, about: Subject): TaskFacts =>
  (seesAbout(engine, viewer, about) ? factsAbout(engine, about) : undefined) ??
  refuse('not-found', `There is no ${about.kind} ${about.id}.`, 'item')

/**
 * What a rule would do about something now, and whether what it asks holds of it; nothing is changed,
 * and nobody is told. @throws Refusal as saving it would, and `not-found` for an item that is gone
 */
export function tryRule(engine: Engine, viewer: Viewer, body: RuleTry): RuleTrial {
  needStructure(viewer, 'try rules')
  checkRule(engine, body)
  const kind = triggerKind(body.definition.trigger.kind)?.about ?? 'task'
  const about: Subject = { kind, id: body.item }
  const task = knownOf(engine, viewer, about)
  const { definition } = body
  const rule = asRecord(body, engine.clock.now())
  const verdict = explain(definition.conditions, taskFields(engine.reader)).verdict(
    task,
    ruleNow(engine),
  )
  const planned = (name: string, nth: number): Planned => ({
    ...{ rule, about, task, name, key: `tried:${nth}`, because: [], tried: true },
  })
  const rungs = rungsOf(definition)
  const doing: [name: string, deeds: readonly Deed[]][] = rungs.length
    ? rungs.map(({ actions }, i) => [`Rung ${i + 1}`, actions])
    : [['', definition.actions ?? []]]
  return {
    ...{ reaches: reaches(definition, task), rests: subjectRests(engine, about) },
    holds: verdict.holds,
    tests: testsTo(viewer, sayTests(engine, verdict)),
    parts: doing.map(([name, deeds], i) => part(engine, viewer, planned(name, i), deeds)),
  }
}

/**
 * A text of a rule as it would be said of something now.
 * @throws Refusal `not-found` for an item that is gone
 */
export function fillText(
  engine: Engine,
  viewer: Viewer,
  { about, item, text }: RuleText,
): FilledText {
  needStructure(viewer, 'write rules')
  const task = knownOf(engine, viewer, { kind: about, id: item })
  const empty = new Set<string>()
  const filled = filler(engine, task, (field) => empty.add(field))(text)
  const { title, project, client } = task
  const named = { task: title, project: project?.name, client: client?.name }[about]
  return { title: named ?? '', text: filled, empty: [...empty] }
}
