import type { Group } from '#core/conditions/condition.ts'
import { sayCondition, sayTest } from '#core/conditions/say.ts'
import { isBranch } from '#core/rules/program.ts'
import type { Plain } from '#core/fields/parse.ts'
import { sayValue } from '#core/fields/say.ts'
import { plural } from '#core/text/speak.ts'
import { actionKind, type Action } from '#contract/actions/index.ts'
import {
  BY_ROLE,
  isOfTeam,
  OF_TEAM,
  UNNAMED,
  type Say,
  type Who,
} from '#contract/actions/action.ts'
import type { Deed, RuleDefinition, RuleScope, Rung } from '#contract/rules.ts'
import { triggerKind } from '#contract/triggers/index.ts'
import { choicesFor, fieldOf } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'

/** What a rule does, as one sentence: the words of its trigger and of its actions. */

function sayWho({ directory }: Known, who: Who): string {
  if (who.is === 'person') return directory.people.find((p) => p.id === who.id)?.name ?? 'somebody'
  if (isOfTeam(who))
    return `${OF_TEAM[who.is]} ${directory.teams.find((t) => t.id === who.id)?.name ?? 'a team'}`
  if ('role' in who) return `${BY_ROLE[who.is]} ${who.role || '…'}`
  return UNNAMED[who.is]
}
function sayValueOf(known: Known, path: string, value: Plain): string {
  const field = fieldOf(known, path)
  const chosen = choicesFor(known, path).find((choice) => choice.value === value)
  return chosen?.name ?? (field ? sayValue(field, value, known) : String(value))
}
const saying = (known: Known): Say => ({
  who: (who) => sayWho(known, who),
  field: (path) => fieldOf(known, path)?.label.toLowerCase() ?? 'a field that is gone',
  value: (path, value) => sayValueOf(known, path, value),
  values(path, values) {
    const choices = choicesFor(known, path)
    return values
      .map((value) => choices.find((c) => c.value === value)?.name ?? String(value))
      .join(' or ')
  },
})

/** What a rule asks, in words. */
const sayAsked = (known: Known, asked: Group): string =>
  sayCondition(asked, (test) => {
    const field = fieldOf(known, test.field)
    if (!field) return 'a field that is gone is asked'
    return sayTest(field, test, (value) => sayValueOf(known, test.field, value))
  })

const sayAction = (action: Action, say: Say): string =>
  actionKind(action.kind)?.words(action, say) ?? action.kind
function sayDeed(known: Known, deed: Deed, say: Say): string {
  if (!isBranch<Action>(deed)) return sayAction(deed, say)
  const { conditions, actions, otherwise } = deed
  const all = (list: readonly Action[]) => list.map((one) => sayAction(one, say)).join(' and ')
  const other = otherwise.length ? `, otherwise ${all(otherwise)}` : ''
  return `where ${sayAsked(known, conditions)}, ${all(actions)}${other}`
}
const listed = (known: Known, deeds: readonly Deed[], say: Say): string =>
  deeds.map((deed) => sayDeed(known, deed, say)).join(', then ')

/** Where a rule acts: “in the whole firm”, “for Mossgate”. */
export function sayScope(
  { directory, projects }: Known,
  scope: RuleScope = { of: 'firm' },
): string {
  const named = (list: readonly { id: number; name: string }[], id: number) =>
    list.find((each) => each.id === id)?.name
  switch (scope.of) {
    case 'firm':
      return 'in the whole firm'
    case 'client':
      return `for ${named(directory.clients, scope.id) ?? 'a client that is gone'}`
    case 'template':
      return `in every ${named(directory.templates, scope.id) ?? 'project of a template that is gone'}`
    case 'project':
      return `in ${named(projects, scope.id) ?? 'one project'}`
  }
}

function sayDelay({ delay }: Rung): string {
  if ('hours' in delay) return `after ${plural(delay.hours, 'hour')}`
  return `after ${plural(delay.days, delay.unit === 'working' ? 'working day' : 'day')}`
}

/** “When a task is late: after 1 working day remind whoever is on it; …” */
export function sayRule(
  known: Known,
  { trigger, scope, conditions, rungs, actions }: RuleDefinition,
): string {
  const say = saying(known)
  const kind = triggerKind(trigger.kind)
  const when = kind?.words(trigger, say) ?? trigger.kind
  const does = rungs
    ? rungs.map((rung) => `${sayDelay(rung)} ${listed(known, rung.actions, say)}`).join('; ')
    : listed(known, actions ?? [], say)
  const asked = sayAsked(known, conditions)
  const provided = asked && (kind?.that ? ` that ${asked}` : `, provided ${asked}`)
  const where = scope && scope.of !== 'firm' ? ` ${sayScope(known, scope)}` : ''
  return `When ${when}${where}${provided}: ${does}.`
}
