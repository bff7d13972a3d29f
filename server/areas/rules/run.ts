import { compile, explain, type Verdict } from '#core/conditions/compile.ts'
import type { Now } from '#core/conditions/ask.ts'
import type { TaskFacts } from '#core/fields/facts.ts'
import { daysLate } from '#core/calendar/calendar.ts'
import { isoDate } from '#core/calendar/dates.ts'
import { merge } from '#core/text/merge.ts'
import { plural } from '#core/text/speak.ts'
import type { Action } from '#contract/rules.ts'
import { recordRun } from '../../engine/runs.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { taskFields } from '../fields/queries.ts'
import { notify } from '../notices/notify.ts'
import { personById } from '../people/queries.ts'
import type { Account, LiveRun } from './actions/does.ts'
import { act } from './actions/index.ts'
import type { RuleRecord } from './queries.ts'

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
/** Conditions of a rule that cannot be asked any more. */
export const faultsIn = ({ reader }: Engine, { definition }: Pick<RuleRecord, 'definition'>) =>
  compile(definition.conditions, taskFields(reader)).faults

/** What merge fields of a rule's texts may name. */
export const MERGE_FIELDS: ReadonlySet<string> = new Set([
  ...['task', 'client', 'project', 'due', 'days late'],
])
/** How long a task has been late, in words. */
export const lateBy = ({ firm }: Engine, { due }: Pick<TaskFacts, 'due'>): string =>
  plural(due === null ? 0 : daysLate(firm.calendar(), isoDate(due), firm.today()), 'working day')
function texts(engine: Engine, task: TaskFacts): (text: string) => string {
  const values = {
    task: task.title,
    client: task.client?.short ?? 'the firm',
    project: task.project?.name ?? '',
    due: task.due === null ? 'no date' : { date: isoDate(task.due) },
    'days late': lateBy(engine, task),
  }
  return (text) => merge(text, values)
}

/** A run that is to be: of what, on what, under which key. */
export interface Planned {
  readonly rule: RuleRecord
  readonly task: TaskFacts
  readonly key: string
  /** What the run log calls it: “Rung 2”; nothing where there is nothing to tell it apart by. */
  readonly name: string
  /** Why it came to be, beside its conditions. */
  readonly because: readonly string[]
}

/** What the log says of every run of a rule on a task. */
const common = ({ rule, task, key }: Planned) => ({
  key,
  ...{ by: { rule: rule.id }, version: rule.version },
  about: { kind: 'task' as const, id: task.id },
})

/** Does the actions of a run, tells whom it has to tell, and writes it down, whole. */
export function carryOut(
  engine: Engine,
  write: Writer,
  planned: Planned,
  actions: readonly (readonly [nth: number, action: Action])[],
): void {
  const { rule, task, key, name, because } = planned
  const account: Account = { did: [], left: [], news: [] }
  const text = texts(engine, task)
  const live: LiveRun = { engine, write, rule, task, key, account, text }
  for (const [nth, action] of actions) act(live, action, nth)
  const run = recordRun(write, {
    ...common(planned),
    outcome: 'done',
    summary: [name, account.did.join(', ') || 'nothing could be done'].filter(Boolean).join(': '),
    reasons: [...because, ...account.left],
  })
  notify(
    engine,
    write,
    account.news.map((news) => ({ ...news, run })),
  )
  if (rule.failures > 0) write.update('rules', rule.id, { failures: 0 })
}

/** Writes down that a run was left, and why. */
export const leave = (
  engine: Engine,
  write: Writer,
  planned: Planned,
  reasons: readonly string[],
): void =>
  void recordRun(
    write,
    {
      ...common(planned),
      ...{ outcome: 'skipped', summary: planned.name, reasons: [...planned.because, ...reasons] },
    },
    engine.reader,
  )

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
