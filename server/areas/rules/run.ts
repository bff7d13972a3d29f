import { performance } from 'node:perf_hooks'
import { compile, explain, type Verdict } from '#core/conditions/compile.ts'
import type { Now } from '#core/conditions/ask.ts'
import type { Fault } from '#core/conditions/condition.ts'
import type { TaskFacts } from '#core/fields/facts.ts'
import type { ChangeId } from '#core/brands.ts'
import { programOf, type Placed } from '#core/rules/program.ts'
import { conditionsOf, type Action, type Deed, type RuleDefinition } from '#contract/rules.ts'
import type { Said } from '../../database/tables/clockwork.ts'
import { recordAgain, recordRun } from '../../engine/runs.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { taskFields } from '../fields/queries.ts'
import { notify } from '../notices/notify.ts'
import { personById } from '../people/queries.ts'
import type { Account, LiveRun } from './actions/does.ts'
import { act } from './actions/index.ts'
import type { RuleRecord } from './queries.ts'
import { saidAfter, sayVerdict } from './say.ts'
import { factsAbout, type Subject } from './subject.ts'
import { filler } from './texts.ts'
import { sayWait, waitFor } from './wait.ts'

/** One run of a rule on one task: what is asked of it, what it does, what is told of it. */

const FAILURES_BEFORE_PAUSE = 5

/** When a rule's conditions are asked; nobody asks. */
export const ruleNow = ({ firm }: Engine): Now => ({
  ...{ today: firm.today(), zone: firm.zone(), calendar: firm.calendar() },
  me: null,
})
/** Whether a rule's conditions hold of a task, with every reason. */
export const judge = (engine: Engine, rule: RuleRecord, task: TaskFacts): Verdict =>
  explain(rule.definition.conditions, taskFields(engine.reader)).verdict(task, ruleNow(engine))
/** Conditions of a rule that cannot be asked any more; each with its place in the definition. */
export const faultsIn = ({ reader }: Engine, definition: RuleDefinition): Fault[] =>
  conditionsOf(definition).flatMap(({ place, conditions }) =>
    compile(conditions, taskFields(reader)).faults.map((fault) => ({
      ...fault,
      place: [place, fault.place].filter(Boolean).join('.'),
    })),
  )

/** A run that is to be: of what, on what, under which key. */
export interface Planned {
  readonly rule: RuleRecord
  readonly about: Subject
  /** What is known of it. */
  readonly task: TaskFacts
  readonly key: string
  /** What the run log calls it: “Rung 2”; nothing where there is nothing to tell it apart by. */
  readonly name: string
  /** Why it came to be, beside its conditions. */
  readonly because: readonly Said[]
  /** The entry of the journal that led to it, and how many changes deep. */
  readonly cause?: { readonly journalId: number; readonly depth: number }
  /** It is only tried: what it does is taken back at once. */
  readonly tried?: true
  /** Where it goes on from, after a wait. */
  readonly leg?: Leg
}
/** How far a run that waited has come. */
export interface Leg {
  /** The key of the run, the same for all its legs. */
  readonly run: string
  /** What the run log calls its first. */
  readonly name: string
  readonly nth: number
  /** The action that it goes on after. */
  readonly after: number
  /** What the legs before changed. */
  readonly changes: readonly ChangeId[]
}

/** What the log says of every run of a rule. */
const common = ({ rule, about, key, cause }: Planned) => ({
  key,
  ...{ by: { rule: rule.id }, version: rule.version, about },
  ...(cause && { causeId: cause.journalId }),
})

/** A run while its actions are done. */
interface Course extends LiveRun {
  readonly deeds: readonly Deed[]
  /** Of each branch that was come to, whether its conditions held. */
  readonly branches: Map<number, boolean>
  readonly seen: Said[]
}

/** Whether an action is on the side of its branch that is gone down; asked once for a branch. */
function onItsWay(course: Course, { within }: Placed<Action>): boolean {
  if (!within) return true
  const { engine, about, task, branches, seen } = course
  const { branch, conditions, where } = within
  let held = branches.get(branch)
  if (held === undefined) {
    // What was done before counts: the branch is asked of how things stand now.
    const now = factsAbout(engine, about, task.was) ?? task
    const verdict = explain(conditions, taskFields(engine.reader)).verdict(now, ruleNow(engine))
    held = verdict.holds
    branches.set(branch, held)
    seen.push(...sayVerdict(engine, verdict).map((said) => saidAfter(`Step ${branch + 1}: `, said)))
  }
  return held === where
}

/** Does the actions of a run in their order, as far as it goes without waiting. */
function go(course: Course): void {
  const { planned, deeds, account } = course
  const after = planned.leg?.after ?? -1
  for (const placed of programOf<Action>(deeds)) {
    const { nth, action } = placed
    if (nth <= after || !onItsWay(course, placed)) continue
    if (action.kind === 'stop') return void account.did.push('Stopped there')
    // Tried, nothing waits: what comes after is shown as well.
    if (action.kind === 'wait' && planned.tried) account.did.push(sayWait(course.engine, action))
    else if (action.kind === 'wait') return waitFor(course, planned, { deeds, nth }, action)
    else act(course, action, nth)
  }
}

/** What the run log says of a run that did nothing. */
export const NOTHING_DONE = 'nothing could be done'
/** What a run came to. */
export interface CarriedOut extends Account {
  /** What branches saw. */
  readonly seen: readonly Said[]
  readonly empty: readonly string[]
}
/** Does the actions of a run, tells whom it has to tell, and writes it down, whole. */
export function carryOut(
  engine: Engine,
  write: Writer,
  planned: Planned,
  deeds: readonly Deed[],
): CarriedOut {
  const { rule, about, task, key, name, because } = planned
  const account: Account = { did: [], left: [], why: [], news: [] }
  const empty = new Set<string>()
  const text = filler(engine, task, (field) => empty.add(field))
  const course: Course = {
    ...{ engine, write, rule, about, task, key, account, text, planned, deeds },
    ...{ chosen: new Map(), branches: new Map(), seen: [] },
  }
  const began = performance.now()
  go(course)
  const took = Math.round((performance.now() - began) * 1_000)
  const nothing = [...empty].map((field) => `{${field}} was empty here`)
  const run = recordRun(write, {
    ...common(planned),
    ...{ outcome: 'done', took },
    summary: [name, account.did.join(', ') || NOTHING_DONE].filter(Boolean).join(': '),
    reasons: [...because, ...course.seen, ...account.why, ...account.left, ...nothing],
  })
  notify(
    engine,
    write,
    account.news.map((news) => ({ ...news, run })),
  )
  if (rule.failures > 0) write.update('rules', rule.id, { failures: 0 })
  return { ...account, seen: course.seen, empty: nothing }
}

/** A run that is not to be, and why. */
export interface Left {
  readonly planned: Planned
  readonly reasons: readonly Said[]
}
/** Writes down what runs were left, and why. */
export const leaveAll = (engine: Engine, write: Writer, left: readonly Left[]): void =>
  recordAgain(
    engine.reader,
    write,
    left.map(({ planned, reasons }) => ({
      ...common(planned),
      ...{ outcome: 'skipped', summary: planned.name, reasons: [...planned.because, ...reasons] },
    })),
  )
export const leave = (
  engine: Engine,
  write: Writer,
  planned: Planned,
  reasons: readonly Said[],
): void => leaveAll(engine, write, [{ planned, reasons }])

/** Writes down that a run failed; after five in a row the rule pauses itself and tells its owner. */
export function fail(engine: Engine, write: Writer, planned: Planned, reason: string): void {
  const { rule, name } = planned
  recordRun(write, {
    ...common(planned),
    ...{ outcome: 'failed', summary: `${name || 'It'} failed`, reasons: [reason] },
  })
  const failures = rule.failures + 1
  const pausing = failures >= FAILURES_BEFORE_PAUSE && rule.pausedBecause === null
  const pausedBecause = `Failed ${failures} times running: ${reason}`
  write.update('rules', rule.id, { failures, ...(pausing && { pausedBecause }) })
  const owner =
    rule.ownerId === null ? undefined : personById.get(engine.reader, { id: rule.ownerId })
  if (pausing && owner?.active)
    notify(engine, write, [
      {
        ...{ to: owner.id, kind: 'rule', about: { kind: 'rule', id: rule.id } },
        text: `Rule “${rule.name}” paused itself after ${failures} failures: ${reason}`,
      },
    ])
}
