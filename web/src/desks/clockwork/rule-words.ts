import { plural } from '#core/text/speak.ts'
import { actionKind, type Action } from '#contract/actions/index.ts'
import { UNNAMED, type Say, type Who } from '#contract/actions/action.ts'
import type { RuleDefinition, Rung } from '#contract/rules.ts'
import { triggerKind } from '#contract/triggers/index.ts'
import { choicesFor, fieldOf } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'

/** What a rule does, as one sentence: the words of its trigger and of its actions. */

function sayWho({ directory }: Known, who: Who): string {
  if (who.is === 'person') return directory.people.find((p) => p.id === who.id)?.name ?? 'somebody'
  if (who.is === 'team')
    return `the least loaded in ${directory.teams.find((t) => t.id === who.id)?.name ?? 'a team'}`
  return UNNAMED[who.is]
}
const saying = (known: Known): Say => ({
  who: (who) => sayWho(known, who),
  field: (path) => fieldOf(known, path)?.label.toLowerCase() ?? 'a field that is gone',
  values(path, values) {
    const choices = choicesFor(known, path)
    return values
      .map((value) => choices.find((c) => c.value === value)?.name ?? String(value))
      .join(' or ')
  },
})

const listed = (actions: readonly Action[], say: Say): string =>
  actions
    .map((action) => actionKind(action.kind)?.words(action, say) ?? action.kind)
    .join(', then ')

function sayDelay({ delay }: Rung): string {
  if ('hours' in delay) return `after ${plural(delay.hours, 'hour')}`
  return `after ${plural(delay.days, delay.unit === 'working' ? 'working day' : 'day')}`
}

/** “When a task is late: after 1 working day remind whoever is on it; …” */
export function sayRule(
  known: Known,
  { trigger, conditions, rungs, actions }: RuleDefinition,
): string {
  const say = saying(known)
  const when = triggerKind(trigger.kind)?.words(trigger, say) ?? trigger.kind
  const does = rungs
    ? rungs.map((rung) => `${sayDelay(rung)} ${listed(rung.actions, say)}`).join('; ')
    : listed(actions ?? [], say)
  const provided = conditions.of.length ? ', provided what is asked holds' : ''
  return `When ${when}${provided}: ${does}.`
}
