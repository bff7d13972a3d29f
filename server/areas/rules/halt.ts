import { and, asc, count, eq, gt, lte } from 'drizzle-orm'
import type { Clockwork } from '#contract/rules.ts'
import type { AlarmKind } from '#contract/words.ts'
import { ready } from '../../database/query.ts'
import { alarms, rules, runs } from '../../database/tables/index.ts'
import type { Changed, Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, needMember, needStructure, type Viewer } from '../../engine/viewer.ts'
import { passReminders } from '../reminders/alarms.ts'
import { allSeries } from '../series/queries.ts'
import { passDue } from '../series/service.ts'
import { putUp } from './ladder-alarms.ts'
import { activeRules } from './queries.ts'
import { HELD_BACK } from './react.ts'

/**
 * The one switch that stops all that happens by itself: rules, ladders, reminders, series, waits. What
 * was held back meanwhile is told before it goes on, and acted on only where it is to.
 */

const dueByKind = ready((orm, a: { now: number }) =>
  orm
    .select({ kind: alarms.kind, count: count() })
    .from(alarms)
    .where(and(lte(alarms.at, a.now), gt(alarms.at, 0)))
    .groupBy(alarms.kind),
)
const heldRuns = ready((orm, a: { since: number }) =>
  orm
    .select({ id: rules.id, name: rules.name, count: count() })
    .from(runs)
    .innerJoin(rules, eq(rules.id, runs.ruleId))
    .where(and(gt(runs.at, a.since), eq(runs.outcome, 'skipped'), eq(runs.summary, HELD_BACK)))
    .groupBy(rules.id)
    .orderBy(asc(rules.name)),
)

/** Whether the clockwork goes, and what was held back since it was stopped. */
export function clockwork({ reader, firm, clock }: Engine, viewer: Viewer): Clockwork {
  needMember(viewer, 'see how the clockwork goes')
  const stoppedAt = firm.stoppedAt()
  if (stoppedAt === null) return { stoppedAt, due: {}, rules: [] }
  const due = dueByKind.all(reader, { now: clock.now() })
  const by: Partial<Record<AlarmKind, number>> = Object.fromEntries(
    due.map((row) => [row.kind, row.count]),
  )
  return { stoppedAt, due: by, rules: heldRuns.all(reader, { since: stoppedAt - 1 }) }
}

/** Rules are put up anew: what they would find of the time until now, they leave. */
function startAnew(engine: Engine, write: Writer): void {
  const { reader } = engine
  for (const rule of activeRules.all(reader)) {
    write.update('rules', rule.id, { since: write.at })
    putUp(reader, write, rule.id)
  }
  for (const { series } of allSeries.all(reader))
    if (series.on && series.endedAt === null) passDue(engine, write, series)
  passReminders(engine, write)
}
/** What came due since a moment is acted on as it would have been; of a ladder, the highest rung. */
function makeUp({ reader }: Engine, write: Writer, from: number): void {
  for (const rule of activeRules.all(reader)) {
    if (rule.definition.trigger.kind !== 'late') continue
    write.update('rules', rule.id, { since: Math.max(rule.since ?? 0, from) })
    putUp(reader, write, rule.id)
  }
}

/**
 * Stops everything automatic, or lets it go on. What came due meanwhile is made up for only where
 * `also` says so: of a ladder the highest rung, of a series each date; else all goes on from now.
 */
export function switchClockwork(
  engine: Engine,
  viewer: Viewer,
  { on, also = false }: { readonly on: boolean; readonly also?: boolean },
): Changed<Clockwork> {
  needStructure(viewer, 'stop what happens by itself')
  const { firm, journal } = engine
  const before = firm.stoppedAt()
  const { change } = journal.change(actorOf(viewer), (write) => {
    if (on === (before === null)) return
    write.update('firm', 1, { stoppedAt: on ? null : write.at })
    if (!on) return
    if (also) makeUp(engine, write, before ?? write.at)
    else startAnew(engine, write)
  })
  return { result: clockwork(engine, viewer), change }
}
