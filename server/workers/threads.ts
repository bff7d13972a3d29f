import { fileURLToPath } from 'node:url'
import { Piscina } from 'piscina'
import { Refusal, refuse } from '#core/refusal.ts'
import type { Kept } from '../database/backup.ts'
import type { Engine } from '../engine/services.ts'
import { answerOfError, type Answer } from '../http/answer.ts'
import { answerCall, checkCall, type Call } from '../http/calls.ts'
import { nameOf, type Apart, type Route } from '../http/route.ts'
import { turns } from './turns.ts'
import { derive } from './derive.ts'
import type { HashOf, Job, Outcomes, ThreadData } from './jobs.ts'

/** What takes long, done where nobody waits for it. */
export interface Threads {
  /** Answers a request that writes nothing; given up when `gone` goes off. */
  answer(route: Route, call: Call, gone?: AbortSignal): Promise<Answer>
  /** Checks a JSON body; answers what is wrong with it, or null. */
  check(route: Route, text: string, who: number): Promise<Answer | null>
  /** Copies the firm, as it stands at one moment, to a new folder. @throws Error */
  copy(to: string): Promise<Kept>
  /** A key derived from a password. */
  derive(password: string, hash: HashOf): Promise<Uint8Array>
  close(): Promise<void>
}

/** Passwords have a pool of their own: nobody's long work keeps anybody from signing in. */
type PoolName = Apart | 'hash'
/** How long a job may take, in milliseconds, and how much memory, in megabytes. */
interface Limits {
  readonly time: number
  readonly memory: number
  readonly threads: number
  /** As many as one person has under way at once: never all threads; further ones wait in turn. */
  readonly each: number
}
const LIMITS: Readonly<Record<PoolName, Limits>> = {
  read: { time: 15_000, memory: 512, threads: 3, each: 2 },
  work: { time: 60_000, memory: 768, threads: 2, each: 1 },
  hash: { time: 30_000, memory: 128, threads: 1, each: 1 },
}
/** A copy of the whole firm takes as long as it takes. */
const COPY_TIME = 3_600_000
/** As many as wait for one person. */
const WAITING = 40

/** Beside the bundle, or beside the sources. */
const entry = (): string => {
  const here = import.meta.url
  return fileURLToPath(new URL(here.endsWith('.ts') ? './boot.mjs' : './workers/worker.js', here))
}

const pool = (data: ThreadData, { threads, memory }: Limits) =>
  new Piscina({
    filename: entry(),
    workerData: data,
    minThreads: threads > 1 ? 1 : 0,
    execArgv: [],
    maxThreads: threads,
    idleTimeout: 60_000,
    resourceLimits: { maxOldGenerationSizeMb: memory },
    // What is thrown away unread would otherwise keep a thread of a stopped process waiting.
    atomics: 'disabled',
  })

function tooLong(limits: Limits): Refusal {
  const seconds = limits.time / 1000
  return new Refusal('too-much', `This took over ${seconds} seconds and was stopped; ask for less.`)
}
/** Who asks, until they leave; how long it may take, where that is not what others may. */
interface Asking {
  readonly who: number
  readonly gone?: AbortSignal | undefined
  readonly time?: number
}
interface Ends {
  readonly late: AbortSignal
  readonly gone: AbortSignal | undefined
}
/** What a job ended of, said to whoever asked. */
function saidOf(error: unknown, limits: Limits, { late, gone }: Ends): unknown {
  if (gone?.aborted) return new Refusal('too-much', 'You left before this was done.')
  if (late.aborted) return tooLong(limits)
  if (error instanceof Error && 'code' in error && error.code === 'ERR_WORKER_OUT_OF_MEMORY')
    return new Refusal('too-much', 'This would take more memory than there is; ask for less.')
  return error
}

/** Threads over a firm's folder: some for questions, some for long work, so that neither waits. */
export function startThreads(engine: Engine, data: string): Threads {
  const full = () =>
    refuse('too-many', 'Very much was asked for at once; wait for some of it first.')
  const open = (name: PoolName) => ({
    limits: LIMITS[name],
    pool: pool({ data }, LIMITS[name]),
    turn: turns(LIMITS[name].each, WAITING, full),
  })
  const pools = { read: open('read'), work: open('work'), hash: open('hash') }

  /** Runs a job in the turn of whoever asks. */
  async function run<K extends Job['kind']>(
    on: PoolName,
    { who, gone, time = LIMITS[on].time }: Asking,
    job: Extract<Job, { kind: K }>,
  ): Promise<Outcomes[K]> {
    const { pool: threads, turn, limits } = pools[on]
    let late = NEVER
    try {
      return await turn(who, gone, async () => {
        late = AbortSignal.timeout(time)
        // A question is over before a thread could be ended and another begun.
        const signal = gone && on === 'work' ? AbortSignal.any([late, gone]) : late
        return (await threads.run(job, { signal })) as Outcomes[K]
      })
    } catch (error) {
      throw saidOf(error, limits, { late, gone })
    }
  }
  return {
    async answer(route, call, gone) {
      const job = { kind: 'answer', route: nameOf(route), call, now: engine.clock.now() } as const
      try {
        return await run<'answer'>(route.apart ?? 'read', { who: call.viewer.id, gone }, job)
      } catch (error) {
        return answerOfError(error)
      }
    },
    check: (route, text, who) =>
      run<'check'>('read', { who }, { kind: 'check', route: nameOf(route), text }),
    copy: (to) => run<'copy'>('work', { who: 0, time: COPY_TIME }, { kind: 'copy', to }),
    derive: (password, hash) =>
      run<'derive'>('hash', { who: 0 }, { kind: 'derive', password, hash }),
    async close() {
      await Promise.all(Object.values(pools).map(({ pool: threads }) => threads.destroy()))
    },
  }
}
const NEVER = new AbortController().signal

/** The same on the spot, over whatever the engine reads: tests, and a firm that is in memory. */
export function withoutThreads(engine: Engine): Threads {
  return {
    answer: (route, call) => answerCall(engine, route, call),
    check: (route, text) => Promise.resolve(checkCall(route, text)),
    copy: () => Promise.reject(new Error('A firm in memory has no folder to copy.')),
    derive: (password, hash) => Promise.resolve(derive(password, hash)),
    close: () => Promise.resolve(),
  }
}
