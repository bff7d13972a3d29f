import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type Sqlite from 'better-sqlite3'
import { openDatabase, type Database } from '#server/database/open.ts'
import { handClock } from '#server/engine/clock.ts'
import { assemble } from '#server/assembly.ts'

// Ratios against a bare baseline measured in the same run; medians of interleaved rounds. Not a
// timed test.
export const ENGINE = { kind: 'engine', id: null } as const
export const NOW = Date.parse('2026-11-23T12:00:00Z')

/** A folder that is gone at the end. */
export function ownFolder() {
  const folder = mkdtempSync(join(tmpdir(), 'fernwick-bench-'))
  return { folder, remove: () => rmSync(folder, { recursive: true }) }
}
/** A firm of ten people: in memory, so that a ratio is one of work and not of a disk, or in a file. */
export function house(file = ':memory:') {
  const db = openDatabase(file)
  prepared.set(db, overhear(db))
  const clock = handClock(NOW)
  const { engine, runner } = assemble(db, clock)
  const people: number[] = []
  engine.journal.change(ENGINE, (write) => {
    write.insert('firm', {
      id: 1,
      name: 'Bench',
      zone: 'Europe/London',
      week: ['MO', 'TU', 'WE', 'TH', 'FR'],
      hours: {},
    })
    for (let i = 0; i < 10; i++)
      people.push(
        write.insert('people', {
          name: `P${i}`,
          email: `p${i}@bench.example`,
          access: i ? 'member' : 'manager',
        }),
      )
  })
  return {
    db,
    clock,
    engine,
    people,
    runner,
    end: () => db.close(),
  }
}
export type House = ReturnType<typeof house>

/** A statement as it was asked, with what it was given. */
interface Asked {
  readonly statement: Sqlite.Statement
  readonly params: readonly unknown[]
}
/** The statements of each database, with their words. */
const prepared = new WeakMap<Database, Map<Sqlite.Statement, string>>()
/** Remembers the statements that a database makes; they stay as they are. */
function overhear({ sqlite }: Database): Map<Sqlite.Statement, string> {
  const made = new Map<Sqlite.Statement, string>()
  const prepare = sqlite.prepare.bind(sqlite)
  sqlite.prepare = ((text: string) => {
    const statement = prepare(text)
    made.set(statement, text)
    return statement
  }) as typeof sqlite.prepare
  return made
}
/**
 * The statements that some work asks, to be asked again without it. Only while it runs are they
 * listened to: what is timed is not.
 */
export function recorded({ db }: House, work: () => unknown): Asked[] {
  // Once before, so that all its statements are made.
  work()
  const asked: Asked[] = []
  const known = [...prepared.get(db)!]
  for (const [statement, text] of known)
    for (const way of ['all', 'get'] as const)
      statement[way] = (...params: unknown[]) => {
        asked.push({ statement: db.sqlite.prepare(text).raw(true), params })
        return Object.getPrototypeOf(statement)[way].apply(statement, params)
      }
  work()
  for (const [statement] of known)
    for (const way of ['all', 'get'] as const) Reflect.deleteProperty(statement, way)
  return asked
}

const median = (list: number[]): number => list.sort((a, b) => a - b)[Math.floor(list.length / 2)]!

/**
 * Times two ways in turns, so that both see the same machine; answers the medians in milliseconds.
 */
export async function race(
  rounds: number,
  one: (i: number) => unknown,
  two: (i: number) => unknown,
): Promise<[number, number]> {
  const [a, b]: [number[], number[]] = [[], []]
  for (let i = 0; i < rounds; i++)
    for (const which of i % 2 ? [1, 0] : [0, 1]) {
      const start = performance.now()
      // Only what is asynchronous is waited for: waiting costs a turn of the loop.
      const work = which ? two(i) : one(i)
      if (work instanceof Promise) await work
      ;(which ? b : a).push(performance.now() - start)
    }
  return [median(a.slice(Math.floor(rounds / 5))), median(b.slice(Math.floor(rounds / 5)))]
}
export const report = (name: string, value: number, most: number, note: string, unit = ''): void =>
  console.log(
    `${value <= most ? 'ok  ' : 'OVER'} ${name}: ${value.toFixed(2)}${unit} (at most ${most}${unit}) ${note}`,
  )

/** What a database is written while some work is done, to be written again without it. */
function written(db: Database, work: () => void) {
  const writes: { text: string; params: unknown[] }[] = []
  const prepare = db.sqlite.prepare.bind(db.sqlite)
  db.sqlite.prepare = ((text: string) => {
    const statement = prepare(text)
    const run = statement.run.bind(statement) as (...params: unknown[]) => Sqlite.RunResult
    statement.run = ((...params: unknown[]) => {
      writes.push({ text, params })
      return run(...params)
    }) as typeof statement.run
    return statement
  }) as typeof db.sqlite.prepare
  work()
  return writes
}

/**
 * How long work over a firm takes, against the rows it writes written bare: in turns, over copies of
 * the firm; the shortest of each, in milliseconds.
 */
export function againstBare(firm: Database, work: (db: Database) => () => unknown) {
  const copies = Array.from({ length: 6 }, () => firm.copy())
  const [first, ...others] = copies
  const writes = written(first!, work(first!))
  const bare = (db: Database) => {
    const made = new Map(writes.map(({ text }) => [text, db.sqlite.prepare(text)]))
    return () =>
      db.transact(() => {
        for (const { text, params } of writes) made.get(text)!.run(...params)
      })
  }
  const timed: [number[], number[]] = [[], []]
  for (const [i, db] of others.entries()) {
    const done = i % 2 ? work(db) : bare(db)
    const began = performance.now()
    done()
    timed[i % 2]!.push(performance.now() - began)
    db.close()
  }
  const [own, whole] = [Math.min(...timed[0]), Math.min(...timed[1])]
  return { own, whole, writes: writes.length, first: first! }
}
