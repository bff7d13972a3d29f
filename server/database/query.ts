import { is, Param, Placeholder, sql, type SQL, type SQLWrapper } from 'drizzle-orm'
import { drizzle, type BetterSQLite3Database } from 'drizzle-orm/better-sqlite3'
import type Sqlite from 'better-sqlite3'
import { LRUCache } from 'lru-cache'
import { decoder, type Selected } from './decode.ts'
import type { Sight } from './sight.ts'
import { hiddenShare, seenBy } from './sees.ts'

/** Drizzle's builder over the firm's database; the tables are imported where they are asked. */
export type Orm = BetterSQLite3Database

/**
 * Reads one database, and nothing else: it shows no way to prepare a statement, and what it is asked
 * must be read-only. Questions made here (`ready`, `within`, `ask`) are how it is asked.
 */
export interface Reader {
  readonly reads: 'one database'
}

/** Statements of composed questions that are kept; those used longest ago make room. */
const MOST_STATEMENTS = 300
interface Connection {
  readonly orm: Orm
  /** The kept statement of a text, whose rows are arrays. */
  readonly statement: (text: string) => Sqlite.Statement<unknown[], unknown[]>
}
const connections = new WeakMap<Reader, Connection>()
const connectionOf = (reader: Reader): Connection => {
  const connection = connections.get(reader)
  if (!connection) throw new Error('This reader was not made by readerOn.')
  return connection
}

/** A reader over a connection: the firm's own, or one that only reads. */
export function readerOn(sqlite: Sqlite.Database): Reader {
  const kept = new LRUCache<string, Sqlite.Statement<unknown[], unknown[]>>({
    max: MOST_STATEMENTS,
  })
  const statement = (text: string) => {
    let found = kept.get(text)
    if (!found) {
      found = sqlite.prepare<unknown[], unknown[]>(text)
      if (!found.readonly) throw new Error(`A reader only reads; this would write: ${text}`)
      // Rows as arrays once and for all: a mode changed later would change it for all who share it.
      kept.set(text, found.raw(true))
    }
    return found
  }
  // What Drizzle asks of a connection in order to read.
  const client = {
    prepare: (text: string) => {
      const made = statement(text)
      return { raw: () => made, run: () => made.run() }
    },
  }
  const reader: Reader = { reads: 'one database' }
  connections.set(reader, { orm: drizzle(client as unknown as Sqlite.Database), statement })
  return reader
}

/** Values that a question takes; yes and no are stored as 1 and 0. */
export type Args = Readonly<Record<string, string | number | boolean | null | Sight>>

interface Prepared {
  all(values?: Record<string, unknown>): unknown
  getQuery(): { sql: string; params: unknown[] }
  /** Drizzle's own: what is selected, and which joins always find. */
  readonly fields?: readonly Selected[]
  readonly joinsNotNullableMap?: Readonly<Record<string, boolean>>
}
interface Select extends SQLWrapper {
  readonly _: { readonly nullabilityMap: object; readonly result: readonly unknown[] }
  prepare(): Prepared
}
type RowOf<Q extends Select> = Q['_']['result'][number]

/** What people see only part of. */
type Items = 'tasks' | 'projects' | 'comments' | 'attachments' | 'milestones' | 'posts'
const ITEMS = /\b(from|join) "(tasks|projects|comments|attachments|milestones|posts)"/
type Sees<A, Q extends Select> =
  Extract<keyof Q['_']['nullabilityMap'], Items> extends never
    ? unknown
    : A extends { readonly sight: Sight }
      ? unknown
      : { readonly 'A question over items takes the viewer’s sight': never }

/** A question made once for each database; its arguments and rows are typed by the tables it asks. */
export interface Question<A, R> {
  all(reader: Reader, ...args: string extends keyof A ? [] : [A]): R[]
  get(reader: Reader, ...args: string extends keyof A ? [] : [A]): R | undefined
}
/** The row that a question answers. */
export type Row<T extends { all(...args: never): unknown[] }> = ReturnType<T['all']>[number]

/** Stands for a value that is not there yet while a question is made. */
class Mark extends Placeholder {
  /** Nothing can be worked out from a mark, such as a text that holds it. */
  [Symbol.toPrimitive](): never {
    throw new Error(`${this.name} has no value while a question is made.`)
  }
}
/** What a sight is made of. */
const SIGHTS = ['all', 'inside', 'me'] as const
const marks = new Proxy(
  {},
  {
    get: (_, name) =>
      name === 'sight'
        ? {
            all: new Mark('sight.all'),
            inside: new Mark('sight.inside'),
            me: new Mark('sight.me'),
          }
        : new Mark(String(name)),
  },
)

/** Yes and no are stored as 1 and 0. */
const storedOf = (value: unknown): unknown => (typeof value === 'boolean' ? Number(value) : value)
/** Arguments as SQLite takes them. */
function bound(args: Args): Record<string, unknown> {
  const values: Record<string, unknown> = {}
  for (const [name, value] of Object.entries(args))
    if (value === null || typeof value !== 'object') values[name] = storedOf(value)
    else for (const part of SIGHTS) values[`${name}.${part}`] = storedOf(value[part])
  return values
}
type Take = (args: Args) => unknown
/** How an argument is found by the name of its mark, looked at once. */
function namedBy(name: string): Take {
  const [whole, part] = name.split('.')
  if (part === undefined) return (args) => storedOf(args[name])
  return (args) => storedOf((args[whole!] as Sight | undefined)?.[part as keyof Sight])
}
/** How each value of a statement comes from the arguments. */
function takers(params: readonly unknown[]): Take[] {
  return params.map((param) => {
    const mark = is(param, Param) ? param.value : param
    if (!is(mark, Placeholder)) return () => param
    const take = namedBy(mark.name)
    return is(param, Param) ? (args) => param.encoder.mapToDriverValue(take(args)) : take
  })
}

/** A question made for one database: answers rows for arguments. */
type Answer = (args: Args, one: boolean) => unknown[]

function answering(prepared: Prepared, { statement }: Connection): Answer {
  const { sql: text, params } = prepared.getQuery()
  const { fields, joinsNotNullableMap } = prepared
  // What is nested deeper is left to Drizzle, which looks at every value of every row anew.
  if (!fields?.every(({ path }) => path.length <= 2))
    return (args) => prepared.all(bound(args)) as unknown[]
  const takes = takers(params)
  const decode = decoder(fields, joinsNotNullableMap)
  const made = statement(text)
  return (args, one) => {
    const given = takes.map((take) => take(args))
    if (!one) return decode(made.all(...given))
    const row = made.get(...given)
    return row ? decode([row]) : []
  }
}

function made<A, Q extends Select>(
  build: (orm: Orm, args: A) => Q,
  check: (query: ReturnType<Prepared['getQuery']>) => void,
): Question<A, RowOf<Q>> {
  const known = new WeakMap<Reader, Answer>()
  const of = (reader: Reader): Answer => {
    let answer = known.get(reader)
    if (!answer) {
      const connection = connectionOf(reader)
      const prepared = build(connection.orm, marks as A).prepare()
      check(prepared.getQuery())
      answer = answering(prepared, connection)
      known.set(reader, answer)
    }
    return answer
  }
  return {
    all: (reader, ...[args]) => of(reader)((args ?? {}) as Args, false) as RowOf<Q>[],
    get: (reader, ...[args]) => of(reader)((args ?? {}) as Args, true)[0] as RowOf<Q> | undefined,
  }
}

/**
 * Makes a question ready: `build` is called once for each database, with marks in place of the
 * arguments, and what Drizzle makes of it is prepared and kept. A question over items takes a sight,
 * or does not compile; one that takes it and does not use it (`seesTask`, `seesProject`) fails when
 * it is made.
 *
 * @example
 * const byId = ready((orm, a: { id: PersonId }) =>
 *   orm.select({ name: people.name }).from(people).where(eq(people.id, a.id)))
 * byId.get(reader, { id: 3 })?.name
 */
export const ready = <A extends Args, Q extends Select>(
  build: (orm: Orm, args: A) => Q & Sees<A, Q>,
): Question<A, RowOf<Q>> =>
  made<A, Q>(build, ({ sql: text, params }) => {
    if (ITEMS.test(text) && !params.some((p) => p instanceof Placeholder && p.name === 'sight.me'))
      throw new Error(`This question over items does not look at the viewer’s sight: ${text}`)
  })

/**
 * Makes a question that the house asks itself, blind to who looks on: derivers, rules, and the steps
 * of a change whose service has asked who may. What it answers never goes out as it is.
 */
export const within = <A extends Args, Q extends Select>(
  build: (orm: Orm, args: A) => Q,
): Question<A, RowOf<Q>> => made<A, Q>(build, () => {})

/**
 * Asks composed SQL, whose fragments carry their parameters; rows are arrays, typed by the template.
 * `sees` gives the condition that the viewer's sight puts on the tasks asked; a question that does not use it
 * is not asked.
 */
export function ask<R extends readonly unknown[]>(
  reader: Reader,
  sight: Sight,
  question: (sees: () => SQL) => SQL<R>,
): R[] {
  let looked = false
  const { orm } = connectionOf(reader)
  const text = question(() => {
    looked = true
    return seenBy(sight, hiddenFrom(orm, sight))
  })
  if (!looked) throw new Error('This composed question does not look at the viewer’s sight.')
  return orm.values(text) as unknown as R[]
}
/** How much of the firm's work somebody does not see. */
function hiddenFrom(orm: Orm, sight: Sight): Parameters<typeof seenBy>[1] {
  if (sight.all || !sight.inside) return sight.all ? 'nothing' : 'most'
  const [counts] = orm.values(hiddenShare(sight))
  const [all, hidden] = counts as [number, number]
  if (hidden === 0) return 'nothing'
  return hidden * 2 <= all ? 'little' : 'most'
}

/**
 * A number written into the SQL. Bound, as `.limit(50)` does it, SQLite plans the statement anew at
 * every run: seven times as slow for a small one.
 */
export const most = (rows: number): Placeholder =>
  sql.raw(String(Math.trunc(rows))) as unknown as Placeholder
