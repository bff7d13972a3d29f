import { testsOf } from '#core/conditions/condition.ts'
import { clashing, neverBoth, ringOf, type CheckedRule } from '#core/rules/checks.ts'
import { isOfTeam } from '#contract/actions/action.ts'
import { actionKind } from '#contract/actions/index.ts'
import { actionsOf, conditionsOf, type RuleDefinition, type Who } from '#contract/rules.ts'
import type { Engine } from '../../engine/services.ts'
import { taskFields } from '../fields/queries.ts'
import { activeMember, everybody } from '../people/queries.ts'
import { seriesNames } from '../series/queries.ts'
import { whoIn } from './check.ts'
import { allRules, type RuleRecord } from './queries.ts'
import { sayAlone } from './say.ts'
import { wakesFor } from './triggers/index.ts'

/** What stands in the way of rules, or is likely not meant: said before they are switched on. */

/** Where what wakes a rule is looked up; of what becomes true, what it asks. */
function wakesIn({ trigger, conditions }: RuleDefinition): readonly string[] {
  if (trigger.kind !== 'becomes-true') return wakesFor(trigger.kind)?.on(trigger) ?? []
  const asked = [...testsOf(conditions)].map(({ field }) => field.split('.')[0] ?? field)
  return [...asked.map((field) => `task.changed:${field}`), 'task.made']
}
function checked({ id, definition }: RuleRecord): CheckedRule {
  const { trigger } = definition
  return {
    id,
    wakes: wakesIn(definition),
    to: 'to' in trigger ? trigger.to : [],
    changes: actionsOf(definition).flatMap(
      (action) => actionKind(action.kind)?.changes?.(action) ?? [],
    ),
  }
}

type Warn = (rule: RuleRecord) => string[]
/** Whom it names, who are not here. */
function ofPeople({ reader }: Engine): Warn {
  const people = new Map(everybody.all(reader).map((person) => [Number(person.id), person]))
  const warn = (who: Who): string[] => {
    if (who.is === 'person' && !people.get(who.id)?.active)
      return [
        `${people.get(who.id)?.name ?? 'A person it names'} has left; ` +
          'steps that name them do nothing until you choose someone else.',
      ]
    if (isOfTeam(who) && !activeMember.get(reader, { team: who.id }))
      return ['A team it assigns to has nobody active in it.']
    return []
  }
  return ({ definition, ownerId }) => [
    ...whoIn(definition).flatMap(warn),
    ...(ownerId === null || !people.get(ownerId)?.active
      ? ['It has no owner who is here; nobody hears when it fails.']
      : []),
  ]
}
/** Rules that are on, or this one as if it were: those it goes round in a ring with, or clashes with. */
function ofOthers({ reader }: Engine): Warn {
  const rules = allRules.all(reader).map(({ rule }) => rule)
  const names = new Map(rules.map(({ id, name }) => [Number(id), name]))
  const label = taskFields(reader)
  const on = rules.filter((rule) => rule.on && rule.pausedBecause === null)
  const asChecked = new Map(rules.map((rule) => [Number(rule.id), checked(rule)]))
  return (rule) => {
    const one = asChecked.get(rule.id) ?? checked(rule)
    const all = [
      one,
      ...on.filter(({ id }) => id !== rule.id).flatMap(({ id }) => asChecked.get(id) ?? []),
    ]
    const ring = ringOf(one, all)
    // What becomes true may be made untrue by what is done: that is what it is for.
    const byItself = ring?.length === 1 && rule.definition.trigger.kind === 'becomes-true'
    const [, ...others] = (ring ?? []).map((id) => `“${names.get(id) ?? ''}”`)
    const rings =
      !ring || byItself
        ? []
        : others.length === 0
          ? ['It sets itself off by what it does; it stops after eight times.']
          : [`It and ${others.join(' and ')} set each other off; they stop after eight times.`]
    const clashes = clashing(one, all).map(({ id, place }) => {
      const field = label(place.split(':')[1] ?? '')?.label.toLowerCase() ?? 'the same'
      return `“${names.get(id) ?? ''}” sets ${field} as well, to something else, when the same happens.`
    })
    return [...rings, ...clashes]
  }
}
/** Series that it makes the next of, which are gone, put away or paused. */
function ofSeries({ reader }: Engine): Warn {
  const known = new Map(seriesNames.all(reader).map((one) => [Number(one.id), one]))
  return ({ definition }) =>
    actionsOf(definition).flatMap((action): string[] => {
      if (action.kind !== 'bring-next') return []
      const series = known.get(action.series)
      if (!series) return ['The series that it makes the next of is archived or gone.']
      if (!series.byEvents) return [`“${series.name}” goes by dates now; it makes nothing of it.`]
      return series.on ? [] : [`“${series.name}” is paused; what comes meanwhile is skipped.`]
    })
}
/** Conditions that can never hold. */
function ofConditions(engine: Engine): Warn {
  const lookup = taskFields(engine.reader)
  const several = (path: string) => lookup(path)?.many !== false
  return ({ definition }) =>
    conditionsOf(definition).flatMap(({ conditions }) => {
      const both = neverBoth(conditions, several)
      if (!both) return []
      const [a, b] = both.map((test) => sayAlone(engine, lookup(test.field), test))
      return [`What it asks can never hold: ${a}, and ${b}.`]
    })
}

/** What stands in the way of rules; people and rules are looked up once for many. */
export function warner(engine: Engine): Warn {
  const all = [ofPeople(engine), ofOthers(engine), ofSeries(engine), ofConditions(engine)]
  return (rule) => [...new Set(all.flatMap((warn) => warn(rule)))]
}
