/**
 * Definitions of saved views and rules as the sixth migration carries them over: from two languages
 * of conditions to one. What a rule or view says stays the same; only how it is written changes.
 */

type Json = Readonly<Record<string, unknown>>
type Value = string | number | boolean | null
interface Group {
  readonly match: string
  readonly of: readonly unknown[]
}
const isObject = (value: unknown): value is Json =>
  typeof value === 'object' && value !== null && !Array.isArray(value)
const isGroup = (value: unknown): value is Group => isObject(value) && Array.isArray(value['of'])

const group = (match: string, ...of: unknown[]): Group => ({ match, of })
const ALWAYS = group('all')
const NEVER = group('none', ALWAYS)

/** Goes through groups; `test` carries what is none. */
const through =
  (test: (value: Json) => unknown) =>
  (value: unknown): unknown => {
    if (isGroup(value)) return { ...value, of: value.of.map(through(test)) }
    return isObject(value) ? test(value) : value
  }

const RENAMED: ReadonlyMap<unknown, string> = new Map([['tier', 'client.tier']])
const renamed = (name: unknown): unknown => RENAMED.get(name) ?? name

/** A test of a filter: yes and no are said, words are words. */
function viewTest(test: Json): Json {
  const { op, value } = test
  const said = { ...test, field: renamed(test['field']) }
  if (op === 'is' && typeof value !== 'number') return { ...said, value: value !== false }
  if (op === 'has' || op === 'has-not') return { ...said, value: String(value ?? '') }
  return said
}

/** The definition of a saved view. */
export function carriedView(definition: Json): Json {
  const { filter, group: by, colour, sort } = definition
  return {
    ...definition,
    filter: through(viewTest)(filter),
    group: renamed(by),
    colour: renamed(colour),
    ...(Array.isArray(sort) && {
      sort: sort.map((each: Json) => ({ ...each, field: renamed(each['field']) })),
    }),
  }
}

/** Numbers of clients by their short names; null where two share one. */
export type Clients = ReadonlyMap<string, number | null>

const FACTS: Readonly<Record<string, string>> = {
  ...{ priority: 'priority', state: 'kind', 'client tier': 'client.tier', project: 'project.name' },
  ...{ client: 'client', estimate: 'estimate', assignees: 'count:people' },
}
const isAmount = (field: string): boolean => field === 'estimate' || field === 'count:people'

const anyOf = (tests: readonly unknown[]): unknown =>
  tests.length === 0 ? NEVER : tests.length === 1 ? tests[0] : group('any', ...tests)

/** That a fact is one of some values. */
function among(field: string, values: readonly Value[], clients: Clients): unknown {
  const empty = values.includes(null) ? [{ field, op: 'empty' }] : []
  const some = values.filter((value) => value !== null)
  if (isAmount(field))
    return anyOf([
      ...some.flatMap((value) => (typeof value === 'number' ? [{ field, op: 'is', value }] : [])),
      ...empty,
    ])
  const words = some.filter((value) => typeof value === 'string')
  if (field === 'project.name')
    return anyOf([...words.map((value) => ({ field, op: 'is', value })), ...empty])
  if (field === 'client') {
    const known = words.map((name) => clients.get(name))
    const ids = known.filter((id) => typeof id === 'number')
    // A name that no one client has stays a name.
    if (ids.length < words.length)
      return anyOf([
        ...words.map((value) => ({ field: 'client.short', op: 'is', value })),
        ...empty,
      ])
    return anyOf([...(ids.length ? [{ field, op: 'in', value: ids }] : []), ...empty])
  }
  return anyOf([...(words.length ? [{ field, op: 'in', value: words }] : []), ...empty])
}

const valuesOf = (value: unknown): Value[] =>
  (Array.isArray(value) ? value : [value ?? null]) as Value[]

/** The opposite of a test, as it is written shortest. */
function opposite(test: unknown): unknown {
  if (test === NEVER) return ALWAYS
  if (isObject(test) && test['op'] === 'in') return { ...test, op: 'not-in' }
  if (isObject(test) && test['op'] === 'is') return { ...test, op: 'is-not' }
  if (isObject(test) && test['op'] === 'empty') return { ...test, op: 'filled' }
  return group('none', test)
}

/** A test of a rule's fact. */
const ruleTest =
  (clients: Clients) =>
  ({ field: fact, op, value }: Json): unknown => {
    const field = FACTS[String(fact)] ?? String(fact)
    if (op === 'at-least' || op === 'at-most')
      return isAmount(field) && Number.isFinite(Number(value))
        ? { field, op, value: Number(value) }
        : NEVER
    const test = among(field, valuesOf(value), clients)
    return op === 'is-not' || op === 'not-in' ? opposite(test) : test
  }

/** The definition of a rule. */
export function carriedRule(definition: Json, clients: Clients): Json {
  const { trigger, conditions } = definition
  return {
    ...definition,
    trigger: typeof trigger === 'string' ? { kind: trigger } : trigger,
    conditions: through(ruleTest(clients))(conditions),
  }
}

const parse = (text: unknown): Json => JSON.parse(String(text)) as Json
/** Clients as `[["Mossgate", 1], …]`. */
function clientsIn(text: unknown): Clients {
  const clients = new Map<string, number | null>()
  for (const [name, id] of JSON.parse(String(text)) as [string, number][])
    clients.set(name, clients.has(name) ? null : id)
  return clients
}

/** What the migration calls, over texts of JSON. */
export const CARRIES = {
  carried_view: (definition: unknown): string => JSON.stringify(carriedView(parse(definition))),
  carried_rule: (definition: unknown, clients: unknown): string =>
    JSON.stringify(carriedRule(parse(definition), clientsIn(clients))),
  /** A row as the journal keeps it, its definition in it as text. */
  carried_row(entity: unknown, row: unknown, clients: unknown): string | null {
    if (row === null) return null
    const stored = parse(row)
    const { definition } = stored
    if (typeof definition !== 'string') return String(row)
    const carried =
      entity === 'views'
        ? CARRIES.carried_view(definition)
        : CARRIES.carried_rule(definition, clients)
    return JSON.stringify({ ...stored, definition: carried })
  },
}
