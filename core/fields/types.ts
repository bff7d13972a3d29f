/** Types that fields have; how each is asked, said and read belongs to the type, never to a field. */

/** Something with a number, by its name. */
export interface Ref {
  readonly id: number
  readonly name: string
  /** A name of the palette, or a kind of state. */
  readonly colour?: string | null
}
/** What a field chooses from. */
export interface Choice {
  readonly value: string | number
  readonly name: string
  readonly colour?: string | null
}

/** One value; a date is `YYYY-MM-DD`, a moment epoch milliseconds, money minor units. */
export type Single = string | number | boolean | Ref
/** What a field holds: nothing, one value, or several. */
export type Value = Single | readonly Single[] | null

/** How a test compares. Those of a pair say the opposite of each other, nothing included. */
export type Op =
  | 'is'
  | 'is-not'
  | 'in'
  | 'not-in'
  | 'has'
  | 'has-not'
  | 'at-least'
  | 'at-most'
  | 'below'
  | 'above'
  | 'before'
  | 'after'
  | 'within'
  | 'empty'
  | 'filled'

interface NamedOp {
  readonly op: Op
  readonly name: string
}
const FILLED: readonly NamedOp[] = [
  { op: 'filled', name: 'is filled in' },
  { op: 'empty', name: 'is empty' },
]
const WORDS: readonly NamedOp[] = [
  { op: 'has', name: 'contains' },
  { op: 'has-not', name: 'does not contain' },
]
const EXACT: readonly NamedOp[] = [
  { op: 'is', name: 'is exactly' },
  { op: 'is-not', name: 'is not exactly' },
]
const AMOUNT: readonly NamedOp[] = [
  { op: 'at-least', name: 'is at least' },
  { op: 'at-most', name: 'is at most' },
  { op: 'above', name: 'is more than' },
  { op: 'below', name: 'is less than' },
  { op: 'is', name: 'is' },
  { op: 'is-not', name: 'is not' },
  ...FILLED,
]
const chosen = (filled: string, empty: string): readonly NamedOp[] => [
  { op: 'in', name: 'is' },
  { op: 'not-in', name: 'is not' },
  { op: 'filled', name: filled },
  { op: 'empty', name: empty },
]
const SET = chosen('is set', 'is not set')
const SOMEBODY = chosen('is somebody', 'is nobody')

/** What a type's tests compare with, and how each can be asked, in the words people read. */
interface FieldTypeOf {
  readonly operand: 'text' | 'amount' | 'day' | 'list' | 'truth'
  readonly ops: readonly NamedOp[]
  /** What values of it are numbers of; those of others are words. */
  readonly numbered?: true
  /** Can stand over groups, order rows, be summed up, unless a field says otherwise. */
  readonly groups?: true
  readonly sorts?: true
  readonly sums?: true
}
const type = <T extends FieldTypeOf>(of: T): FieldTypeOf => of

export const FIELD_TYPES = {
  text: type({ operand: 'text', ops: [...WORDS, ...EXACT, ...FILLED], sorts: true }),
  /** Words found by an index: what only lists can ask. */
  words: type({ operand: 'text', ops: WORDS }),
  rich: type({ operand: 'text', ops: [...WORDS, ...FILLED] }),
  link: type({ operand: 'text', ops: [...WORDS, ...FILLED] }),
  number: type({ operand: 'amount', ops: AMOUNT, sorts: true, sums: true }),
  minutes: type({ operand: 'amount', ops: AMOUNT, sorts: true, sums: true }),
  money: type({ operand: 'amount', ops: AMOUNT, sorts: true, sums: true }),
  date: type({
    operand: 'day',
    ops: [
      { op: 'within', name: 'is in' },
      { op: 'before', name: 'is before' },
      { op: 'after', name: 'is after' },
      { op: 'filled', name: 'is set' },
      { op: 'empty', name: 'is not set' },
    ],
    sorts: true,
  }),
  moment: type({
    operand: 'day',
    ops: [
      { op: 'within', name: 'was in' },
      { op: 'before', name: 'was before' },
      { op: 'after', name: 'was after' },
      { op: 'filled', name: 'has happened' },
      { op: 'empty', name: 'has not happened' },
    ],
    sorts: true,
  }),
  'yes-no': type({ operand: 'truth', ops: [{ op: 'is', name: 'is' }], groups: true, sorts: true }),
  choice: type({ operand: 'list', ops: SET, groups: true, sorts: true }),
  state: type({ operand: 'list', ops: SET, groups: true, sorts: true, numbered: true }),
  item: type({ operand: 'list', ops: SET, groups: true, sorts: true, numbered: true }),
  person: type({ operand: 'list', ops: SOMEBODY, groups: true, sorts: true, numbered: true }),
  people: type({ operand: 'list', ops: SOMEBODY, groups: true, sorts: true, numbered: true }),
  tags: type({ operand: 'list', ops: SET, groups: true, numbered: true }),
} as const
export type FieldType = keyof typeof FIELD_TYPES

/** Types whose fields hold several values. */
export const isMany = (of: FieldType): boolean => of === 'people' || of === 'tags'
export const isRef = (value: unknown): value is Ref =>
  typeof value === 'object' && value !== null && 'id' in value
