import type { RuleId } from '#core/brands.ts'
import { isoDate, localTime, toLocal } from '#core/calendar/dates.ts'
import { explain } from '#core/conditions/compile.ts'
import type { TaskFacts } from '#core/fields/facts.ts'
import { sayMoment, type Saying } from '#core/fields/say.ts'
import { evaluateLadder } from '#core/rules/ladder.ts'
import { offsetAt } from '#core/rules/moment.ts'
import { refuse } from '#core/refusal.ts'
import { sayDate } from '#core/text/speak.ts'
import type { WhyNot } from '#contract/rules.ts'
import { triggerKind } from '#contract/triggers/index.ts'
import type { Said } from '../../database/tables/clockwork.ts'
import type { History } from '../../engine/history.ts'
import type { Engine } from '../../engine/services.ts'
import { needMember, type Viewer } from '../../engine/viewer.ts'
import { taskFields } from '../fields/queries.ts'
import { dateOf, offsetOf } from './dated.ts'
import { rungDelays } from './ladder-alarms.ts'
import { beginning, ownRuns, replay, shown, type OwnRun } from './past.ts'
import { ruleById, type RuleRecord } from './queries.ts'
import { ruleNow } from './run.ts'
import { sayTests, testsTo, tellTo } from './say.ts'
import { factsAbout, offHere, seesAbout, reaches, subjectRests, type Subject } from './subject.ts'

/**
 * Why a rule did nothing to something, up to a past moment of a day: how everything stood then is
 * rebuilt from the journal, and the rule is let run over that day anew.
 */

/** How a rule and what it is asked about stood at a moment. */
export interface Stood {
  /** The rule as it was; nothing where there was none. */
  readonly rule: RuleRecord | undefined
  readonly stopped: boolean
  /** What was known of it; nothing where it was not there. */
  readonly facts: TaskFacts | undefined
  readonly reaches: boolean
  readonly off: boolean
  readonly rests: boolean
  readonly holds: boolean
  readonly tests: ReturnType<typeof sayTests>
  /** Where time wakes the rule: how far that had come. */
  readonly time: string
  /** What the rule did and left there that day, up to the moment. */
  readonly runs: readonly OwnRun[]
}
export interface Asked {
  readonly rule: RuleId
  readonly about: Subject
  readonly at: number
}

const sayingOf = ({ firm }: Engine): Saying => ({
  ...{ today: firm.today(), zone: firm.zone(), clock: firm.dates().clock },
})

/** Where a task stands on a rule's ladder. */
function ladderTime(engine: Engine, { definition }: RuleRecord, task: TaskFacts): string {
  if (task.due === null) return 'It had no due date'
  if (task.closedAt !== null) return 'It was closed'
  const time = task.dueTime === null ? null : localTime(task.dueTime)
  const { firm, clock } = engine
  const delays = rungDelays(definition)
  const place = [
    { date: isoDate(task.due), time },
    firm.calendar(),
    firm.zone(),
    clock.now(),
  ] as const
  const { reached, next } = evaluateLadder(delays, ...place)
  const due = `It was due ${sayDate(task.due, firm.today())}`
  if (next) return `${due}: rung ${next.rung + 1} comes ${sayMoment(next.at, sayingOf(engine))}`
  return reached.length ? `${due}: all its rungs were behind it` : due
}
/** When a rule comes to a task for a date of it. */
function datedTime(engine: Engine, { definition }: RuleRecord, task: TaskFacts): string {
  const { trigger } = definition
  if (trigger.kind !== 'dated') return ''
  const { reader, firm, clock } = engine
  const label = taskFields(reader)(trigger.field)?.label.toLowerCase() ?? 'that date'
  if (task.closedAt !== null) return 'It was closed'
  const date = dateOf(reader, trigger.field, task.id)
  if (date === null) return `It had no ${label}`
  const place = { calendar: firm.calendar(), zone: firm.zone() }
  const at = offsetAt(offsetOf(trigger), date, place)
  const said = sayMoment(at, sayingOf(engine))
  const comes = at > clock.now() ? `it comes ${said}` : `its moment was ${said}`
  return `Its ${label} was ${sayDate(date, firm.today())}: ${comes}`
}
/** Of rules that time wakes, how far that had come; of others, what they wait for. */
function sayTime(engine: Engine, rule: RuleRecord, facts: TaskFacts): string {
  const { trigger } = rule.definition
  if (trigger.kind === 'late') return ladderTime(engine, rule, facts)
  if (trigger.kind === 'dated') return datedTime(engine, rule, facts)
  if (trigger.kind === 'becomes-true') return 'It acts when what it asks begins to be so'
  const waitsFor = triggerKind(trigger.kind)?.name ?? trigger.kind
  return `Nothing happened to it that day that sets the rule off: “${waitsFor}”`
}

/** The rule as it was at a moment of the day that a firm was led back to the beginning of. */
function ruleThen({ engine, since, again }: History, { rule: id, at }: Asked) {
  const of = since.map((stretch) =>
    stretch.filter((row) => row.entity === 'rules' && row.entityId === id && row.at <= at),
  )
  for (const stretch of of) if (stretch.length) again(stretch)
  return ruleById.get(engine.reader, { id })
}

/** What happened up to a moment happens again, with no rule at work. */
function leadOn({ since, again }: History, upTo: number): OwnRun[] {
  for (const stretch of since) if (stretch[0] && stretch[0].at <= upTo) again(stretch)
  return []
}

/** How a rule stood to something there is. */
function stoodTo({ engine }: History, rule: RuleRecord, facts: TaskFacts) {
  const { reader } = engine
  const { conditions } = rule.definition
  const verdict = explain(conditions, taskFields(reader)).verdict(facts, ruleNow(engine))
  return {
    reaches: reaches(rule.definition, facts),
    off: offHere(reader, rule.id, facts),
    holds: verdict.holds,
    tests: sayTests(engine, verdict),
    time: sayTime(engine, rule, facts),
  }
}
const NOT_AT_ALL = { reaches: false, off: false, holds: false, tests: [], time: '' }

/** How a rule and something stood at a moment, rebuilt. */
export function stoodIn(history: History, asked: Asked): Stood {
  const { engine, clock } = history
  const { about, at } = asked
  const rule = ruleThen(history, asked)
  const found = rule ? replay(history, { ...rule, rule: rule.id }, at) : leadOn(history, at)
  clock.set(at)
  const facts = factsAbout(engine, about)
  const began = rule?.on && rule.pausedBecause === null ? (rule.since ?? 0) : Infinity
  return {
    ...{ rule, facts, stopped: engine.firm.stoppedAt() !== null },
    ...(rule && facts ? stoodTo(history, rule, facts) : NOT_AT_ALL),
    rests: subjectRests(engine, about),
    runs: found.filter((run) => isOn(about, run) && run.at >= began && run.at <= at),
  }
}

const isOn = ({ kind, id }: Subject, run: OwnRun): boolean => run.kind === kind && run.item === id

/** Why time brings nothing to something. */
function sayRest(facts: TaskFacts | undefined): string {
  const { closedAt, archivedAt, project } = facts ?? {}
  if (closedAt) return 'it was closed'
  if (archivedAt) return 'it was archived'
  if (project?.closedAt) return 'its project was finished'
  if (project?.state === 'hold') return 'its project was on hold'
  if (project?.state === 'proposed') return 'its project was only proposed'
  return 'what it is a part of stood still'
}

type Check = WhyNot['checks'][number] & { readonly not: string }
/** What must be so for a rule to act, one after the other. */
function checksOf({ about }: Asked, stood: Stood): Check[] {
  const { rule, facts } = stood
  const it = `the ${about.kind}`
  const timed = ['late', 'dated', 'becomes-true'].includes(rule?.definition.trigger.kind ?? '')
  return [
    { said: 'The rule was there', ok: rule !== undefined, not: 'There was no such rule yet' },
    { said: 'It was on', ok: rule?.on === true, not: 'The rule was switched off' },
    {
      ...{ said: 'It had not paused itself', ok: rule?.pausedBecause === null },
      not: `The rule had paused itself: ${rule?.pausedBecause}`,
    },
    {
      ...{ said: 'The clockwork went', ok: !stood.stopped },
      not: 'Everything automatic was stopped',
    },
    {
      ...{ said: `There was ${it}`, ok: facts !== undefined },
      not: `There was no such ${about.kind} then`,
    },
    {
      ...{ said: 'It was where the rule acts', ok: stood.reaches },
      not: 'It was outside where the rule acts',
    },
    {
      ...{ said: 'The rule was on in its project', ok: !stood.off },
      not: 'The rule was switched off in its project',
    },
    ...(timed
      ? [
          {
            ...{ said: 'It did not stand still', ok: !stood.rests },
            not: `Time brings nothing to it: ${sayRest(facts)}`,
          },
        ]
      : []),
  ]
}

const newestFirst = (runs: readonly OwnRun[]): OwnRun[] => runs.toSorted((a, b) => b.at - a.at)

/** Why it did nothing, where all stood well: what woke it and was left, or that nothing did. */
function restOf({ runs, holds, time, tests }: Stood, tell: (said: Said) => string): string {
  const [newest] = newestFirst(runs)
  if (newest && newest.outcome !== 'done') return tell(newest.reasons[0] ?? newest.summary)
  const failing = holds ? undefined : tests.find((test) => !test.held)
  return failing ? `${time}; nor did all hold that it asks` : time
}

/**
 * Why a rule did nothing to something on a day, up to a moment of it, or up to now; or that it did.
 * @throws Refusal `not-found`
 */
export function whyNot(engine: Engine, viewer: Viewer, wanted: Asked): WhyNot {
  const asked = { ...wanted, at: Math.min(wanted.at, engine.clock.now()) }
  needMember(viewer, 'see why rules act')
  const { rule, about, at } = asked
  if (!ruleById.get(engine.reader, { id: rule })) refuse('not-found', `There is no rule ${rule}.`)
  if (!seesAbout(engine, viewer, about))
    refuse('not-found', `There is no ${about.kind} ${about.id}.`)
  const zone = engine.firm.zone()
  const { stood, from, cut } = engine.backIn(
    beginning(toLocal(at, zone).date, zone),
    (history) => ({
      stood: stoodIn(history, { ...asked, at: Math.max(at, history.from) }),
      ...{ from: history.from, cut: history.cut },
    }),
  )
  // What really was done is in the run log; what it left is there too, unless it was left again since.
  const real = ownRuns
    .all(engine.reader, { rule, since: from })
    .filter((run) => isOn(about, run) && run.at <= at)
  const ran = real.some(({ outcome }) => outcome === 'done')
  const left = stood.runs.filter(({ outcome }) => outcome !== 'done')
  const runs = [...real, ...left.filter(({ key }) => !real.some((run) => run.key === key))]
  const all = checksOf(asked, stood)
  const bad = all.findIndex(({ ok }) => !ok)
  const checks = (bad < 0 ? all : all.slice(0, bad + 1)).map(({ said, ok, not }) => ({
    ...{ said: ok ? said : not, ok },
  }))
  const first = all[bad]
  const answer = ran
    ? 'It ran that day'
    : first
      ? first.not
      : restOf({ ...stood, runs }, tellTo(viewer))
  return {
    ...{ at, from, cut, ran, answer, checks },
    tests: testsTo(viewer, stood.tests),
    runs: newestFirst(runs).flatMap((run) => shown(engine, viewer, run)),
  }
}
