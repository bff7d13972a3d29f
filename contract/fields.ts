/**
 * Fields of a task that lists can show, filter, sort and group by; free of schemas, so that the
 * interface can carry them.
 */
import { sayMoney } from '#core/money/money.ts'
import { sayDate } from '#core/text/speak.ts'
import type { State } from './words.ts'

/** Types a field can have. `instant` is a moment that is asked about by its day. */
export type FieldType =
  | 'text'
  | 'number'
  | 'minutes'
  | 'money'
  | 'date'
  | 'instant'
  | 'choice'
  | 'people'
  | 'flag'
  | 'link'

export interface FieldSpec {
  readonly name: string
  readonly type: FieldType
  /** Can stand over groups, columns and lanes. */
  readonly groups?: true
  /** Can be a column of lists. */
  readonly column?: true
  /** Can order rows. */
  readonly sorts?: true
  /** Is summed at the foot of a group. */
  readonly sums?: true
}

export const TASK_FIELDS = {
  id: { name: 'Number', type: 'number', column: true, sorts: true },
  title: { name: 'Title', type: 'text', sorts: true },
  words: { name: 'Words anywhere', type: 'text' },
  state: { name: 'State', type: 'choice', groups: true, column: true, sorts: true },
  kind: { name: 'Kind of state', type: 'choice', groups: true },
  priority: { name: 'Priority', type: 'choice', groups: true, column: true, sorts: true },
  assignee: { name: 'On it', type: 'people', groups: true, column: true, sorts: true },
  follower: { name: 'Follower', type: 'people' },
  creator: { name: 'Made by', type: 'people', groups: true },
  client: { name: 'Client', type: 'choice', groups: true, column: true, sorts: true },
  tier: { name: 'Client’s tier', type: 'choice', groups: true },
  project: { name: 'Project', type: 'choice', groups: true, column: true, sorts: true },
  phase: { name: 'Phase', type: 'choice', groups: true, column: true, sorts: true },
  tag: { name: 'Tag', type: 'choice', groups: true, column: true },
  template: { name: 'Template', type: 'choice', groups: true },
  series: { name: 'Series', type: 'choice', groups: true },
  start: { name: 'Start', type: 'date', column: true, sorts: true },
  due: { name: 'Due', type: 'date', groups: true, column: true, sorts: true },
  week: { name: 'Week due', type: 'date', groups: true },
  month: { name: 'Month due', type: 'date', groups: true },
  created: { name: 'Made', type: 'instant', column: true, sorts: true },
  closed: { name: 'Closed', type: 'instant', column: true, sorts: true },
  entered: { name: 'In this state since', type: 'instant', column: true, sorts: true },
  estimate: { name: 'Estimate', type: 'minutes', column: true, sorts: true, sums: true },
  late: { name: 'Late', type: 'flag' },
  open: { name: 'Open', type: 'flag' },
  archived: { name: 'Archived', type: 'flag' },
  subtask: { name: 'Subtask', type: 'flag' },
  parent: { name: 'Subtask of number', type: 'number' },
  rung: { name: 'Rung', type: 'number', sorts: true },
  files: { name: 'Files and links', type: 'number' },
  comments: { name: 'Comments', type: 'number' },
  steps: { name: 'Checklist', type: 'number', column: true },
} as const satisfies Record<string, FieldSpec>
export type TaskField = keyof typeof TASK_FIELDS

/** How each type can be asked about, in the words people read. */
export const OPS: Readonly<
  Record<FieldType, readonly { readonly op: Op; readonly name: string }[]>
> = {
  text: [
    { op: 'has', name: 'contains' },
    { op: 'has-not', name: 'does not contain' },
    { op: 'filled', name: 'is filled in' },
    { op: 'empty', name: 'is empty' },
  ],
  link: [
    { op: 'has', name: 'contains' },
    { op: 'filled', name: 'is filled in' },
    { op: 'empty', name: 'is empty' },
  ],
  number: [
    { op: 'is', name: 'is' },
    { op: 'at-least', name: 'is at least' },
    { op: 'at-most', name: 'is at most' },
    { op: 'filled', name: 'is filled in' },
    { op: 'empty', name: 'is empty' },
  ],
  minutes: [
    { op: 'at-least', name: 'is at least' },
    { op: 'at-most', name: 'is at most' },
    { op: 'filled', name: 'is filled in' },
    { op: 'empty', name: 'is empty' },
  ],
  money: [
    { op: 'at-least', name: 'is at least' },
    { op: 'at-most', name: 'is at most' },
    { op: 'filled', name: 'is filled in' },
    { op: 'empty', name: 'is empty' },
  ],
  date: [
    { op: 'within', name: 'is in' },
    { op: 'before', name: 'is before' },
    { op: 'after', name: 'is after' },
    { op: 'filled', name: 'is set' },
    { op: 'empty', name: 'is not set' },
  ],
  instant: [
    { op: 'within', name: 'was in' },
    { op: 'before', name: 'was before' },
    { op: 'after', name: 'was after' },
    { op: 'filled', name: 'has happened' },
    { op: 'empty', name: 'has not happened' },
  ],
  choice: [
    { op: 'in', name: 'is' },
    { op: 'not-in', name: 'is not' },
    { op: 'filled', name: 'is set' },
    { op: 'empty', name: 'is not set' },
  ],
  people: [
    { op: 'in', name: 'is' },
    { op: 'not-in', name: 'is not' },
    { op: 'filled', name: 'is somebody' },
    { op: 'empty', name: 'is nobody' },
  ],
  flag: [{ op: 'is', name: 'is' }],
}
export type Op =
  | 'is'
  | 'in'
  | 'not-in'
  | 'has'
  | 'has-not'
  | 'at-least'
  | 'at-most'
  | 'before'
  | 'after'
  | 'within'
  | 'empty'
  | 'filled'

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
const AS_TYPE: Readonly<Record<CustomKind, FieldType>> = {
  text: 'text',
  number: 'number',
  money: 'money',
  date: 'date',
  choice: 'choice',
  person: 'people',
  'yes-no': 'flag',
  link: 'link',
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
  readonly name: string
  readonly kind: CustomKind
  readonly options: FieldOptions
  readonly projectId: number | null
  readonly templateId: number | null
  readonly hidden: boolean
}
export type FieldValue = string | number | boolean | null

/** Custom fields are named `field:12` wherever fields are named. */
export const customName = (id: number): string => `field:${id}`
export const customId = (field: string): number | null => {
  const found = /^field:(\d{1,15})$/.exec(field)
  return found ? Number(found[1]) : null
}
/**
 * A custom field's value in words; `nameOf` knows people, `today` shortens dates near it. Nothing
 * for nothing.
 */
export function sayValue(
  field: Pick<CustomField, 'kind' | 'options'>,
  value: FieldValue | undefined,
  nameOf: (personId: number) => string | undefined,
  today?: string,
): string {
  if (value === undefined || value === null || value === '') return ''
  const { choices, currency = 'GBP' } = field.options
  const say: Partial<Record<CustomKind, () => string | undefined>> = {
    choice: () => choices?.find((c) => c.key === value)?.name,
    person: () => nameOf(Number(value)) ?? '',
    'yes-no': () => (value ? 'Yes' : 'No'),
    date: () => sayDate(String(value), today),
    money: () => sayMoney(Number(value), currency),
  }
  return say[field.kind]?.() ?? String(value)
}

/** The moment a task last entered a state is named `entered:3`, by the state's id. */
export const enteredName = (stateId: number): string => `entered:${stateId}`
export const enteredId = (field: string): number | null => {
  const found = /^entered:(\d{1,15})$/.exec(field)
  return found ? Number(found[1]) : null
}
export const enteredSpec = (state: string): FieldSpec => ({
  name: `Entered “${state}”`,
  type: 'instant',
  column: true,
  sorts: true,
})
/** A custom field as lists treat it. */
export const customSpec = (field: CustomField): FieldSpec => ({
  name: field.name,
  type: AS_TYPE[field.kind],
  column: true,
  ...(field.kind !== 'link' && { sorts: true }),
  ...((field.kind === 'choice' || field.kind === 'person' || field.kind === 'yes-no') && {
    groups: true,
  }),
  ...((field.kind === 'number' || field.kind === 'money') && { sums: true }),
})

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
/** What a field chooses from. */
export interface Choice {
  readonly value: string | number
  readonly name: string
  readonly colour?: string | null
}
