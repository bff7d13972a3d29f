import { performance } from 'node:perf_hooks'
import { getTableConfig, type SQLiteTable } from 'drizzle-orm/sqlite-core'
import type { ChangeId } from '#core/brands.ts'
import { eventSteps, type Event } from '#core/events/events.ts'
import { refuse } from '#core/refusal.ts'
import { isConstraint, patiently } from '../database/faults.ts'
import type { Database } from '../database/open.ts'
import * as tables from '../database/tables/index.ts'
import type { Entity, Stored } from '../database/tables/engine.ts'
import type { Actor, Cause, Changed, Deriver, Entry, TableName, Writer } from './journal.ts'
import { heardOnes, newestOf, openOnes } from './queries.ts'
import { restoringOn, writerOn, type Log, type Opening } from './writer.ts'

/** Changes too large to be made at once: what they are made of, and what they keep from others. */

/** Work of many steps: it may stop after each, and be gone on with later. */
export type Steps<T> = Generator<undefined, T>

/** Goes through all steps at once. */
export function drained<T>(steps: Steps<T>): T {
  for (;;) {
    const step = steps.next()
    if (step.done) return step.value
  }
}

/** As long as one portion writes, in milliseconds; what follows from it comes on top. */
const PORTION = 25
/** Goes on for as long as one portion may. Answers what it came to, or undefined: there is more. */
function portionOf<T>(steps: Steps<T>, count: () => void): { value: T } | undefined {
  const until = performance.now() + PORTION
  do {
    const step = steps.next()
    if (step.done) return { value: step.value }
    count()
  } while (performance.now() < until)
  return undefined
}

/** What a change that may be large does, and by whom. */
export interface Work<T> {
  readonly actor: Actor
  /** About how many things it touches: a step for each. */
  readonly size: number
  readonly work: (write: Writer) => Steps<T>
  readonly cause?: Cause
}
/** How far a large change has come. */
export interface Progress {
  readonly change: ChangeId
  readonly actor: Actor
  readonly done: number
  readonly of: number
}
export interface Carrying<T> {
  /** What is written with its last portion: all of it stands, or none. */
  readonly closing?: (done: Changed<T>) => void
  /** Nobody wants it any more: what was made of it is taken back. */
  readonly signal?: AbortSignal
}
/** A change that may be large, ready to be made. */
export interface Large<T> {
  /** It touches little: it is made in one go, whichever way. */
  readonly small: boolean
  /** Makes it in one go; others wait. */
  whole(): Changed<T>
  /**
   * Makes it in portions, under one number that stands open until the last: others read and write
   * meanwhile, but for what it touched. It is one change, all of it or none. What touches little is
   * made in one go.
   * @throws Refusal `being-changed` in others that write what it touched, `stopped` by its signal
   */
  inPortions(carrying?: Carrying<T>): Promise<Changed<T>>
}
export const isLarge = (made: object): made is Large<unknown> => 'inPortions' in made

/** Columns of a table that name rows of others. */
const links = new Map<TableName, readonly (readonly [column: string, to: string])[]>()
function linksOf(table: TableName): readonly (readonly [column: string, to: string])[] {
  const known = links.get(table)
  if (known) return known
  const found = getTableConfig(tables[table] as SQLiteTable).foreignKeys.map((key) => {
    const { columns, foreignTable } = key.reference()
    return [columns[0]!.name, getTableConfig(foreignTable).name] as const
  })
  links.set(table, found)
  return found
}

/** A row that somebody writes. */
export interface Written {
  readonly change: ChangeId
  readonly table: Entity
  readonly id: number
  readonly action: Entry['action']
  readonly item: Entry['item']
  readonly row: Stored
}

/** What a change that stands open keeps from others until it closes. */
export interface Hold {
  /** Takes in what the change writes; of what others write, refuses what it touched. */
  readonly look: (written: Written) => void
}
export function holdFor(change: ChangeId): Hold {
  const touched = new Set<string>()
  const nameOf = (table: string, id: unknown) => `${table} ${String(id)}`
  const isTouched = ({ table, id, item, row }: Written): boolean =>
    touched.has(nameOf(table, id)) ||
    (item !== null && touched.has(nameOf(item.kind, item.id))) ||
    // What it made may yet go: nothing else is tied to it.
    linksOf(table).some(([column, to]) => touched.has(`made ${nameOf(to, row[column])}`))
  function take({ table, id, item, action }: Written): void {
    touched.add(nameOf(table, id))
    if (item) touched.add(nameOf(item.kind, item.id))
    if (action === 'made') touched.add(`made ${nameOf(table, id)}`)
  }
  return {
    look(written) {
      if (written.change === change) take(written)
      else if (isTouched(written))
        refuse(
          'being-changed',
          'A larger change is being made to this just now. Try again when it is done.',
        )
    },
  }
}

/** What the journal lends to changes that are made in portions. */
export interface Door {
  readonly db: Database
  readonly openLog: (opening: Omit<Opening, 'at'>) => Log
  readonly derive: Deriver
  /** Sets what is kept from others; null: nothing. */
  readonly hold: (hold: Hold | null) => void
  /** Tells of changes that are whole. */
  readonly tell: (events: () => readonly Event[]) => void
  readonly progress: (progress: Progress) => void
  /** Says that something could not be taken back yet. */
  readonly failed: (error: unknown) => void
}

/** Lets others in between two portions. */
const pause = () => new Promise<void>((next) => setTimeout(next, 2))
/** Goes through all steps, and lets others in between them. */
async function inPauses<T>(steps: Steps<T>): Promise<T> {
  for (;;) {
    const ended = portionOf(steps, () => {})
    if (ended) return ended.value
    await pause()
  }
}
/** How long is waited before what could not be taken back is tried again, in milliseconds. */
const AGAIN = 1_000

/**
 * Takes the newest entries of an open change back and out of the journal, so that what it still
 * holds of it is what still stands. Answers whether there is more.
 */
function takeBackSome({ db, openLog, derive }: Door, change: ChangeId): boolean {
  return db.transact(() => {
    const found = newestOf.all(db.reader, { change })
    const log = openLog({ actor: { kind: 'engine', id: null }, kept: false, look: () => {} })
    const { write, restore } = restoringOn(log)
    for (const entry of found) {
      try {
        restore(entry)
      } catch (error) {
        // What it belonged to was taken away meanwhile: it is gone with that.
        if (!isConstraint(error)) throw error
      }
      db.hand(tables.journal).remove(entry.id)
    }
    if (log.entries.length) derive(write, log.entries.slice(), change)
    if (found.length === 0) db.hand(tables.openChanges).remove(change)
    return found.length > 0
  })
}

/** Takes back whatever a stop left open. */
export function takeBackOpen(door: Door): void {
  for (const { id } of openOnes.all(door.db.reader)) while (takeBackSome(door, id));
}

/** The same of one, in portions, however often it takes: what it touched is kept until then. */
async function takeBack(door: Door, change: ChangeId): Promise<void> {
  for (let more = true; more; await pause())
    try {
      more = takeBackSome(door, change)
    } catch (error) {
      door.failed(error)
      await new Promise((next) => setTimeout(next, AGAIN))
    }
}

/** Notes that a change stands open. Of older ones, what was heard is forgotten. */
function begin({ db }: Door, { change, at }: { change: ChangeId; at: number }): void {
  const open = db.hand(tables.openChanges)
  for (const { id } of heardOnes.all(db.reader)) open.remove(id)
  open.insert({ id: change, at })
}

/** Makes a change in portions. */
export async function makeInPortions<T>(
  door: Door,
  { actor, size, work, cause }: Work<T>,
  { closing, signal }: Carrying<T>,
): Promise<Changed<T>> {
  const { db } = door
  const log = door.openLog({ actor, cause, look: (written) => hold.look(written) })
  const change = log.number()
  const hold = holdFor(change)
  const write = writerOn(log)
  const steps = work(write)
  let [done, derived, begun] = [0, 0, false]
  const portion = () =>
    db.transact(() => {
      if (!begun) begin(door, { change, at: log.at })
      const ended = portionOf(steps, () => done++)
      const written = log.entries.slice(derived)
      if (written.length) door.derive(write, written)
      if (!ended) return undefined
      const changed = { result: ended.value, change: log.entries.length ? change : null }
      db.hand(tables.openChanges).update(change, { last: log.entries.at(-1)?.id ?? 0 })
      closing?.(changed)
      return changed
    })
  door.hold(hold)
  try {
    for (;;) {
      const changed = await patiently(portion)
      if (changed) {
        const events = await inPauses(eventSteps(log.entries))
        if (events.length) door.tell(() => events)
        return changed
      }
      begun = true
      derived = log.entries.length
      door.progress({ change, actor, done, of: Math.max(size, done) })
      await pause()
      if (signal?.aborted) refuse('stopped', 'This was stopped; nothing of it was kept.')
    }
  } catch (error) {
    if (begun) await takeBack(door, change)
    throw error
  } finally {
    door.hold(null)
  }
}
