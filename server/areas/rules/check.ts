import { testsOf } from '#core/conditions/condition.ts'
import { WAS } from '#core/fields/field.ts'
import { keptValue, type Plain } from '#core/fields/parse.ts'
import { refuse } from '#core/refusal.ts'
import { fieldsIn } from '#core/text/merge.ts'
import {
  isOfTeam,
  isWho,
  OF_TASKS,
  type About,
  type Arg,
  type FieldsOf,
  type Step,
} from '#contract/actions/action.ts'
import { actionKind, canDo } from '#contract/actions/index.ts'
import { mergeFieldsOf } from '#contract/merge-fields.ts'
import { asksOf, isOffered } from '#contract/rule-fields.ts'
import {
  actionsOf,
  conditionsOf,
  type RuleBody,
  type RuleDefinition,
  type RuleScope,
  type Who,
} from '#contract/rules.ts'
import { triggerKind } from '#contract/triggers/index.ts'
import type { Reader } from '../../database/query.ts'
import type { Engine } from '../../engine/services.ts'
import { taskFields } from '../fields/queries.ts'
import { clientById, isActive, personName, teamById } from '../people/queries.ts'
import { projectById } from '../projects/queries.ts'
import { seriesNames } from '../series/queries.ts'
import { templateById } from '../templates/queries.ts'
import { faultsIn } from './run.ts'

/** Whether a rule that is saved can work: what its shape cannot say. */

/** What a rule is about. */
export const aboutOf = ({ trigger }: RuleDefinition): About =>
  triggerKind(trigger.kind)?.about ?? 'task'
type ScopeOf = Exclude<RuleScope, { readonly of: 'firm' }>

/** What is asked for of a step. */
const argsOf = (step: Step | undefined): Readonly<Record<string, Arg>> => ({ ...step?.args })
/** The arguments of a rule's steps of one type, whatever they are called. */
const argsIn = (definition: RuleDefinition, type: Arg['type']): unknown[] =>
  actionsOf(definition).flatMap((action) => {
    const values: Readonly<Record<string, unknown>> = { ...action }
    const args = argsOf(actionKind(action.kind))
    return Object.keys(args).flatMap((name) => (args[name]?.type === type ? [values[name]] : []))
  })
/** Whom a rule's steps are about. */
export const whoIn = (definition: RuleDefinition): Who[] => argsIn(definition, 'who').filter(isWho)

function checkWho({ reader }: Engine, who: Who): void {
  if (who.is === 'person' && !isActive(reader, who.id))
    refuse(
      'person-left',
      `${personName(reader, who.id) ?? 'That person'} has left; choose someone who is here.`,
      'definition',
    )
  if (isOfTeam(who) && !teamById.get(reader, { id: who.id }))
    refuse('no-such-team', 'That team does not exist.', 'definition')
}

/** What the shapes cannot say: people are here, teams exist, merge fields have values. */
export function checkRule(engine: Engine, body: RuleBody): void {
  checkPeople(engine, body)
  checkScope(engine, body.definition)
  checkFields(engine, body.definition)
  checkActions(body.definition)
  checkConditions(engine, body.definition)
  checkTexts(body.definition)
}

function checkPeople(engine: Engine, body: RuleBody): void {
  const about = aboutOf(body.definition)
  for (const who of whoIn(body.definition)) {
    checkWho(engine, who)
    if (about !== 'task' && OF_TASKS.has(who.is))
      refuse('bad-who', `A ${about} has nobody on it; choose its lead, say.`, 'definition')
  }
  if (body.ownerId !== null && !isActive(engine.reader, body.ownerId))
    refuse(
      'person-left',
      `${personName(engine.reader, body.ownerId) ?? 'The owner'} has left; a rule needs an owner who is here.`,
      'ownerId',
    )
}

/** Texts name nothing that is not known of what the rule is about. */
function checkTexts(definition: RuleDefinition): void {
  const known = mergeFieldsOf(aboutOf(definition)).map(({ name }) => name)
  for (const text of argsIn(definition, 'text')) {
    const unknown = fieldsIn(String(text)).find((field) => !known.includes(field))
    if (unknown)
      refuse(
        'unknown-field',
        `{${unknown}} has no value here; use ${known.map((f) => `{${f}}`).join(', ')}.`,
        'definition',
      )
  }
}

const SCOPES: Readonly<Record<ScopeOf['of'], (reader: Reader, id: number) => unknown>> = {
  client: (reader, id) => clientById.get(reader, { id }),
  template: (reader, id) => templateById.get(reader, { id }),
  project: (reader, id) => projectById.get(reader, { id }),
}
/** Where a rule acts is somewhere. */
function checkScope({ reader }: Engine, { scope }: RuleDefinition): void {
  if (!scope || scope.of === 'firm') return
  if (!SCOPES[scope.of](reader, scope.id))
    refuse('no-such-place', `There is no ${scope.of} ${scope.id}.`, 'definition.scope')
}

/** What is done can be done with what the trigger is about. */
function checkActions(definition: RuleDefinition): void {
  const about = aboutOf(definition)
  for (const { kind } of actionsOf(definition)) {
    const action = actionKind(kind)
    if (action && !canDo(action, about))
      refuse('bad-action', `“${action.name}” is done with a ${action.needs}.`, 'definition')
  }
}

/** Fields that steps name are such as they can name; what they are set to fits. */
function checkFields(engine: Engine, definition: RuleDefinition): void {
  checkStep(engine, definition.trigger, argsOf(triggerKind(definition.trigger.kind)))
  for (const action of actionsOf(definition))
    checkStep(engine, action, argsOf(actionKind(action.kind)))
}
const NAMES: Readonly<Record<FieldsOf, string>> = {
  told: 'whose changes are told',
  project: 'of a project whose changes are told',
  client: 'of a client whose changes are told',
  settable: 'that can be set',
  dates: 'that is a date, other than its due',
  dated: 'of a task that is a date',
}
/** What a rule makes the next of goes by events. @throws Refusal `no-such-series` */
function checkSeries(reader: Reader, id: unknown): void {
  if (!seriesNames.all(reader).some((one) => one.byEvents && one.id === id))
    refuse(
      'no-such-series',
      'Choose a series that comes when a rule says so; make one first where there is none.',
      'definition',
    )
}
function checkStep({ reader }: Engine, step: object, args: Readonly<Record<string, Arg>>): void {
  const values: Readonly<Record<string, unknown>> = { ...step }
  const lookup = taskFields(reader)
  for (const [name, arg] of Object.entries(args)) {
    if (arg.type === 'field') {
      const field = lookup(String(values[name]))
      if (!field || !isOffered(field, arg.of))
        refuse('bad-field', `Choose a field ${NAMES[arg.of]}.`, 'definition')
    }
    if (arg.type === 'series') checkSeries(reader, values[name])
    if (arg.type === 'value') {
      const field = lookup(String(values[arg.of]))
      const value = values[name]
      if (field && isPlain(value)) keptValue(field, value)
    }
  }
}
const isPlain = (value: unknown): value is Plain => value === null || typeof value !== 'object'

/** What is asked can be asked of what the rule is about. */
function checkConditions(engine: Engine, definition: RuleDefinition): void {
  const about = aboutOf(definition)
  for (const { place, detail } of faultsIn(engine, definition))
    refuse('bad-condition', detail, `definition.${place}`)
  if (definition.trigger.kind === 'becomes-true')
    for (const { field } of testsOf(definition.conditions))
      if (field.startsWith(WAS))
        refuse(
          'bad-condition',
          'What becomes true is asked of how things are, not of what was before a change.',
          'definition.conditions',
        )
  for (const { place, conditions } of conditionsOf(definition))
    for (const { field } of testsOf(conditions))
      if (!asksOf(field, about))
        refuse(
          'bad-condition',
          `A rule about a ${about} can ask only what belongs to it.`,
          `definition.${place}`,
        )
}
