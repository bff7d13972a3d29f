import type { RuleId } from '#core/brands.ts'
import { compile, explain, type Explain, type Predicate } from '#core/conditions/compile.ts'
import { eventKey, type Event } from '#core/events/events.ts'
import type { TaskFacts } from '#core/fields/facts.ts'
import { heldValue } from '#core/fields/field.ts'
import type { Value } from '#core/fields/types.ts'
import type { Trigger } from '#contract/rules.ts'
import type { Reader } from '../../database/query.ts'
import type { Listener } from '../../engine/handlers.ts'
import type { Forgets } from '../../engine/engine.ts'
import { ENGINE } from '../../engine/journal.ts'
import { hasRun } from '../../engine/runs.ts'
import type { Engine } from '../../engine/services.ts'
import { taskFields } from '../fields/queries.ts'
import { rulesAtWork } from './at-work.ts'
import { turned } from './becoming.ts'
import { causeOf, ruleById, runsOn, type RuleRecord } from './queries.ts'
import { carryOut, fail, leave, leaveAll, ruleNow, type Left, type Planned } from './run.ts'
import { sayVerdict } from './say.ts'
import { factsAbout, inScope, type Subject } from './subject.ts'
import { wakesFor } from './triggers/index.ts'
import { wakesOf, type Wakes } from './triggers/wake.ts'

/** Rules that react to what happened. */

/** Longer chains of rules that set each other off stop. */
const DEEPEST = 8
/** One rule on one task runs no more often than this in an hour. */
const MOST_RUNS = 20
const HOUR = 3_600_000
/** What the run log calls what was not done while everything was stopped. */
export const HELD_BACK = 'Held back'

/** A rule that is switched on, ready to be woken. */
interface Awake {
  readonly rule: RuleRecord
  readonly wakes: Wakes<Trigger>
  readonly holds: Predicate
  readonly verdict: Explain
}
/** Rules by where events are looked up, in the order they run. */
type Index = ReadonlyMap<string, readonly Awake[]>
const indexes = new WeakMap<Reader, Index>()

/** What rules are made of: their own definitions, and the firm's fields. */
const MADE_OF: ReadonlySet<string> = new Set(['rules', 'fields', 'states'])
/** Rules are read anew when what they are made of changes. */
export const forgetRules: Forgets = (reader) => (changed) => {
  for (const table of changed) if (MADE_OF.has(table)) indexes.delete(reader)
}

function indexOf({ reader }: Engine): Index {
  const kept = indexes.get(reader)
  if (kept) return kept
  const at = new Map<string, Awake[]>()
  for (const rule of rulesAtWork(reader)) {
    const { trigger, conditions } = rule.definition
    const wakes = wakesFor(trigger.kind)
    if (!wakes) continue
    const { holds } = compile(conditions, taskFields(reader))
    const { verdict } = explain(conditions, taskFields(reader))
    const awake: Awake = { rule, wakes, holds, verdict }
    for (const place of wakes.on(trigger)) at.set(place, [...(at.get(place) ?? []), awake])
  }
  indexes.set(reader, at)
  return at
}

/** Wider scopes come first. */
const SCOPES = ['firm', 'client', 'template', 'project']
type Ranked = Pick<RuleRecord, 'id' | 'definition'>
const rank = ({ definition }: Ranked): number => SCOPES.indexOf(definition.scope?.of ?? 'firm')
const inTurn = (a: Ranked, b: Ranked): number => rank(a) - rank(b) || a.id - b.id
/** Whether a rule has its turn before another. */
export function precedes({ reader }: Engine, id: RuleId, other: RuleId): boolean {
  const [a, b] = [ruleById.get(reader, { id }), ruleById.get(reader, { id: other })]
  return a !== undefined && b !== undefined && inTurn(a, b) < 0
}
/** The rules that an event wakes, each once, in the order they run. */
function wokenBy(index: Index, event: Event): readonly Awake[] {
  const found = new Set(wakesOf(event).flatMap((place) => index.get(place) ?? []))
  return (
    [...found]
      // What was before it was switched on is none of its business, however late it is heard.
      .filter(({ rule }) => rule.since === null || rule.since <= event.at)
      .filter(({ rule, wakes }) => wakes.by?.(rule.definition.trigger, event) ?? true)
      .sort((a, b) => inTurn(a.rule, b.rule))
  )
}

/** What is told of a chain that went too deep: the rules that led to it, the last one first. */
function chainOf({ reader }: Engine, event: Event): string[] {
  const names: string[] = []
  for (let id: number | null = event.id; id !== null && names.length <= DEEPEST;) {
    const entry = causeOf.get(reader, { id })
    if (entry?.actorKind === 'rule' && entry.actorId !== null)
      names.push(ruleById.get(reader, { id: entry.actorId })?.name ?? 'a rule that is gone')
    id = entry?.causeId ?? null
  }
  return names.map((name) => `Set off by “${name}”`)
}

/** Why a run must not be, or null. */
function stopped(engine: Engine, event: Event, { rule, about }: Planned): string[] | null {
  if (event.depth >= DEEPEST)
    return [`${DEEPEST} changes led to each other; the chain ends here`, ...chainOf(engine, event)]
  const since = event.at - HOUR
  const item = { kind: about.kind, id: about.id }
  const runs = runsOn.get(engine.reader, { rule: rule.id, ...item, since })?.runs ?? 0
  return runs < MOST_RUNS
    ? null
    : [`It ran ${runs} times on this ${about.kind} within an hour`, ...chainOf(engine, event)]
}

/** Says what is not done, since the firm has stopped all that happens by itself. */
function holdBack(engine: Engine, { holds, wakes, rule }: Awake, planned: Planned): void {
  const { task, key } = planned
  if (hasRun(engine.reader, key)) return
  // What becomes true while all is stopped is looked for when it goes on.
  if (rule.definition.trigger.kind === 'becomes-true' || !holds(task, ruleNow(engine))) return
  if (wakes.stands?.(rule.definition.trigger, task) === false) return
  const reasons = ['Everything automatic is stopped']
  engine.journal.change(ENGINE, (write) =>
    leave(engine, write, { ...planned, name: HELD_BACK }, reasons),
  )
}

/**
 * A rule that was woken, and what it asks did not hold: said once for a rule, an item and what failed
 * first, counted; the newest takes the place of those before.
 */
function nearMiss(engine: Engine, { verdict: asks }: Awake, planned: Planned): Left {
  const { rule, task } = planned
  const verdict = asks(task, ruleNow(engine))
  const { field = '', op = '' } = verdict.failing?.test ?? {}
  const key = `left:${rule.id}:${tail(planned)}:${field}:${op}`
  return { planned: { ...planned, key, name: 'Skipped' }, reasons: sayVerdict(engine, verdict) }
}
/** What a rule does about something, once it is woken and may run. */
function runOne(engine: Engine, awake: Awake, event: Event, planned: Planned): void {
  const { rule, wakes, holds, verdict } = awake
  const { task, key } = planned
  const { trigger, actions = [] } = rule.definition
  const actor = { kind: 'rule', id: rule.id } as const
  const becoming = trigger.kind === 'becomes-true'
  const now = ruleNow(engine)
  const held = holds(task, now)
  // What ceases to be so is forgotten; what was so already is nothing new.
  if (becoming && !turned(engine, planned, held)) return
  if (wakes.stands?.(trigger, task) === false) {
    const reasons = ['The new value no longer stands']
    engine.journal.change(actor, (write) =>
      leave(engine, write, { ...planned, name: 'Left' }, reasons),
    )
    return
  }
  if (!held) return
  const stop = stopped(engine, event, planned)
  if (stop) return stopOnce(engine, planned, stop)
  const because = sayVerdict(engine, verdict(task, now))
  engine.journal.change(
    actor,
    (write) => {
      if (becoming) write.insert('holding', { ruleId: rule.id, taskId: planned.about.id })
      carryOut(engine, write, { ...planned, key, because }, actions)
    },
    planned.cause,
  )
}

/** How keys of runs name what they are about: a task by its number alone. */
const tail = ({ about: { kind, id } }: Pick<Planned, 'about'>): string =>
  kind === 'task' ? String(id) : `${kind}:${id}`

/** Says that a rule was stopped on something: once an hour, however often it is. */
function stopOnce(engine: Engine, planned: Planned, reasons: readonly string[]): void {
  const hour = Math.floor(engine.clock.now() / HOUR)
  const key = `stopped:${planned.rule.id}:${tail(planned)}:${hour}`
  if (!hasRun(engine.reader, key))
    engine.journal.change(ENGINE, (write) =>
      leave(engine, write, { ...planned, key, name: 'Stopped' }, reasons),
    )
}

/** Whether anything is to be done or remembered about it; else it is missed, and nothing more. */
const mayRun = (engine: Engine, { rule, wakes, holds }: Awake, { task, key }: Planned): boolean =>
  rule.definition.trigger.kind === 'becomes-true' ||
  wakes.stands?.(rule.definition.trigger, task) === false ||
  // What ran for the first of several events is not missed by the others.
  (wakes.once !== undefined && hasRun(engine.reader, key)) ||
  holds(task, ruleNow(engine))

/** Lets a rule act. Answers what was missed, where that is all; null where all may be another now. */
function tryOne(engine: Engine, awake: Awake, event: Event, planned: Planned): Left | null {
  try {
    if (engine.firm.stoppedAt() !== null) holdBack(engine, awake, planned)
    else if (!mayRun(engine, awake, planned)) return nearMiss(engine, awake, planned)
    else if (!hasRun(engine.reader, planned.key))
      engine.journal.together(() => runOne(engine, awake, event, planned))
  } catch (error) {
    const rule = ruleById.get(engine.reader, { id: awake.rule.id })
    const key = `failed:${awake.rule.id}:${eventKey(event)}:${tail(planned)}`
    const reason = error instanceof Error ? error.message : String(error)
    if (rule && !hasRun(engine.reader, key))
      engine.journal.change(ENGINE, (write) =>
        fail(engine, write, { ...planned, rule, key }, reason),
      )
    // Told last: what fails in a share of work is done again, and told then.
    engine.log.error({ err: error, rule: awake.rule.id, event: event.id }, 'a rule failed')
  }
  return null
}

/** What the fields that an event is about were before it. */
function wasOf({ reader }: Engine, event: Event): Record<string, Value> {
  const was: Record<string, Value> = {}
  if (event.kind !== 'task.changed') return was
  const lookup = taskFields(reader)
  for (const [name, { from }] of Object.entries(event.fields)) {
    const field = lookup(name)
    if (field) was[name] = heldValue(field, from)
  }
  return was
}

/** What is known of what an event is about: looked up once, until a rule may have changed it. */
function looking(engine: Engine, event: Event) {
  let known = new Map<string, TaskFacts | undefined>()
  const was = wasOf(engine, event)
  return {
    at(about: Subject): TaskFacts | undefined {
      const key = `${about.kind}:${about.id}`
      if (!known.has(key)) known.set(key, factsAbout(engine, about, was))
      return known.get(key)
    },
    again: () => void (known = new Map()),
  }
}

/** What a rule is to do about an event; nothing where it is not the rule's to act there. */
function plannedFor(
  { reader }: Engine,
  { rule, wakes }: Awake,
  event: Event,
  facts: (about: Subject) => TaskFacts | undefined,
): Planned | null {
  const about = wakes.about(event, reader)
  const task = about && facts(about)
  if (!task || !inScope(reader, rule, task)) return null
  // Of what is one thing in a change, the first event that is it stands for all.
  const which = wakes.once
    ? `${event.change}:${wakes.once(event, reader)}`
    : `${eventKey(event)}:${tail({ about })}`
  const key = `event:${rule.id}:${which}`
  const cause = { journalId: event.id, depth: event.depth }
  return { ...{ rule, about, task, key, cause }, name: '', because: [] }
}

/** Rules hear of every event, in a fixed order; a rule sees what those before it did. */
export const hearRules = {
  name: 'rules',
  hear(engine: Engine, event: Event): void {
    const index = indexOf(engine)
    // What an undo brings back wakes no rule.
    if (index.size === 0 || event.undoes !== null) return
    const woken = wokenBy(index, event)
    if (woken.length === 0) return
    const facts = looking(engine, event)
    const missed: Left[] = []
    for (const awake of woken) {
      const planned = plannedFor(engine, awake, event, facts.at)
      if (!planned) continue
      const miss = tryOne(engine, awake, event, planned)
      if (miss) missed.push(miss)
      else facts.again()
    }
    if (missed.length > 0) engine.journal.change(ENGINE, (write) => leaveAll(engine, write, missed))
  },
} satisfies Listener
