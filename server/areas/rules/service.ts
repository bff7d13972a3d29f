import type { ProjectId, RuleId, TaskId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import { fieldsIn } from '#core/text/merge.ts'
import { isTold } from '#core/fields/field.ts'
import type { Arg } from '#contract/actions/action.ts'
import { actionKind } from '#contract/actions/index.ts'
import { triggerKind } from '#contract/triggers/index.ts'
import {
  actionsOf,
  type RuleBody,
  type RuleDefinition,
  type RuleSheet,
  type RuleSwitch,
  type RunEntry,
  type Who,
} from '#contract/rules.ts'
import type { Changed, Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { needNewest } from '../../engine/versions.ts'
import { actorOf, needMember, needStructure, sightOf, type Viewer } from '../../engine/viewer.ts'
import { taskFields } from '../fields/queries.ts'
import { activeMember, everybody, isActive, personName, teamById } from '../people/queries.ts'
import { faultsIn, MERGE_FIELDS } from './run.ts'
import { allRules, ruleById, runCount, runCounts, runLog, type RuleRecord } from './queries.ts'

const DAYS_30 = 30 * 86_400_000

/** The arguments of a rule's steps of one type, whatever they are called. */
const argsIn = (definition: RuleDefinition, type: Arg['type']): unknown[] =>
  actionsOf(definition).flatMap((action) => {
    const values: Readonly<Record<string, unknown>> = { ...action }
    const args: Readonly<Record<string, Arg>> = { ...actionKind(action.kind)?.args }
    return Object.keys(args).flatMap((name) => (args[name]?.type === type ? [values[name]] : []))
  })
const isWho = (value: unknown): value is Who =>
  typeof value === 'object' && value !== null && 'is' in value
const whoIn = (definition: RuleDefinition): Who[] => argsIn(definition, 'who').filter(isWho)

/** What stands in the way of rules; people are looked up once for many rules. */
function warner({ reader }: Engine): (rule: RuleRecord) => string[] {
  const people = new Map(everybody.all(reader).map((person) => [Number(person.id), person]))
  const warn = (who: Who): string[] => {
    if (who.is === 'person' && !people.get(who.id)?.active)
      return [
        `${people.get(who.id)?.name ?? 'A person it names'} has left; ` +
          'steps that name them do nothing until you choose someone else.',
      ]
    if (who.is === 'team' && !activeMember.get(reader, { team: who.id }))
      return ['A team it assigns to has nobody active in it.']
    return []
  }
  return ({ definition, ownerId }) => {
    const out = whoIn(definition).flatMap(warn)
    if (ownerId === null || !people.get(ownerId)?.active)
      out.push('It has no owner who is here; nobody hears when it fails.')
    return [...new Set(out)]
  }
}

/** A rule as it is shown. */
function view(
  rule: RuleRecord,
  owner: string | null,
  more: Pick<RuleSheet, 'warnings' | 'faults' | 'runs30' | 'lastRunAt'>,
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
  return allRules.all(reader).map(({ rule, owner }) =>
    view(rule, owner?.name ?? null, {
      warnings: warnings(rule),
      faults: faultsIn(engine, rule),
      runs30: counts.get(rule.id)?.runs ?? 0,
      lastRunAt: counts.get(rule.id)?.last ?? null,
    }),
  )
}

/** @throws Refusal `not-found` */
const needRule = ({ reader }: Engine, id: RuleId): RuleRecord =>
  ruleById.get(reader, { id }) ?? refuse('not-found', `There is no rule ${id}.`)

export function ruleSheet(engine: Engine, viewer: Viewer, id: RuleId): RuleSheet {
  needMember(viewer, 'see rules')
  const { reader, clock } = engine
  const rule = needRule(engine, id)
  const counts = runCount.get(reader, { id, since: clock.now() - DAYS_30 })
  return view(rule, rule.ownerId === null ? null : personName(reader, rule.ownerId), {
    warnings: warner(engine)(rule),
    faults: faultsIn(engine, rule),
    runs30: counts?.runs ?? 0,
    lastRunAt: counts?.last ?? null,
  })
}

function checkWho({ reader }: Engine, who: Who): void {
  if (who.is === 'person' && !isActive(reader, who.id))
    refuse(
      'person-left',
      `${personName(reader, who.id) ?? 'That person'} has left; choose someone who is here.`,
      'definition',
    )
  if (who.is === 'team' && !teamById.get(reader, { id: who.id }))
    refuse('no-such-team', 'That team does not exist.', 'definition')
}

/** What the shapes cannot say: people are here, teams exist, merge fields have values. */
function checkRule(engine: Engine, body: RuleBody): void {
  for (const who of whoIn(body.definition)) checkWho(engine, who)
  if (body.ownerId !== null && !isActive(engine.reader, body.ownerId))
    refuse(
      'person-left',
      `${personName(engine.reader, body.ownerId) ?? 'The owner'} has left; a rule needs an owner who is here.`,
      'ownerId',
    )
  checkTrigger(engine, body.definition)
  checkActions(body.definition)
  for (const { place, detail } of faultsIn(engine, body))
    refuse('bad-condition', detail, `definition.conditions.${place}`)
  for (const text of argsIn(body.definition, 'text')) {
    const unknown = fieldsIn(String(text)).find((field) => !MERGE_FIELDS.has(field))
    if (unknown)
      refuse(
        'unknown-field',
        `{${unknown}} has no value here; use ${[...MERGE_FIELDS].map((f) => `{${f}}`).join(', ')}.`,
        'definition',
      )
  }
}

/** What is done can be done with what the trigger is about. */
function checkActions(definition: RuleDefinition): void {
  const about = triggerKind(definition.trigger.kind)?.about
  for (const { kind } of actionsOf(definition)) {
    const action = actionKind(kind)
    if (action && action.needs !== about)
      refuse('bad-action', `“${action.name}” is done with a ${action.needs}.`, 'definition')
  }
}

/** A field that a rule waits for is one that changes are told of. */
function checkTrigger({ reader }: Engine, { trigger }: RuleDefinition): void {
  if (trigger.kind !== 'changed') return
  const field = taskFields(reader)(trigger.field)
  if (!field || !isTold(field))
    refuse('bad-trigger', 'Choose a field whose changes are told.', 'definition.trigger')
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

/** How the run log may be narrowed. */
export interface RunFilter {
  readonly ruleId?: RuleId
  readonly taskId?: TaskId
  readonly projectId?: ProjectId
  readonly outcome?: RunEntry['outcome']
  /** The id of the last one seen. */
  readonly before?: number
}

/** The run log, newest first. */
export function listRuns(engine: Engine, viewer: Viewer, filter: RunFilter): RunEntry[] {
  needMember(viewer, 'see the run log')
  return runLog(engine.reader, {
    sight: sightOf(viewer),
    before: filter.before ?? Number.MAX_SAFE_INTEGER,
    rule: filter.ruleId ?? null,
    task: filter.taskId ?? null,
    project: filter.projectId ?? null,
    outcome: filter.outcome ?? null,
  }).map((run) => ({ ...run, undone: Boolean(Number(run.undone)) }))
}
