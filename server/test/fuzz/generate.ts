/** Values made of JSON Schemas (2020-12), mostly as they should be and now and then not at all. */

/** Numbers from 0 up to 1, the same every time for the same seed (mulberry32). */
export function random(seed: number): () => number {
  let state = seed
  return () => {
    state = (state + 0x6d2b79f5) | 0
    let t = Math.imul(state ^ (state >>> 15), 1 | state)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296
  }
}

export interface Schema {
  readonly type?: string | readonly string[]
  readonly enum?: readonly unknown[]
  readonly anyOf?: readonly Schema[]
  readonly properties?: Readonly<Record<string, Schema>>
  readonly required?: readonly string[]
  readonly items?: Schema
  readonly minItems?: number
  readonly maxItems?: number
  readonly minimum?: number
  readonly maximum?: number
  readonly maxLength?: number
  readonly pattern?: string
  readonly contentSchema?: Schema
}

/** What is made of: chance, words worth trying, and numbers of things that are there. */
export interface Making {
  readonly next: () => number
  readonly words: readonly string[]
  readonly ids: readonly number[]
}

export const pick = <T>({ next }: Making, list: readonly T[]): T =>
  list[Math.floor(next() * list.length)]!
const chance = ({ next }: Making, of: number): boolean => next() < of

/** What no schema asks for. */
const WILD: readonly unknown[] = [
  ...[null, true, false, 0, -1, 1.5, 1e20, -1e308, 9_007_199_254_740_993, 2_147_483_648],
  ...['', ' ', '\u0000', '\ud800', '٣', '${x}', "'; drop table tasks; --", '%_\\', '9'.repeat(30)],
  ...['0000-00-00', '0100-01-01', '1969-12-31', '2026-02-30', '2201-01-01', '9999-12-31'],
  ...['99:99', '24:00', 'FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30', 'x'.repeat(12_000)],
  ...[[], {}, [[[[[]]]]], [null], { is: 'person' }, { kind: 'x' }, { days: 1e9 }, { of: [] }],
  JSON.parse('{"__proto__":{"x":1},"constructor":1,"toString":2}'),
]
export const wild = (making: Making): unknown => pick(making, WILD)

const DATES = ['2026-11-23', '2026-12-24', '2026-12-26', '2024-02-29', '1970-01-01', '2200-12-31']
const PATTERNED: readonly [RegExp, readonly string[]][] = [
  [/^\^\\d\{4\}-\\d\{2\}/, DATES],
  [/\[01\]\\d\|2\[0-3\]/, ['09:00', '23:59', '00:00']],
  [/A-Z/, ['GBP', 'JPY', 'BHD', 'KWD']],
]

function text(making: Making, { pattern = '', maxLength = 40 }: Schema): string {
  const known = PATTERNED.find(([like]) => like.test(pattern))
  if (known) return pick(making, known[1])
  return pick(making, making.words).slice(0, maxLength)
}

function number(making: Making, { type, minimum = 0, maximum }: Schema): number {
  if (maximum === undefined && minimum <= 1 && chance(making, 0.9)) return pick(making, making.ids)
  const top = Math.min(maximum ?? 1_000, minimum + 10_000)
  const value = minimum + making.next() * (top - minimum)
  return type === 'number' ? value : Math.floor(value)
}

function list(making: Making, schema: Schema, depth: number): unknown[] {
  const least = schema.minItems ?? 0
  const most = Math.min(schema.maxItems ?? 4, least + 3)
  const length = least + Math.floor(making.next() * (most - least + 1))
  return Array.from({ length }, () => made(making, schema.items ?? {}, depth + 1))
}

function object(making: Making, schema: Schema, depth: number): Record<string, unknown> {
  const out: Record<string, unknown> = {}
  for (const [name, property] of Object.entries(schema.properties ?? {})) {
    const needed = schema.required?.includes(name)
    if (chance(making, needed ? 0.97 : 0.35)) out[name] = made(making, property, depth + 1)
  }
  if (chance(making, 0.03)) out[pick(making, making.words)] = wild(making)
  return out
}

const TYPES: Readonly<Record<string, (making: Making, schema: Schema, depth: number) => unknown>> =
  {
    object,
    array: list,
    string: text,
    integer: number,
    number,
    boolean: (making) => chance(making, 0.5),
    null: () => null,
  }

/** A value that a schema asks for; one in twenty is anything else. */
export function made(making: Making, schema: Schema, depth = 0): unknown {
  if (depth > 12 || chance(making, 0.05)) return wild(making)
  if (schema.enum) return pick(making, schema.enum)
  if (schema.anyOf?.length) return made(making, pick(making, schema.anyOf), depth + 1)
  if (schema.contentSchema) return JSON.stringify(made(making, schema.contentSchema, depth + 1))
  const types = [schema.type ?? []].flat()
  const type = types.length ? pick(making, types) : undefined
  return type ? TYPES[type]?.(making, schema, depth) : wild(making)
}

/** A value with one or several of its parts exchanged for what nobody asked for. */
export function spoilt(making: Making, value: unknown): unknown {
  if (chance(making, 0.15)) return wild(making)
  if (Array.isArray(value)) {
    if (chance(making, 0.2)) return [...value, ...value]
    return value.map((each) => (chance(making, 0.4) ? spoilt(making, each) : each))
  }
  if (typeof value !== 'object' || value === null)
    return chance(making, 0.5) ? wild(making) : pick(making, [...making.words, ...making.ids])
  return Object.fromEntries(
    Object.entries(value).flatMap(([name, each]): [string, unknown][] => {
      if (chance(making, 0.1)) return []
      return [[name, chance(making, 0.35) ? spoilt(making, each) : each]]
    }),
  )
}
