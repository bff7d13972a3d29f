import type { Items, Kind, TaskFacts } from './facts.ts'
import {
  FIELD_TYPES,
  isMany,
  type Choice,
  type FieldType,
  type Single,
  type Value,
} from './types.ts'

/** The firm's day, as what is counted from it is read. */
export interface Today {
  readonly today: string
}

/** Kinds of thing a field can point at, beside those whose fields are asked in turn. */
export type Target = Kind | 'state' | 'client-state' | 'tag' | 'series' | 'template'

/** What can be asked of an item: its name, its type, how it is read, and what can be done with it. */
export interface Field<K extends Kind = Kind> {
  readonly of: K
  readonly name: string
  readonly label: string
  readonly type: FieldType
  read(item: Items[K], now: Today): Value
  /** It holds several values, or is reached through several. */
  readonly many: boolean
  /** What its values are, where they are numbers of things. */
  readonly to?: Target
  /** What it leads to, whose fields can be asked through it. */
  readonly follow?: (item: Items[K]) => unknown
  /** What there is to choose from, where that never changes. */
  readonly choices?: readonly Choice[]
  /** The ISO 4217 code of a sum of money. */
  readonly currency?: string
  /** The time of day that goes with a date, and what an edit calls it. */
  readonly time?: { readonly read: (item: Items[K]) => string | null; readonly key: string }
  /** What an edit calls it. */
  readonly key?: string
  /** A column and nothing more: rows and edits hold it among their `values`, by its name. */
  readonly plain?: true
  /** The number of the firm's own field that it was made from. */
  readonly custom?: number
  /** An edit may not leave it empty: it falls back to a value, or stays as it is. */
  readonly needed?: true
  readonly fallback?: string
  /** The column of its item's row that the journal keeps it under; null where it has none. */
  readonly stored: string | null
  /** Can be a column of lists. */
  readonly column: boolean
  readonly groups: boolean
  readonly sorts: boolean
  readonly sums: boolean
  /** Groups, and lanes, that follow from something else: nothing can be put into them. */
  readonly heads?: 'standing' | 'week' | 'month'
  /** A name of the palette that marks its value. */
  readonly colour?: (item: Items[K]) => string | null
  /** Its words, where they are not those of its value. */
  readonly say?: (item: Items[K]) => string
  /** Its value is what most have: lists leave it out. */
  readonly usual?: (item: Items[K]) => boolean
  /** Only lists can ask it, since an index finds it; or only rules, which know what changed. */
  readonly only?: 'lists' | 'rules'
  /** Who may ask about it; left out, everybody who sees the item. */
  readonly readers?: 'members' | 'managers'
}

type Given<K extends Kind> = Pick<Field<K>, 'name' | 'label' | 'type'> & {
  [P in Exclude<keyof Field<K>, 'of' | 'name' | 'label' | 'type'>]?: Field<K>[P] | undefined
}

/** A field from what is peculiar to it: the rest follows from its type. */
export function field<K extends Kind>(of: K, given: Given<K>): Field<K> {
  const { name, type, key, plain } = given
  const known = FIELD_TYPES[type]
  const own = key !== undefined || plain === true
  const read = (item: Items[K]) => (item as unknown as TaskFacts).values[name] ?? null
  return {
    ...{ read, stored: key ?? null, column: own },
    ...{ groups: known.groups === true, sorts: known.sorts === true },
    ...{ sums: known.sums === true && own, many: isMany(type) },
    ...given,
    of,
  } as Field<K>
}

/** What a field was before the change: `was:state`. Only a rule that reacts to it knows. */
export const WAS = 'was:'
export function beforeOf(of: Field<'task'>): Field<'task'> {
  const { name, label, type, to, choices, currency, many } = of
  return field('task', {
    ...{ name: `${WAS}${name}`, label: `Before: ${label.toLowerCase()}`, type, many },
    ...{ to, choices, currency, only: 'rules', stored: null, column: false },
    ...{ groups: false, sorts: false, sums: false },
    read: ({ was }) => was?.[name] ?? null,
  })
}
/** What the journal kept of a field, as the field holds it; things by their numbers alone. */
export function heldValue({ type, many }: Field<'task'>, kept: unknown): Value {
  const numbered = FIELD_TYPES[type].numbered === true
  const one = (each: unknown): Single =>
    numbered ? { id: Number(each), name: `#${String(each)}` } : (each as Single)
  if (many) return (Array.isArray(kept) ? kept : []).map(one)
  if (type === 'yes-no') return Boolean(kept)
  return kept === null || kept === undefined ? null : one(kept)
}

/** The firm's own fields are named `field:12`, by their number. */
export const customName = (id: number): string => `field:${id}`

/** Whether changes of it are told: what is set, or kept in a column of its own. */
export const isTold = (of: Field<'task'>): boolean => isSettable(of) || of.stored !== null
/** Whether an edit can set it. */
export const isSettable = ({ key, plain, custom }: Field<'task'>): boolean =>
  key !== undefined || plain === true || custom !== undefined
