/**
 * The firm's own fields, states and tags; free of schemas, so that the interface can carry them.
 */
import { taskField, type OwnField } from '#core/fields/catalogue.ts'
import { beforeOf, customName, field, isTold, WAS, type Field } from '#core/fields/field.ts'
import type { Items } from '#core/fields/facts.ts'
import type { Plain } from '#core/fields/parse.ts'
import type { Value } from '#core/fields/types.ts'
import type { FieldOwner, Readers, State } from './words.ts'

/** Custom fields: their types as people choose them. */
export const CUSTOM_KINDS = [
  'text',
  'number',
  'money',
  'date',
  'choice',
  'person',
  'yes-no',
  'link',
] as const
export type CustomKind = (typeof CUSTOM_KINDS)[number]
export const CUSTOM_NAMES: Readonly<Record<CustomKind, string>> = {
  text: 'Text',
  number: 'Number',
  money: 'Money',
  date: 'Date',
  choice: 'Choice',
  person: 'Person',
  'yes-no': 'Yes or no',
  link: 'Link',
}
/** Choices of a choice field, the ISO 4217 code of a money field. */
export interface FieldOptions {
  readonly choices?: readonly {
    readonly key: string
    readonly name: string
    readonly colour: string
  }[]
  readonly currency?: string
}
export interface CustomField {
  readonly id: number
  /** What it is on. */
  readonly of: FieldOwner
  readonly name: string
  readonly kind: CustomKind
  readonly options: FieldOptions
  readonly projectId: number | null
  readonly templateId: number | null
  readonly hidden: boolean
  /** Who reads its values. */
  readonly readers: Readers
}
export type FieldValue = Plain

/** The number of a custom field by its name, `field:12`. */
export const customId = (field: string): number | null => {
  const found = /^field:(\d{1,15})$/.exec(field)
  return found ? Number(found[1]) : null
}
/** Somebody's name by their number, as far as it is known. */
export type NameOf = (personId: number) => string | undefined
const nameless: NameOf = () => undefined

/** What a custom field holds on a thing, as other fields hold theirs. */
function customValue({ id, kind }: CustomField, nameOf: NameOf) {
  return ({ fields }: Pick<Items[FieldOwner], 'fields'>): Value => {
    const value = fields?.[id] ?? null
    if (kind === 'yes-no') return Number(value) === 1
    if (kind !== 'person' || value === null) return value
    return { id: Number(value), name: nameOf(Number(value)) ?? '' }
  }
}

/** A custom field of a task as every other field is: the same description, made from its row. */
export const customField = (of: CustomField, nameOf?: NameOf): Field<'task'> =>
  ownFieldOf('task', of, nameOf)
function ownFieldOf<K extends FieldOwner>(
  kind: K,
  of: CustomField,
  nameOf: NameOf = nameless,
): Field<K> {
  const { choices, currency } = of.options
  return field(kind, {
    ...{ name: customName(of.id), label: of.name, type: of.kind, custom: of.id, column: true },
    ...(of.kind === 'person' && { to: 'person' as const }),
    ...(of.kind === 'choice' && {
      choices: (choices ?? []).map(({ key, ...choice }) => ({ value: key, ...choice })),
    }),
    ...(of.kind === 'money' && { currency: currency ?? 'GBP' }),
    ...(of.readers !== 'everyone' && { readers: of.readers }),
    sums: of.kind === 'number' || of.kind === 'money',
    read: customValue(of, nameOf),
  })
}

/** The moment a task last entered a state is named `entered:3`, by the state's id. */
export const enteredName = (stateId: number): string => `entered:${stateId}`
export const enteredId = (field: string): number | null => {
  const found = /^entered:(\d{1,15})$/.exec(field)
  return found ? Number(found[1]) : null
}
export const enteredField = (state: Pick<StateRow, 'id' | 'name'>): Field<'task'> =>
  field('task', {
    ...{ name: enteredName(state.id), label: `Entered “${state.name}”`, type: 'moment' },
    column: true,
    read: ({ stateDates }) => stateDates[state.id] ?? null,
  })

/** What makes fields of the firm's own rows. */
export interface OwnFields {
  /** A custom field of tasks, projects or clients, by its number. */
  readonly custom: (id: number) => CustomField | undefined
  readonly state: (id: number) => Pick<StateRow, 'id' | 'name'> | undefined
  readonly nameOf?: NameOf
}
/** Finds custom fields by what they are on, and their name. */
export const ownFinder =
  ({ custom, nameOf }: OwnFields): OwnField =>
  (kind, name) => {
    const id = customId(name)
    const row = id === null ? undefined : custom(id)
    return row?.of === kind ? (ownFieldOf(row.of, row, nameOf) as Field) : undefined
  }
/**
 * Finds fields of tasks by their path: those of every task, those of the firm's own rows, and what
 * any of them was before a change.
 */
export function lookupWith(own: OwnFields): (path: string) => Field<'task'> | undefined {
  const finder = ownFinder(own)
  const entered = (path: string) => {
    const id = enteredId(path)
    const state = id === null ? undefined : own.state(id)
    return state && enteredField(state)
  }
  const find = (path: string): Field<'task'> | undefined =>
    taskField(path, finder) ?? (finder('task', path) as Field<'task'> | undefined) ?? entered(path)
  return (path) => {
    if (!path.startsWith(WAS)) return find(path)
    const now = find(path.slice(WAS.length))
    return now && isTold(now) ? beforeOf(now) : undefined
  }
}

/** Colours that tags, states and choices may take: names of the palette in tokens.css. */
export const PALETTE = [
  'fern',
  'dusk',
  'heather',
  'ochre',
  'alarm',
  'moss',
  'slate',
  'rose',
  'teal',
  'clay',
] as const
export type Colour = (typeof PALETTE)[number]

export interface StateRow {
  readonly id: number
  readonly setId: number
  readonly name: string
  readonly kind: State
  readonly colour: string | null
  readonly only: 'anyone' | 'lead' | 'manager'
}
export interface TagRow {
  readonly id: number
  readonly name: string
  readonly colour: string
}
