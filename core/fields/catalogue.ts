import type { Items, Kind } from './facts.ts'
import type { Field, Today, Target } from './field.ts'
import { CLIENT_FIELDS, PERSON_FIELDS, PHASE_FIELDS, PROJECT_FIELDS } from './places.ts'
import { TASK_FIELDS } from './task.ts'
import type { Single, Value } from './types.ts'

/** All fields by kind and name: what shows, asks, sets and tells of items finds them here. */

type Catalogue = { readonly [K in Kind]: Map<string, Field<K>> }
const byName = <K extends Kind>(fields: readonly Field<K>[]): Map<string, Field<K>> =>
  new Map(fields.map((each) => [each.name, each]))
const catalogue: Catalogue = {
  task: byName(TASK_FIELDS),
  project: byName(PROJECT_FIELDS),
  client: byName(CLIENT_FIELDS),
  phase: byName(PHASE_FIELDS),
  person: byName(PERSON_FIELDS),
}

/** Puts a field where all that shows, asks, sets and tells of items finds it. */
export function register<K extends Kind>(added: Field<K>): Field<K> {
  const fields = catalogue[added.of] as Map<string, Field<K>>
  if (fields.has(added.name)) throw new Error(`There are two fields ${added.of}.${added.name}.`)
  fields.set(added.name, added)
  forget()
  return added
}
/** Takes a registered field out again. */
export function unregister<K extends Kind>(field: Field<K>): void {
  catalogue[field.of].delete(field.name)
  forget()
}

/** What was worked out of the catalogue is worked out anew. */
function forget(): void {
  walks.clear()
  columns = null
}

/** The fields of a kind of item, in the order they are offered. */
export const fieldsOf = <K extends Kind>(kind: K): Field<K>[] =>
  [...catalogue[kind].values()] as Field<K>[]
export const fieldNamed = <K extends Kind>(kind: K, name: string): Field<K> | undefined =>
  catalogue[kind].get(name) as Field<K> | undefined

let columns: ReadonlyMap<string, string> | null = null
/**
 * Fields of a task by the column of its row that keeps them; a time of day is named beside its date:
 * `due.time`.
 */
export function columnsOfTask(): ReadonlyMap<string, string> {
  if (columns) return columns
  const found = new Map<string, string>()
  for (const { name, stored, time } of catalogue.task.values()) {
    if (stored !== null) found.set(stored, name)
    if (time) found.set(time.key, `${name}.time`)
  }
  return (columns = found)
}

/** The field that a column of an item's row keeps, as the journal names columns. */
export function storedIn<K extends Kind>(kind: K, column: string): Field<K> | undefined {
  for (const field of catalogue[kind].values())
    if (field.stored === column) return field as Field<K>
  return undefined
}

const isKind = (target: Target | undefined): target is Kind =>
  target !== undefined && Object.hasOwn(catalogue, target)

/** A field of what another field leads to: `project.lead`, `client.tier`. */
function through<K extends Kind>(first: Field<K>, rest: Field): Field<K> {
  const follow = first.follow!
  const { read: inner } = rest
  const one = inner as (item: unknown, now: Today) => Value
  const read = first.many
    ? (item: Items[K], now: Today): Value =>
        (follow(item) as readonly unknown[]).flatMap((each) => one(each, now) ?? []) as Single[]
    : (item: Items[K], now: Today): Value => {
        const next = follow(item)
        return next == null ? null : one(next, now)
      }
  const { follow: on, readers = first.readers } = rest
  return {
    ...{ of: first.of, name: `${first.name}.${rest.name}`, type: rest.type, read, stored: null },
    many: first.many || rest.many,
    label: `${first.label}: ${rest.label.toLowerCase()}`,
    ...meaning(rest),
    ...(on && !first.many && { follow: (item) => nextOf(follow(item), on) }),
    ...{ column: false, sorts: rest.sorts && !first.many, sums: false },
    groups: rest.groups && !first.many && !rest.many,
    ...(readers && { readers }),
  } as Field<K>
}
/** What its values mean. */
const meaning = ({ to, choices, currency }: Field) => ({
  ...(to && { to }),
  ...(choices && { choices }),
  ...(currency && { currency }),
})
const nextOf = (item: unknown, on: NonNullable<Field['follow']>): unknown =>
  item == null ? null : on(item as never)

const walks = new Map<string, Field<'task'>>()
const DEEPEST = 3
/** Finds a field of a kind of thing that is none of the catalogue's: the firm's own. */
export type OwnField = (kind: Kind, name: string) => Field | undefined
/**
 * A path of names from a task: `due`, `project.lead`, `project.client.tier`; it may end with a field
 * of the firm's own.
 */
export function taskField(path: string, own?: OwnField): Field<'task'> | undefined {
  const direct = fieldNamed('task', path)
  if (direct) return direct
  const kept = walks.get(path)
  if (kept) return kept
  const names = path.split('.')
  const found = walk(names)
  // What is asked for in vain is not kept: anybody may ask for anything.
  if (found) walks.set(path, found)
  return found ?? (own && walk(names, own))
}
function walk(names: readonly string[], own?: OwnField): Field<'task'> | undefined {
  const [first, ...rest] = names
  let field = fieldNamed('task', first ?? '')
  if (rest.length === 0 || rest.length >= DEEPEST) return undefined
  for (const name of rest) {
    if (!field?.follow || !isKind(field.to)) return undefined
    const next = (fieldNamed(field.to, name) as Field | undefined) ?? own?.(field.to, name)
    field = next && through(field, next)
  }
  return field
}

/** What can be asked of a task through what it belongs to; of each kind, more than the catalogue's. */
export function walkedFields(
  more: (kind: Kind) => readonly string[] = () => [],
  own?: OwnField,
): Field<'task'>[] {
  const from = (path: string, kind: Kind, depth: number): string[] => [
    ...fieldsOf(kind).flatMap((each) => {
      const here = path ? `${path}.${each.name}` : each.name
      const on =
        each.follow && isKind(each.to) && depth < DEEPEST ? from(here, each.to, depth + 1) : []
      return path ? [here, ...on] : on
    }),
    ...(path ? more(kind).map((name) => `${path}.${name}`) : []),
  ]
  return from('', 'task', 1).flatMap((path) => taskField(path, own) ?? [])
}
