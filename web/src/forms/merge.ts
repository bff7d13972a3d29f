/**
 * Merges what two people made of one thing: what only one of them changed stands as that one has
 * it, and what both changed otherwise is a clash, in which `mine` stands for now.
 */
export interface Merged<T> {
  readonly value: T
  /** Where both changed the same, as a path: `name`, `definition.rungs.r1.delay`. */
  readonly clashes: readonly string[]
}

export const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b)

/** What of something was changed: what somebody else changes meanwhile in another field stands. */
export const changedIn = <T extends object>(before: T, now: T): Partial<T> => {
  const was = new Map<string, unknown>(Object.entries(before))
  const changed = Object.entries(now).filter(([field, value]) => !same(value, was.get(field)))
  return Object.fromEntries(changed) as Partial<T>
}

type Plain = Readonly<Record<string, unknown>>
const isPlain = (value: unknown): value is Plain =>
  typeof value === 'object' && value !== null && !Array.isArray(value)
/** What an item of a list is known by, where lists are merged item by item. */
const nameOf = (item: unknown): string | null => {
  const name = isPlain(item) ? (item['key'] ?? item['id']) : undefined
  return typeof name === 'string' || typeof name === 'number' ? String(name) : null
}
const isNamed = (list: readonly unknown[]): boolean =>
  new Set(list.map(nameOf)).size === list.length && list.every((item) => nameOf(item) !== null)

const GONE = Symbol('gone')
type Part = unknown
type Sides = readonly [base: Part, mine: Part, theirs: Part]

function mergePart([base, mine, theirs]: Sides, place: string, clashes: string[]): Part {
  if (same(mine, theirs) && mine !== GONE) return mine
  if (same(base, mine) && (base === GONE) === (mine === GONE)) return theirs
  if (same(base, theirs) && (base === GONE) === (theirs === GONE)) return mine
  const sides = [base, mine, theirs]
  if (sides.every(isPlain)) return mergePlain(sides, place, clashes)
  if (sides.every((side) => Array.isArray(side) && isNamed(side)))
    return mergeNamed(sides as unknown as readonly [Part[], Part[], Part[]], place, clashes)
  clashes.push(place)
  // What one took away while the other changed it stays.
  return mine === GONE ? theirs : mine
}

const at = (place: string, key: string): string => (place ? `${place}.${key}` : key)

function mergePlain(sides: readonly Plain[], place: string, clashes: string[]): Plain {
  const merged: Record<string, unknown> = {}
  for (const key of new Set(sides.flatMap((side) => Object.keys(side)))) {
    const parts = sides.map((side) => (key in side ? side[key] : GONE)) as unknown as Sides
    const part = mergePart(parts, at(place, key), clashes)
    if (part !== GONE) merged[key] = part
  }
  return merged
}

/** Items go by their names; my order stands, and what is new of theirs follows what it followed. */
function mergeNamed(
  [base, mine, theirs]: readonly [Part[], Part[], Part[]],
  place: string,
  clashes: string[],
): Part[] {
  const [was, here, there] = [base, mine, theirs].map(
    (list) => new Map(list.map((item) => [nameOf(item)!, item] as const)),
  ) as [Map<string, Part>, Map<string, Part>, Map<string, Part>]
  const order = [...here.keys()]
  const theirOrder = [...there.keys()]
  for (const [i, name] of theirOrder.entries())
    if (!here.has(name)) order.splice(order.indexOf(theirOrder[i - 1] ?? '') + 1, 0, name)
  // Where I moved nothing, their order stands.
  const kept = [...was.keys()].filter((name) => here.has(name) && there.has(name))
  const mineKept = order.filter((name) => kept.includes(name))
  const names = same(mineKept, kept)
    ? [...theirOrder, ...order.filter((name) => !there.has(name))]
    : order
  return names.flatMap((name) => {
    const [before, own, other] = [was, here, there].map((side) =>
      side.has(name) ? side.get(name) : GONE,
    ) as unknown as Sides
    const part = mergePart([before, own, other], at(place, name), clashes)
    return part === GONE ? [] : [part]
  })
}

/** Merges two versions that both began as `base`. */
export function merge<T>(base: T, mine: T, theirs: T): Merged<T> {
  const clashes: string[] = []
  return { value: mergePart([base, mine, theirs], '', clashes) as T, clashes }
}

/** The part of a value at a path, as the clashes of a merge name it. */
export function partAt(value: unknown, place: string): unknown {
  return place.split('.').reduce<unknown>((part, key) => {
    if (Array.isArray(part)) return part.find((item) => nameOf(item) === key)
    return isPlain(part) ? part[key] : undefined
  }, value)
}

/** A value with the part at a path put to what it is in another. */
export function withPart<T>(value: T, place: string, other: T): T {
  const [key, ...rest] = place.split('.') as [string, ...string[]]
  const next = (part: unknown, from: unknown): unknown =>
    rest.length ? withPart(part, rest.join('.'), from) : from
  if (Array.isArray(value)) {
    const from = (Array.isArray(other) ? (other as unknown[]) : []).find((i) => nameOf(i) === key)
    const put = value.flatMap((item: unknown) => {
      if (nameOf(item) !== key) return [item]
      const part = next(item, from)
      return part === undefined ? [] : [part]
    })
    const added = from !== undefined && !value.some((item) => nameOf(item) === key)
    return (added ? [...put, from] : put) as T
  }
  const here = value as Plain
  const part = next(here[key], isPlain(other) ? other[key] : undefined)
  const { [key]: _was, ...others } = here
  return (part === undefined ? others : { ...here, [key]: part }) as T
}
