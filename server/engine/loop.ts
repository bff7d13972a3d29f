import { performance } from 'node:perf_hooks'
import type { IsoDate } from '#core/brands.ts'
import type { Database } from '../database/open.ts'
import type { Daily } from './handlers.ts'
import { createDelivery, type Mail } from './outbox.ts'
import type { Handed, Runner } from './runner.ts'
import type { Engine } from './services.ts'
import { sweep } from './sweep.ts'

/** What makes things happen by themselves: it wakes when something is due, or was changed. */
export interface Loop {
  /** Something was changed: the loop looks soon, once for all that is changed in one turn. */
  changed(): void
  /** Looks now; resolves when all that is due has been done and what is to be sent was tried. */
  settle(): Promise<void>
  /** Resolves when what is being done is done. */
  idle(): Promise<void>
  stop(): void
}

/** The longest the loop sleeps, so that a clock set by hand or a lost timer mends itself. */
const LONGEST_SLEEP = 30_000
const SHORTEST_SLEEP = 20
/** The same after it failed, as when another program holds the database. */
const AFTER_FAILURE = 1_000
/** As long as requests under way are let go first between two portions, in milliseconds. */
const LONGEST_BREATH = 25

interface Parts {
  readonly engine: Engine
  readonly db: Database
  readonly runner: Runner
  /** What is done once a day. */
  readonly chores?: Daily
  readonly send: (mail: Mail) => Promise<void>
  /** The clock is set by hand: waiting for it tells nothing. */
  readonly byHand: boolean
  /** Whether somebody waits for an answer. */
  readonly busy?: () => boolean
  /** Called whenever the loop looks: what goes beside it begins then. */
  readonly beside?: () => void
}

/** Lets others in between two portions of work: once, or as long as they wait, within bounds. */
export async function breathe(busy: () => boolean): Promise<void> {
  await new Promise((next) => setImmediate(next))
  const until = performance.now() + LONGEST_BREATH
  while (busy() && performance.now() < until) await new Promise((next) => setTimeout(next, 1))
}

/** Each step in its turn, none while a large change stands open; those of its own it makes itself. */
export async function* inTurn(
  { journal }: Engine,
  steps: Iterator<Handed | undefined, unknown>,
): AsyncGenerator<void> {
  for (;;) {
    const step = await journal.inTurn(() => steps.next())
    if (step.done) return
    await step.value?.inPortions()
    yield
  }
}

interface Day {
  readonly busy: () => boolean
  readonly stopping: () => boolean
  readonly chores: Daily
}
function* oncePerDay(engine: Engine, chores: Daily): Generator<undefined, void> {
  yield* sweep(engine)
  for (const each of chores) yield* each(engine)
}
/** What is done once a day: old records go, portion by portion, and the planner counts anew. */
function dailyOf(
  engine: Engine,
  db: Database,
  { busy, stopping, chores }: Day,
): () => Promise<void> {
  let sweptOn: IsoDate | undefined
  return async () => {
    const today = engine.firm.today()
    if (sweptOn === today) return
    for await (const _ of inTurn(engine, oncePerDay(engine, chores))) {
      if (stopping()) return
      await breathe(busy)
    }
    db.optimize()
    sweptOn = today
  }
}

export function createLoop({
  engine,
  db,
  runner,
  chores = [],
  send,
  byHand,
  busy = () => false,
  beside,
}: Parts): Loop {
  let timer: NodeJS.Timeout | undefined
  let stopping = false
  let working: Promise<void> = Promise.resolve()
  // Sending waits for others: it goes beside the rest, and holds nothing up.
  const delivery = createDelivery(engine, send)

  const daily = dailyOf(engine, db, { busy, chores, stopping: () => stopping })
  async function work(): Promise<void> {
    if (stopping) return
    let rest = SHORTEST_SLEEP
    try {
      for await (const _ of inTurn(engine, runner.steps())) {
        await breathe(busy)
        if (stopping) return
      }
      delivery.wake()
      beside?.()
      await daily()
    } catch (error) {
      rest = AFTER_FAILURE
      engine.log.error({ err: error }, 'the engine loop failed; trying again')
    }
    if (stopping) return
    clearTimeout(timer)
    const next = runner.nextAt()
    const wait = byHand || next === null ? LONGEST_SLEEP : next - engine.clock.now()
    timer = setTimeout(wake, Math.min(LONGEST_SLEEP, Math.max(rest, wait)))
  }
  const wake = (): void => {
    working = working.then(work)
  }
  const idle = () => working.then(() => delivery.idle())

  let due: NodeJS.Immediate | undefined
  return {
    changed() {
      due ??= setImmediate(() => {
        due = undefined
        wake()
      })
    },
    settle() {
      wake()
      return idle()
    },
    idle,
    stop() {
      stopping = true
      delivery.stop()
      clearTimeout(timer)
    },
  }
}
