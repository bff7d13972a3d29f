import { performance } from 'node:perf_hooks'
import { eventSteps, type Event } from '#core/events/events.ts'
import type { positions } from '../database/tables/engine.ts'
import type { HandClock } from './clock.ts'
import type { Handlers, Listener } from './handlers.ts'
import { byChange, ENGINE, type Entry } from './journal.ts'
import {
  closedOnes,
  dueAlarm,
  entriesAfter,
  nextAlarm,
  positionOf,
  PORTION,
  type AlarmRow,
  type EntryRow,
} from './queries.ts'
import { drained, type Large, type Steps } from './portions.ts'
import type { Engine } from './services.ts'

/** What was done: entries of the journal that were heard, alarms that were acted on. */
export interface Done {
  entries: number
  alarms: number
}
export interface Runner {
  /** Does all that is due now, until it is quiet. */
  tick(): Done
  /**
   * The same in portions: whoever steps through lets others in between. A step that comes to a large
   * change hands it over, to be made before the next.
   */
  steps(): Generator<Handed | undefined, Done>
  /** The instant of the next alarm, or null. */
  nextAt(): number | null
  /** Moves the clock from alarm to alarm up to an instant, so that everything happens at its time. */
  runUntil(instant: number): void
  /** The same in portions. */
  stepsUntil(instant: number): Generator<Handed | undefined, void>
}
/** A large change that is to be made now, in one go or in portions; what fails in it is told. */
export interface Handed {
  readonly whole: () => void
  readonly inPortions: () => Promise<void>
}

/** As long as what shares one commit may take, in milliseconds. */
const SHARE = 25
/** Room in a share for what goes on while others wait. */
function forSoLong(): () => boolean {
  const until = performance.now() + SHARE
  return () => performance.now() < until
}
/** As many alarms as share one commit where nobody waits. */
const SO_MANY = 50
/** The same where the clock is led through time: what happens is the same on every machine. */
function forSoMany(): () => boolean {
  let left = SO_MANY
  return () => left-- > 0
}
/** As many alarms as one tick acts on. */
const MOST_ALARMS = 100_000

/** An entry as it is stored, as events and derivers are told of it. */
export function entered(row: EntryRow): Entry {
  const { id, change, at, actorKind, actorId, depth, undoes, entity, entityId, action } = row
  const { itemKind, itemId, projectId, before, after } = row
  // Written out: every change is read by this.
  return {
    id,
    change,
    at,
    actor: { kind: actorKind, id: actorId },
    depth,
    undoes,
    entity,
    entityId,
    action,
    item: itemKind === null || itemId === null ? null : { kind: itemKind, id: itemId },
    projectId,
    before,
    after,
  }
}

/**
 * Entries in stretches of whole changes: one change, but where some were made in portions, between
 * which others were made. `closed` says where those end; a stretch that goes on behind the last entry
 * is left out.
 */
export function stretchesOf(
  rows: readonly EntryRow[],
  closed: ReadonlyMap<number, number>,
): EntryRow[][] {
  const ends = new Map(rows.map(({ change }, i) => [change, i]))
  const newest = rows.at(-1)?.id ?? 0
  const endOf = (change: number) =>
    (closed.get(change) ?? 0) > newest ? Infinity : (ends.get(change) ?? 0)
  const found: EntryRow[][] = []
  let [start, end] = [0, -1]
  for (const [i, { change }] of rows.entries()) {
    end = Math.max(end, endOf(change))
    if (i !== end) continue
    found.push(rows.slice(start, i + 1))
    start = i + 1
  }
  return found
}

/** The events of a stretch, change by change as they closed. */
export function* eventsIn(rows: readonly EntryRow[]): Steps<Event[]> {
  // Mostly a stretch is one change, whole.
  if (rows.every(({ change }) => change === rows[0]?.change))
    return yield* eventSteps(rows.map(entered))
  const ends = new Map(rows.map(({ change }, i) => [change, i]))
  const closing = ({ change }: EntryRow) => ends.get(change) ?? 0
  const ordered = ends.size > 1 ? rows.toSorted((a, b) => closing(a) - closing(b)) : rows
  const events: Event[] = []
  for (const change of byChange(ordered))
    for (const event of yield* eventSteps(change.map(entered))) events.push(event)
  return events
}

/** Stretches after a position, as many as a portion holds; at least one, however long it is. */
function* stretchesAfter({ reader }: Engine, after: number): Steps<EntryRow[][]> {
  const closed = new Map(closedOnes.all(reader).map(({ id, last }) => [Number(id), last ?? 0]))
  const rows: EntryRow[] = []
  for (;;) {
    const more = entriesAfter.all(reader, { after: rows.at(-1)?.id ?? after })
    for (const row of more) rows.push(row)
    const found = stretchesOf(rows, closed)
    if (more.length < PORTION) return found
    // The last one may go on.
    if (found.length > 1) return found.slice(0, -1)
    yield
  }
}

/** Where a listener has come to; the position is made when it is first asked for. */
function position({ reader, journal }: Engine, name: string) {
  const found = positionOf.get(reader, { name })
  if (found) return found
  const row = { name, journalId: 0, heard: 0 }
  return { id: journal.change(ENGINE, (write) => write.insert('positions', row)).result, ...row }
}

type Place = Pick<typeof positions.$inferSelect, 'journalId' | 'heard'>
const isSame = (a: Place, b: Place) => a.journalId === b.journalId && a.heard === b.heard
/** What a listener hears at once, and where it stands afterwards. */
interface Piece {
  readonly change: number
  readonly events: readonly Event[]
  readonly after: Place
  /** Entries of the journal that are heard with it. */
  readonly entries: number
}

/** A change as a listener hears it: whole, or event by event from where it stopped. */
function* piecesOf(
  listener: Listener,
  { journalId, heard }: Place,
  rows: EntryRow[],
): Steps<Piece[]> {
  const { change, id } = rows.at(-1)!
  const events = yield* eventsIn(rows)
  const after = { journalId: id, heard: 0 }
  const whole = { change, events, after, entries: rows.length }
  if ('weigh' in listener || events.length === 0) return [whole]
  const pieces = events.map((event, i): Piece => {
    if (i === events.length - 1) return { ...whole, events: [event] }
    return { change, events: [event], after: { journalId, heard: i + 1 }, entries: 0 }
  })
  return pieces.slice(heard)
}

/** What a listener is to do about one piece. */
function* weighed(engine: Engine, listener: Listener, { events }: Piece): Steps<() => void> {
  if ('weigh' in listener) return yield* listener.weigh(engine, events)
  const [event] = events
  return () => event && listener.hear(engine, event)
}

/** Does one part of a share of work; what it fails at is undone and told, and it answers nothing. */
type Part = <R>(act: () => R, failed: (error: unknown) => void) => R | undefined
/**
 * Does a share of work in one commit: lightly, as mostly nothing fails; where something does, once
 * more with each part apart, so that all else stands.
 */
function share<T>({ journal }: Engine, work: (part: Part) => T): T {
  const done = journal.lightly(() => work((act) => act()))
  if (done) return done.result
  return journal.together(() =>
    work((act, failed) => {
      try {
        return journal.together(act)
      } catch (error) {
        failed(error)
        return undefined
      }
    }),
  )
}

/** Weighs one piece in steps, and answers how a listener hears it: what it fails at is told. */
function* hearOne(engine: Engine, listener: Listener, piece: Piece): Steps<(part: Part) => void> {
  const failed = (error: unknown) => {
    const { change } = piece
    engine.log.error({ err: error, listener: listener.name, change }, 'a change was not heard')
  }
  try {
    const act = yield* weighed(engine, listener, piece)
    return (part) => part(act, failed)
  } catch (error) {
    failed(error)
    return () => {}
  }
}

/** Lets a listener hear what it has not; as much as fits in its share is one commit. */
function* hearOut(engine: Engine, listener: Listener): Steps<number> {
  let entries = 0
  for (;;) {
    const at = position(engine, listener.name)
    let from: Place = at
    const pieces: Piece[] = []
    for (const rows of yield* stretchesAfter(engine, at.journalId)) {
      for (const piece of yield* piecesOf(listener, from, rows)) pieces.push(piece)
      from = { journalId: rows.at(-1)!.id, heard: 0 }
    }
    if (pieces.length === 0) return entries
    for (let next = 0; next < pieces.length;) {
      // Very much is weighed in steps between two commits; what is little, within the one it shares.
      const first = yield* hearOne(engine, listener, pieces[next]!)
      const begun = next
      const before = pieces[begun - 1]?.after ?? at
      next = share(engine, (part) => {
        // Whoever else walks through what is due came first in between: it is read anew.
        if (!isSame(position(engine, listener.name), before)) return begun
        const room = forSoLong()
        let [heard, act] = [begun, first]
        for (;;) {
          act(part)
          const piece = pieces[++heard]
          if (!piece || !room() || piece.events.length > PORTION) break
          act = drained(hearOne(engine, listener, piece))
        }
        const { after } = pieces[heard - 1]!
        engine.journal.change(ENGINE, (write) => write.update('positions', at.id, after))
        return heard
      })
      if (next === begun) break
      for (const piece of pieces.slice(begun, next)) entries += piece.entries
      yield
    }
  }
}

/** Lets every listener hear what it has not heard, what they do in turn included, until it is quiet. */
function* hearing(engine: Engine, { listeners }: Handlers): Steps<number> {
  let entries = 0
  for (let quiet = false; !quiet;) {
    quiet = true
    for (const listener of listeners) {
      const heard = yield* hearOut(engine, listener)
      entries += heard
      if (heard > 0) quiet = false
    }
  }
  return entries
}

/** Acts on an alarm; answers what is too much to be done with others. */
function runAlarm(
  engine: Engine,
  { alarms }: Handlers,
  alarm: AlarmRow,
  part: Part,
): Handed | undefined {
  const kind = alarms.find((each) => each.kind === alarm.kind)
  if (!kind) throw new Error(`Nothing knows what an alarm of the kind “${alarm.kind}” does.`)
  const failed = (error: unknown): void => {
    engine.log.error({ err: error, alarm }, 'an alarm could not be acted on')
    kind.failed(engine, alarm, error instanceof Error ? error.message : String(error))
  }
  return part((): Handed | undefined => {
    const change = kind.run(engine, alarm)
    if (change && !change.small) return handed(change, failed)
    change?.whole()
    return undefined
  }, failed)
}
const handed = (change: Large<void>, failed: (error: unknown) => void): Handed => ({
  whole() {
    try {
      change.whole()
    } catch (error) {
      failed(error)
    }
  },
  async inPortions() {
    await change.inPortions().catch(failed)
  },
})

/** Goes through all steps at once, large changes whole. */
function whole<T>(steps: Generator<Handed | undefined, T>): T {
  for (;;) {
    const step = steps.next()
    if (step.done) return step.value
    step.value?.whole()
  }
}

const isByHand = (clock: object): clock is HandClock => 'set' in clock

/**
 * The engine's loop. Its cost grows with what is due, never with what exists: alarms are read by an
 * index on their instant, the journal from stored positions.
 */
export function createRunner(engine: Engine, handlers: Handlers): Runner {
  const { reader, clock } = engine
  /** What the firm has stopped waits, however long it is due. */
  const goes = () => engine.firm.stoppedAt() === null
  const due = () => (goes() ? dueAlarm.get(reader, { now: clock.now() }) : undefined)

  /** Acts on as many alarms as there is room for, and on none after what is too much for a share. */
  const actOn = (part: Part, room: () => boolean): { large?: Handed; acted: number } => {
    let acted = 0
    for (let alarm = due(); alarm && room(); alarm = due()) {
      acted++
      const large = runAlarm(engine, handlers, alarm, part)
      if (large) return { large, acted }
    }
    return { acted }
  }
  function* stepsBy(rooms: () => () => boolean): Generator<Handed | undefined, Done> {
    const done: Done = { entries: yield* hearing(engine, handlers), alarms: 0 }
    while (done.alarms < MOST_ALARMS && due()) {
      const { large, acted } = share(engine, (part) => actOn(part, rooms()))
      done.alarms += acted
      yield large
      done.entries += yield* hearing(engine, handlers)
    }
    return done
  }
  const steps = () => stepsBy(forSoLong)
  const nextAt = () => (goes() ? (nextAlarm.get(reader)?.at ?? null) : null)
  function* stepsUntil(instant: number): Generator<Handed | undefined, void> {
    if (!isByHand(clock)) throw new Error('Only a clock that is set by hand can be moved on.')
    for (let next = nextAt(); next !== null && next <= instant; next = nextAt()) {
      clock.set(Math.max(next, clock.now()))
      yield* stepsBy(forSoMany)
    }
    clock.set(Math.max(instant, clock.now()))
    yield* stepsBy(forSoMany)
  }
  return {
    steps,
    tick: () => whole(steps()),
    nextAt,
    runUntil: (instant) => whole(stepsUntil(instant)),
    stepsUntil,
  }
}
