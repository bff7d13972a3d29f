import { fieldNamed, fieldsOf, taskField, walkedFields } from '#core/fields/catalogue.ts'
import {
  beforeOf,
  customName,
  isSettable,
  isTold,
  type Field,
  type Target,
} from '#core/fields/field.ts'
import { editOf } from '#core/fields/parse.ts'
import { sayOf } from '#core/fields/say.ts'
import { isMany, isRef, type Choice, type FieldType, type Value } from '#core/fields/types.ts'
import { sayMoney } from '#core/money/money.ts'
import { awayWord, plural, sayMinutes } from '#core/text/speak.ts'
import {
  customField,
  customId,
  enteredField,
  lookupWith,
  ownFinder,
  type CustomField,
  type OwnFields,
} from '#contract/fields.ts'
import type { Directory } from '#contract/desks.ts'
import type { TaskPatch, TaskRow } from '#contract/tasks.ts'
import { projectIn, statesFor, type Known } from './known.ts'

/** Fields of tasks as every desk uses them: found, chosen from, said, coloured and set. */

export type TaskField = Field<'task'>

/** What makes fields of the firm's own rows. */
const ownIn = (directory: Directory): OwnFields => ({
  custom: (id) => directory.fields.find((f) => f.id === id),
  state: (id) => directory.states.find((s) => s.id === id),
  nameOf: (id) => directory.people.find((p) => p.id === id)?.name,
})
/** Made once for what is known of the firm. */
const lookups = new WeakMap<Directory, (path: string) => TaskField | undefined>()
function lookupIn(directory: Directory): (path: string) => TaskField | undefined {
  const known = lookups.get(directory)
  if (known) return known
  const find = lookupWith(ownIn(directory))
  const kept = new Map<string, TaskField | undefined>()
  const lookup = (path: string) => {
    // Every cell asks: what was found is kept.
    if (!kept.has(path)) kept.set(path, find(path))
    return kept.get(path)
  }
  lookups.set(directory, lookup)
  return lookup
}
/** A field by its path; undefined for one that is gone. */
export const fieldOf = ({ directory }: Known, path: string): TaskField | undefined =>
  fieldNamed('task', path) ?? lookupIn(directory)(path)

/** Whether a custom field belongs in a scope; fields of templates stand wherever work is mixed. */
function belongs({ of, hidden, projectId, templateId }: CustomField, known: Known): boolean {
  const { scope } = known
  if (of !== 'task' || hidden) return false
  if (projectId !== null && (scope.of !== 'project' || scope.id !== projectId)) return false
  return (
    templateId === null || scope.of !== 'project' || projectIn(known)?.templateId === templateId
  )
}
const mayAsk =
  ({ member }: Known) =>
  (field: TaskField): boolean =>
    member || field.readers !== 'members'

/** Fields that a scope has: those of every task, then its custom ones and the dates of states. */
export function fieldsIn(known: Known): TaskField[] {
  const { directory } = known
  const custom = directory.fields.filter((field) => belongs(field, known))
  const nameOf = (id: number) => directory.people.find((p) => p.id === id)?.name
  return [
    ...fieldsOf('task'),
    ...custom.map((field) => customField(field, nameOf)),
    ...statesFor(known, projectIn(known)?.id ?? null).map(enteredField),
  ].filter(mayAsk(known))
}
/** Fields of what a task belongs to, those of the firm's own among them. */
function walkedIn(known: Known): TaskField[] {
  const { fields } = known.directory
  const shown = (kind: string) =>
    fields.filter(({ of, hidden }) => of === kind && !hidden).map(({ id }) => customName(id))
  return walkedFields(shown, ownFinder(ownIn(known.directory))).filter(mayAsk(known))
}
/**
 * The same, with those of what a task belongs to: what conditions can ask. In a rule, also what was
 * before, and nothing that only an index finds.
 */
export function askedIn(known: Known, inRule = false): TaskField[] {
  const own = fieldsIn(known).filter((field) => field.heads !== 'week' && field.heads !== 'month')
  const asked = [...own, ...walkedIn(known)]
  if (!inRule) return asked
  return [
    ...asked.filter((field) => field.only !== 'lists'),
    ...own.filter((field) => isTold(field) && field.type !== 'rich').map(beforeOf),
  ]
}

/** What work can be grouped by: its own fields, and those of what it belongs to. */
export const groupsIn = (known: Known): TaskField[] =>
  [...fieldsIn(known), ...walkedIn(known)].filter((field) => field.groups)

type Named = { readonly id: number; readonly name: string; readonly colour?: string }
const named = (list: readonly Named[]): Choice[] =>
  list.map(({ id, name, colour }) => ({ value: id, name, ...(colour && { colour }) }))
/** People to give work to say whether they are away; those to look for are everybody. */
const people = ({ directory }: Known, everybody = false): Choice[] =>
  named(
    everybody
      ? directory.people
      : directory.people
          .filter((p) => p.active)
          .map((p) => (p.awayUntil ? { ...p, name: `${p.name}, ${awayWord(p.awayUntil)}` } : p)),
  )
const phasesOf = (known: Known, projectId: number | null): Choice[] =>
  known.phases
    .filter((phase) => projectId === null || phase.projectId === projectId)
    .map(({ id: value, name, projectId: of }) => {
      const project = known.projects.find((p) => p.id === of)?.name ?? ''
      return { value, name: projectId === null ? `${project}: ${name}` : name }
    })

/** What there is of each kind of thing; in a project, what its tasks can take. */
const THINGS: Readonly<
  Partial<Record<Target, (known: Known, projectId: number | null, settable: boolean) => Choice[]>>
> = {
  person: (known, _, settable) => people(known, !settable),
  client: ({ directory }) => named(directory.clients),
  project: ({ directory }) => named(directory.projects),
  template: ({ directory }) => named(directory.templates),
  series: ({ directory }) => named(directory.series),
  'client-state': ({ directory }) => named(directory.clientStates),
  tag: ({ directory }) => named(directory.tags),
  phase: phasesOf,
  state: (known, projectId) =>
    statesFor(known, projectId).map((s) => ({
      ...{ value: s.id, name: s.name },
      colour: s.colour ?? s.kind,
    })),
}

/** What a field can be set to or asked for; for a task, what that task can take. */
export function choicesFor(known: Known, path: string, task?: TaskRow): Choice[] {
  const field = fieldOf(known, path)
  if (!field) return []
  if (field.choices) return [...field.choices]
  const project = task ? task.project : projectIn(known)
  return THINGS[field.to ?? 'task']?.(known, project?.id ?? null, isSettable(field)) ?? []
}

const keyOf = (value: unknown): string | number =>
  isRef(value) ? value.id : typeof value === 'boolean' ? Number(value) : (value as string | number)
const listed = (value: Value): readonly unknown[] =>
  value === null ? [] : Array.isArray(value) ? value : [value]
/** Which choices of a field a task has. */
export const chosenOf = (known: Known, path: string, task: TaskRow): (string | number)[] =>
  listed(fieldOf(known, path)?.read(task, known) ?? null).map(keyOf)

/** The edit that sets a field to one value; null where it cannot be set to that. */
export function editFor(
  known: Known,
  path: string,
  value: string | number | boolean | null,
): TaskPatch | null {
  const field = fieldOf(known, path)
  if (!field || !isSettable(field)) return null
  if (value !== null || !field.needed) return editOf(field, value) as TaskPatch
  return field.fallback === undefined ? null : (editOf(field, field.fallback) as TaskPatch)
}

/** Whether a person can set a field in a list. */
export function canSet(known: Known, path: string): boolean {
  const field = fieldOf(known, path)
  return field !== undefined && isSettable(field) && field.column
}

/** Whether a field's groups can be dropped on: they do not follow from something else. */
export function takesDrops(path: string): boolean {
  const field = taskField(path)
  if (!field) return customId(path) !== null
  return isSettable(field) && field.groups && field.heads === undefined
}

/**
 * The edit that moves a task under a group; null where a group cannot be dropped on (a week, a
 * client's tier). From one person, or tag, to another: the others stay.
 */
export function editForGroup(
  known: Known,
  path: string,
  { key, from }: { key: string | number | null; from: string | number | null },
  task: TaskRow,
): TaskPatch | null {
  const field = fieldOf(known, path)
  if (!field || !takesDrops(path)) return null
  if (!isMany(field.type)) return editFor(known, path, key)
  if (key === null) return editOf(field, []) as TaskPatch
  const others = chosenOf(known, path, task).filter((value) => value !== from)
  return editOf(field, [...new Set([...others, key].map(Number))]) as TaskPatch
}

/** A number of a summed field as people read it. */
export function saySum(known: Known, path: string, sum: number): string {
  const field = fieldOf(known, path)
  if (field?.type === 'minutes') return sayMinutes(sum)
  if (field?.type === 'money') return sayMoney(sum, field.currency ?? 'GBP')
  return String(Math.round(sum * 100) / 100)
}

/** The words of a field on a task; nothing where it has none, or where they go without saying. */
export function sayField(known: Known, path: string, task: TaskRow): string {
  const field = fieldOf(known, path)
  return field ? sayOf(field, task, known, true) : ''
}

export const KIND_COLOURS: Readonly<Record<string, string>> = {
  'not-started': 'slate',
  'under-way': 'dusk',
  waiting: 'ochre',
  'in-review': 'heather',
  done: 'fern',
  dropped: 'slate',
}
/** The palette's name of a colour that may be a kind of state. */
export const paletteOf = (colour: string | null | undefined): string | null =>
  colour ? (KIND_COLOURS[colour] ?? colour) : null

const CYCLE = ['teal', 'clay', 'moss', 'rose', 'dusk', 'heather', 'ochre', 'fern'] as const
/** A colour for each of many things of one kind, the same each time. */
const nth = (id: number): string => CYCLE[id % CYCLE.length]!

const ofThing = (value: unknown): string | null => (isRef(value) ? nth(value.id) : null)
const ofOwn = (value: unknown): string | null => (isRef(value) ? paletteOf(value.colour) : null)
/** The colour of the first value that a field of each type holds. */
const COLOURS: Readonly<
  Partial<Record<FieldType, (value: unknown, field: TaskField) => string | null>>
> = {
  state: ofOwn,
  tags: ofOwn,
  ...{ item: ofThing, person: ofThing, people: ofThing },
  choice: (value, { choices }) =>
    paletteOf(choices?.find((choice) => choice.value === value)?.colour),
  'yes-no': (value) => (value === true ? 'teal' : null),
}

/** The colour that a field gives a task, as a name of the palette; null for none. */
export function colourFor(known: Known, path: string | null, task: TaskRow): string | null {
  const field = path === null ? undefined : fieldOf(known, path)
  if (!field) return null
  if (field.colour) return field.colour(task)
  const [first] = listed(field.read(task, known))
  return first === undefined ? null : (COLOURS[field.type]?.(first, field) ?? null)
}

/** A line about how many and how much. */
export const sayCount = (count: number, minutes: number): string =>
  `${plural(count, 'task')}${minutes ? ` · ${sayMinutes(minutes)}` : ''}`
