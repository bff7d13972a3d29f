import { and, asc, eq, gte, sql } from 'drizzle-orm'
import type { IsoDate, RuleId } from '#core/brands.ts'
import { addDays, localTime, toInstant } from '#core/calendar/dates.ts'
import type { Event } from '#core/events/events.ts'
import type { About } from '#contract/actions/action.ts'
import type { PastRun, RuleDefinition, RulePast, RulePastBody } from '#contract/rules.ts'
import { within } from '../../database/query.ts'
import { clients, projects, runs, tasks } from '../../database/tables/index.ts'
import type { Handlers } from '../../engine/handlers.ts'
import type { History, Stretch } from '../../engine/history.ts'
import { ENGINE } from '../../engine/journal.ts'
import { createRunner } from '../../engine/runner.ts'
import type { Engine } from '../../engine/services.ts'
import { needStructure, type Viewer } from '../../engine/viewer.ts'
import { checkKind } from './becoming.ts'
import { checkRule } from './check.ts'
import { ladderKind } from './climb.ts'
import { datedKind } from './dated.ts'
import { putUp } from './ladder-alarms.ts'
import { perDay } from './log.ts'
import { placingKind } from './placing.ts'
import { activeRules, causeOf, ruleById } from './queries.ts'
import { hearRules, precedes } from './react.ts'
import { NOTHING_DONE } from './run.ts'
import { tellTo } from './say.ts'
import { seesAbout } from './subject.ts'
import { wakesFor } from './triggers/index.ts'

/**
 * What a rule would have done, had it been on: the firm is led back, the rule is put up there with
 * nothing to do, and what happened since happens again. The engine is the one that acts; facts are
 * those of each moment.
 */

/** How far back is asked. */
const DAYS = 30
/** As many runs as are shown. */
const SHOWN = 200
/** As long after a change as what followed from it at once is counted to it; waits are longer. */
const AT_ONCE = 3_600_000

/** Alarms that wake rules; what a run would have left to wait is not waited for. */
const HANDLERS: Handlers = {
  listeners: [],
  alarms: [placingKind, ladderKind, datedKind, checkKind],
}

export const ownRuns = within((orm, a: { rule: RuleId; since: number }) =>
  orm
    .select({
      ...{ id: runs.id, at: runs.at, outcome: runs.outcome, summary: runs.summary },
      ...{ reasons: runs.reasons, times: runs.times, key: runs.key },
      ...{ kind: runs.itemKind, item: runs.itemId },
    })
    .from(runs)
    .where(and(eq(runs.ruleId, a.rule), gte(runs.at, a.since)))
    .orderBy(asc(runs.id)),
)
export type OwnRun = ReturnType<typeof ownRuns.all>[number]

/** The rule with nothing to do: what it would have done is not what happened. */
const idle = (definition: RuleDefinition): RuleDefinition => ({
  ...definition,
  ...(definition.actions && { actions: [] }),
  ...(definition.rungs && {
    rungs: definition.rungs.map((rung) => ({ ...rung, actions: [] })),
  }),
})

/** A rule that is put up: which one, and since when it really was at work, where it was. */
interface Installed {
  readonly id: RuleId
  readonly since: number | null
}
/** Puts a rule up as it would have been since the beginning, and all others off. */
function install({ engine, clear, from }: History, body: RulePastBody): Installed {
  const { reader, journal } = engine
  const { name, ownerId } = body
  const kept = body.rule === undefined ? undefined : ruleById.get(reader, { id: body.rule })
  for (const table of ['alarms', 'waits', 'holding'] as const) clear(table)
  const { result: id } = journal.change(ENGINE, (write) => {
    for (const rule of activeRules.all(reader)) write.update('rules', rule, { on: false })
    const up = {
      ...{ name, ownerId, definition: idle(body.definition), on: true, since: from },
      ...{ pausedBecause: null, failures: 0 },
    }
    if (kept) write.update('rules', kept.id, up)
    const own = kept?.id ?? write.insert('rules', { ...up, updatedAt: from })
    putUp(reader, write, own)
    return own
  })
  // What it really did since is what is asked.
  clear(
    'runs',
    ownRuns.all(reader, { rule: id, since: from }).map((run) => run.id),
  )
  return { id, since: kept?.on && kept.pausedBecause === null ? kept.since : from }
}

/** Whether everything automatic was let go on by this; not where its stop was taken back. */
const goesOn = (stretch: Stretch): boolean =>
  stretch.some(
    ({ entity, undoes, before, after }) =>
      entity === 'firm' &&
      undoes === null &&
      before?.['stoppedAt'] != null &&
      after?.['stoppedAt'] === null,
  )

/**
 * A day's beginning, as soon as what comes at midnight was done: what holds then was noticed by the
 * rules that act when something becomes true.
 */
export const beginning = (day: IsoDate, zone: string): number =>
  toInstant(day, localTime('00:00'), zone) + 1

/** Leads a firm on to a moment with one rule at work; answers what it would have done. */
export function replay(history: History, body: RulePastBody, upTo: number): OwnRun[] {
  const { engine, clock, since } = history
  const { reader, journal } = engine
  const { id, since: began } = install(history, body)
  const runner = createRunner(engine, HANDLERS)
  // What was reached before is behind it; what is put up later counts from when it was switched on.
  runner.runUntil(history.from)
  journal.change(ENGINE, (write) => write.update('rules', id, { since: began }))
  /** Whether a rule's turn comes before this one's. */
  const before = ([first]: Stretch): boolean =>
    first?.actorKind === 'rule' && first.actorId !== null && precedes(engine, first.actorId, id)
  /** Whether a change was a rule's, set off by another at once: alarms come after it. */
  const reacts = ({ causeId: id, at }: Stretch[number]): boolean =>
    id !== null && at - (causeOf.get(reader, { id })?.at ?? 0) < AT_ONCE
  /** Whether something followed from an event, or from one before it, ere the rule's turn came. */
  const followed = (stretch: Stretch, event: Event): boolean => {
    const [first] = stretch
    if (!first || first.causeId === null || !reacts(first)) return false
    return first.causeId < event.id || (first.causeId === event.id && before(stretch))
  }
  /** Lets time pass up to a moment; mostly nothing comes. */
  const pass = (to: number): void => {
    const next = runner.nextAt()
    if (next !== null && next <= to) runner.runUntil(to)
  }
  /** Whether changes wake the rule. */
  const hears = wakesFor(body.definition.trigger.kind) !== undefined
  let made = 0
  const make = (stretch: Stretch): void => {
    made++
    const [first] = stretch
    if (!first) return
    const { at } = first
    // Of what comes at one moment, each rule has its turn.
    if (!reacts(first)) pass(first.causeId === null && before(stretch) ? at - 1 : at)
    clock.set(at)
    history.again(stretch.filter(({ entity }) => entity !== 'rules'))
    if (goesOn(stretch))
      journal.change(ENGINE, (write) => {
        write.update('rules', id, { since: at })
        putUp(reader, write, id)
      })
  }
  for (const [heard, stretch] of since.entries()) {
    if (stretch[0] && stretch[0].at > upTo) break
    if (made <= heard) make(stretch)
    for (const event of hears ? history.events(stretch) : []) {
      for (let next = since[made]; next && followed(next, event); next = since[made]) make(next)
      hearRules.hear(engine, event)
    }
  }
  runner.runUntil(upTo)
  return ownRuns.all(reader, { rule: id, since: history.from })
}

const titles = {
  task: within((orm, a: { id: number }) =>
    orm
      .select({
        title: tasks.title,
        place: sql<string | null>`coalesce(${projects.name}, ${clients.short})`,
      })
      .from(tasks)
      .leftJoin(projects, eq(projects.id, tasks.projectId))
      .leftJoin(clients, eq(clients.id, tasks.clientId))
      .where(eq(tasks.id, a.id)),
  ),
  project: within((orm, a: { id: number }) =>
    orm
      .select({ title: projects.name, place: clients.short })
      .from(projects)
      .leftJoin(clients, eq(clients.id, projects.clientId))
      .where(eq(projects.id, a.id)),
  ),
  client: within((orm, a: { id: number }) =>
    orm
      .select({ title: clients.name, place: sql<null>`null` })
      .from(clients)
      .where(eq(clients.id, a.id)),
  ),
}
const isAbout = (kind: string | null): kind is About =>
  kind === 'task' || kind === 'project' || kind === 'client'

/** A run as it is shown: of what is there, and theirs to see, now. */
export function shown(engine: Engine, viewer: Viewer, run: OwnRun): PastRun[] {
  const { at, outcome, summary, reasons, times, kind, item } = run
  if (!isAbout(kind) || item === null || !seesAbout(engine, viewer, { kind, id: item })) return []
  const named = titles[kind].get(engine.reader, { id: item }) ?? { title: '', place: null }
  const name = summary.replace(NOTHING_DONE, '').replace(/: $/, '')
  return [
    {
      at,
      outcome,
      item: { kind, id: item, ...named },
      name,
      reasons: reasons.map(tellTo(viewer)),
      times,
    },
  ]
}

/**
 * What a rule would have done in the last 30 days, by facts as they were at each moment.
 * @throws Refusal as saving it would
 */
export function rulePast(engine: Engine, viewer: Viewer, body: RulePastBody): RulePast {
  needStructure(viewer, 'ask what a rule would have done')
  checkRule(engine, body)
  const now = engine.clock.now()
  const first = beginning(addDays(engine.firm.today(), -DAYS), engine.firm.zone())
  const { found, from, cut } = engine.backIn(first, (history) => ({
    found: replay(history, body, now),
    ...{ from: history.from, cut: history.cut },
  }))
  const did = found.filter(({ outcome }) => outcome === 'done')
  const newest = (of: readonly OwnRun[]): PastRun[] =>
    of
      .toSorted((a, b) => b.at - a.at || b.id - a.id)
      .slice(0, SHOWN)
      .flatMap((run) => shown(engine, viewer, run))
  return {
    ...{ from, cut, runs: did.length, days: perDay(did, engine.firm.zone()) },
    items: new Set(did.map(({ kind, item }) => `${kind}:${item}`)).size,
    newest: newest(did),
    left: newest(found.filter(({ outcome }) => outcome !== 'done')),
  }
}
