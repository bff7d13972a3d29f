import type { RuleId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import type { RuleBody, RuleSheet, RuleSwitch } from '#contract/rules.ts'
import type { Changed, Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { needNewest } from '../../engine/versions.ts'
import { actorOf, needMember, needStructure, type Viewer } from '../../engine/viewer.ts'
import { personName } from '../people/queries.ts'
import { checkRule } from './check.ts'
import { offProjects } from './places.ts'
import { faultsIn } from './run.ts'
import { warner } from './warn.ts'
import { allRules, ruleById, runCount, runCounts, type RuleRecord } from './queries.ts'

const DAYS_30 = 30 * 86_400_000

/** A rule as it is shown. */
function view(
  rule: RuleRecord,
  owner: string | null,
  more: Pick<RuleSheet, 'warnings' | 'faults' | 'runs30' | 'lastRunAt' | 'offIn'>,
): RuleSheet {
  const { id, name, on, version, pausedBecause, definition, ownerId } = rule
  return {
    id,
    name,
    on,
    version,
    pausedBecause,
    definition,
    owner: ownerId === null ? null : { id: ownerId, name: owner ?? '' },
    ...more,
  }
}

export function listRules(engine: Engine, viewer: Viewer): RuleSheet[] {
  needMember(viewer, 'see rules')
  const { reader, clock } = engine
  const warnings = warner(engine)
  const counts = new Map(
    runCounts.all(reader, { since: clock.now() - DAYS_30 }).map((row) => [row.id, row]),
  )
  const off = offProjects(engine, viewer)
  return allRules.all(reader).map(({ rule, owner }) =>
    view(rule, owner?.name ?? null, {
      warnings: warnings(rule),
      faults: faultsIn(engine, rule.definition),
      runs30: counts.get(rule.id)?.runs ?? 0,
      lastRunAt: counts.get(rule.id)?.last ?? null,
      offIn: off.filter((one) => one.rule === rule.id).map(({ id, name }) => ({ id, name })),
    }),
  )
}

/** @throws Refusal `not-found` */
export const needRule = ({ reader }: Engine, id: RuleId): RuleRecord =>
  ruleById.get(reader, { id }) ?? refuse('not-found', `There is no rule ${id}.`)

export function ruleSheet(engine: Engine, viewer: Viewer, id: RuleId): RuleSheet {
  needMember(viewer, 'see rules')
  const { reader, clock } = engine
  const rule = needRule(engine, id)
  const counts = runCount.get(reader, { id, since: clock.now() - DAYS_30 })
  return view(rule, rule.ownerId === null ? null : personName(reader, rule.ownerId), {
    warnings: warner(engine)(rule),
    faults: faultsIn(engine, rule.definition),
    runs30: counts?.runs ?? 0,
    lastRunAt: counts?.last ?? null,
    offIn: offProjects(engine, viewer)
      .filter((one) => one.rule === id)
      .map(({ id: project, name }) => ({ id: project, name })),
  })
}

export function insertRule(engine: Engine, write: Writer, body: RuleBody, on: boolean): RuleId {
  checkRule(engine, body)
  const { name, ownerId, definition } = body
  return write.insert('rules', { name, on, ownerId, definition, updatedAt: write.at })
}

/** A new rule is off until it is switched on. */
export function makeRule(engine: Engine, viewer: Viewer, body: RuleBody): Changed<RuleSheet> {
  needStructure(viewer, 'make rules')
  const { result: id, change } = engine.journal.change(actorOf(viewer), (write) =>
    insertRule(engine, write, body, false),
  )
  return { result: ruleSheet(engine, viewer, id), change }
}

/** Saves a rule as its next version; one that had paused itself starts again. */
export function saveRule(
  engine: Engine,
  viewer: Viewer,
  id: RuleId,
  { body, seen }: { body: RuleBody; seen: number | null },
): Changed<RuleSheet> {
  needStructure(viewer, 'change rules')
  checkRule(engine, body)
  const { change } = engine.journal.change(actorOf(viewer), (write) => {
    const rule = needRule(engine, id)
    needNewest(seen, rule.version)
    write.update('rules', rule, {
      name: body.name,
      ownerId: body.ownerId,
      definition: body.definition,
      version: rule.version + 1,
      pausedBecause: null,
      failures: 0,
      // What is late already met the version before.
      ...(rule.on && { since: write.at }),
      updatedAt: write.at,
    })
  })
  return { result: ruleSheet(engine, viewer, id), change }
}

/**
 * Switches a rule on or off. Switched on, it acts on what comes; on what is late already only where
 * it is to, `also`.
 */
export function switchRule(
  engine: Engine,
  viewer: Viewer,
  id: RuleId,
  { on, also = false }: RuleSwitch,
): Changed<RuleSheet> {
  needStructure(viewer, 'switch rules on or off')
  const rule = needRule(engine, id)
  const { change } = engine.journal.change(actorOf(viewer), (write) => {
    const fresh = { pausedBecause: null, failures: 0, since: also ? null : write.at }
    write.update('rules', rule, { on, ...(on && fresh) })
  })
  return { result: ruleSheet(engine, viewer, id), change }
}
