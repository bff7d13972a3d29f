import { sayMoney } from '#core/money/money.ts'
import { plural, sayMinutes } from '#core/text/speak.ts'
import {
  customId,
  customName,
  customSpec,
  enteredId,
  enteredName,
  enteredSpec,
  sayValue,
  TASK_FIELDS,
  type Choice,
  type CustomField,
  type FieldSpec,
} from '#contract/fields.ts'
import type { TaskPatch, TaskRow } from '#contract/tasks.ts'
import { sayInstant } from '#web/parts/say.ts'
import { projectIn, statesFor, type Known } from './known.ts'
import { activePeople, KIND_COLOURS, nth, TASK_FIELDS_HERE, type Value } from './task-fields.ts'

/** Fields as views use them: those of every task, the firm's own, and the dates of states. */

export type NamedSpec = FieldSpec & { readonly field: string }

export const customOf = (known: Known, field: string): CustomField | undefined =>
  known.directory.fields.find((f) => f.id === customId(field))

/** Whether a custom field belongs in a scope; fields of templates stand wherever work is mixed. */
function belongs({ hidden, projectId, templateId }: CustomField, known: Known): boolean {
  const { scope } = known
  if (hidden || (projectId !== null && (scope.of !== 'project' || scope.id !== projectId)))
    return false
  return (
    templateId === null || scope.of !== 'project' || projectIn(known)?.templateId === templateId
  )
}

/** Fields that a scope has: those of every task, then its custom ones. */
export function fieldsIn(known: Known): NamedSpec[] {
  const custom = known.directory.fields.filter((field) => belongs(field, known))
  const entered = statesFor(known, projectIn(known)?.id ?? null).map((s): NamedSpec => ({
    field: enteredName(s.id),
    ...enteredSpec(s.name),
  }))
  return [
    ...Object.entries(TASK_FIELDS).map(([field, spec]): NamedSpec => ({ field, ...spec })),
    ...custom.map((f): NamedSpec => ({ field: customName(f.id), ...customSpec(f) })),
    ...entered,
  ]
}
export const specOf = (known: Known, field: string): FieldSpec | undefined => {
  const own = customOf(known, field)
  const stateId = enteredId(field)
  if (stateId !== null) {
    const state = known.directory.states.find((s) => s.id === stateId)
    return state && enteredSpec(state.name)
  }
  return own
    ? customSpec(own)
    : Object.hasOwn(TASK_FIELDS, field)
      ? TASK_FIELDS[field as keyof typeof TASK_FIELDS]
      : undefined
}

const customChoices = ({ kind, options }: CustomField, known: Known): Choice[] | null => {
  if (kind === 'person') return activePeople(known.directory)
  if (kind !== 'choice') return null
  return (options.choices ?? []).map(({ key: value, name, colour }) => ({ value, name, colour }))
}

/** What a field can be set to or asked for; for a task, what that task can take. */
export function choicesFor(known: Known, field: string, task?: TaskRow): Choice[] {
  const own = customOf(known, field)
  if (own) return customChoices(own, known) ?? []
  const project = task ? task.project : projectIn(known)
  return TASK_FIELDS_HERE[field]?.choices?.(known, project?.id ?? null) ?? []
}

/** Which choices of a field a task has. */
export function chosenOf(known: Known, field: string, task: TaskRow): Value[] {
  const own = customOf(known, field)
  const value = own && task.fields[own.id]
  if (own) return value === undefined ? [] : [value]
  return TASK_FIELDS_HERE[field]?.chosen?.(task) ?? []
}

/** The edit that sets a field to one value; null where it cannot be set to that. */
export function editFor(field: string, value: Value | null): TaskPatch | null {
  const id = customId(field)
  return id === null ? (TASK_FIELDS_HERE[field]?.set?.(value) ?? null) : { fields: { [id]: value } }
}

/** A number of a summed field as people read it. */
export function saySum(known: Known, field: string, sum: number): string {
  const spec = specOf(known, field)
  if (spec?.type === 'minutes') return sayMinutes(sum)
  if (spec?.type === 'money')
    return sayMoney(sum, customOf(known, field)?.options.currency ?? 'GBP')
  return String(Math.round(sum * 100) / 100)
}

/** The words of a field on a task; nothing where it has none. */
export function sayField(known: Known, field: string, task: TaskRow): string {
  // Every cell asks: what all tasks have is known at once.
  const here = TASK_FIELDS_HERE[field]
  if (here) return here.say?.(task, known) ?? ''
  const { today, zone, directory } = known
  const stateId = enteredId(field)
  if (stateId !== null) {
    const at = task.stateDates[stateId]
    return at ? sayInstant(at, today, zone) : ''
  }
  const own = customOf(known, field)
  const nameOf = (id: number) => directory.people.find((p) => p.id === id)?.name
  return own ? sayValue(own, task.fields[own.id], nameOf, today) : ''
}

/** The palette's name of a colour that may be a kind of state. */
export const paletteOf = (colour: string | null | undefined): string | null =>
  colour ? (KIND_COLOURS[colour] ?? colour) : null

function customColour({ kind, options }: CustomField, value: unknown): string | null {
  if (kind === 'choice') return options.choices?.find((c) => c.key === value)?.colour ?? null
  if (kind === 'person') return nth(Number(value) || null)
  return value ? 'teal' : null
}

/** The colour that a field gives a task, as a name of the palette; null for none. */
export function colourFor(known: Known, field: string | null, task: TaskRow): string | null {
  if (field === null) return null
  const here = TASK_FIELDS_HERE[field]
  if (here) return here.colour?.(task) ?? null
  const own = customOf(known, field)
  return own ? customColour(own, task.fields[own.id]) : null
}

/** Fields whose value a person can set in a list. */
const SETTABLE: ReadonlySet<string> = new Set([
  'title',
  'state',
  'priority',
  'assignee',
  'client',
  'project',
  'phase',
  'tag',
  'start',
  'due',
  'estimate',
])
export const isSettable = (field: string): boolean =>
  SETTABLE.has(field) || customId(field) !== null

/**
 * The edit that moves a task under a group; null where a group cannot be dropped on (a week, a
 * client's tier). From one person, or tag, to another: the others stay.
 */
export function editForGroup(
  field: string,
  key: Value | null,
  from: Value | null,
  task: TaskRow,
): TaskPatch | null {
  const { setAll, chosen } = TASK_FIELDS_HERE[field] ?? {}
  if (!setAll) return editFor(field, key)
  if (key === null) return setAll([])
  const others = (chosen?.(task) ?? []).filter((value) => value !== from)
  return setAll([...new Set([...others, key].map(Number))])
}

/** A line about how many and how much. */
export const sayCount = (count: number, minutes: number): string =>
  `${plural(count, 'task')}${minutes ? ` · ${sayMinutes(minutes)}` : ''}`
