import type { IsoDate } from '#core/brands.ts'
import type { Database } from '../database/open.ts'
import { sendWaiting, type Mail } from './outbox.ts'
import type { Runner } from './runner.ts'
import type { Engine } from './services.ts'
import { sweep } from './sweep.ts'

/** What makes things happen by themselves: it wakes when something is due, or was changed. */
export interface Loop {
  /** Something was changed: the loop looks soon, once for all that is changed in one turn. */
  changed(): void
  /** Looks now; resolves when all that is due has been done. */
  settle(): Promise<void>
  /** Resolves when what is being done is done. */
  idle(): Promise<void>
  stop(): void
}

/** The longest the loop sleeps, so that a clock set by hand or a lost timer mends itself. */
const LONGEST_SLEEP = 30_000
const SHORTEST_SLEEP = 20
/** As many mails as are sent at a time. */
const MAILS = 50

interface Parts {
  readonly engine: Engine
  readonly db: Database
  readonly runner: Runner
  readonly send: (mail: Mail) => Promise<void>
  /** The clock is set by hand: waiting for it tells nothing. */
  readonly byHand: boolean
}

export function createLoop({ engine, db, runner, send, byHand }: Parts): Loop {
  let timer: NodeJS.Timeout | undefined
  let stopping = false
  let working: Promise<void> = Promise.resolve()
  let sweptOn: IsoDate | undefined

  /** What is done once a day: old records go, portion by portion, and the planner counts anew. */
  async function daily(): Promise<void> {
    const today = engine.firm.today()
    if (sweptOn === today) return
    for (const _ of sweep(engine)) {
      if (stopping) return
      await new Promise((next) => setImmediate(next))
    }
    db.optimize()
    sweptOn = today
  }
  async function work(): Promise<void> {
    if (stopping) return
    try {
      for (const _ of runner.steps()) await new Promise((next) => setImmediate(next))
      while ((await sendWaiting(engine, send)) === MAILS && !stopping);
      await daily()
    } catch (error) {
      engine.log.error({ err: error }, 'the engine loop failed; trying again')
    }
    if (stopping) return
    clearTimeout(timer)
    const next = runner.nextAt()
    const wait = byHand || next === null ? LONGEST_SLEEP : next - engine.clock.now()
    timer = setTimeout(wake, Math.min(LONGEST_SLEEP, Math.max(SHORTEST_SLEEP, wait)))
  }
  const wake = (): void => {
    working = working.then(work)
  }

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
      return working
    },
    idle: () => working,
    stop() {
      stopping = true
      clearTimeout(timer)
    },
  }
}
