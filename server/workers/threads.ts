import { scrypt } from 'node:crypto'
import { fileURLToPath } from 'node:url'
import { Piscina } from 'piscina'
import { Refusal, refuse } from '#core/refusal.ts'
import type { Engine } from '../engine/services.ts'
import { answerOfError, type Answer } from '../http/answer.ts'
import { answerCall, checkCall, type Call } from '../http/calls.ts'
import { nameOf, type Apart, type Route } from '../http/route.ts'
import { turns } from './turns.ts'
import type { HashOf, Job, Outcomes, ThreadData } from './jobs.ts'

/** What takes long, done where nobody waits for it. */
export interface Threads {
  /** Answers a request that writes nothing; given up when `gone` goes off. */
  answer(route: Route, call: Call, gone?: AbortSignal): Promise<Answer>
  /** Checks a JSON body; answers what is wrong with it, or null. */
  check(route: Route, text: string): Promise<Answer | null>
  /** A key derived from a password. */
  derive(password: string, hash: HashOf): Promise<Uint8Array>
  close(): Promise<void>
}

/** How long a job may take, in milliseconds, and how much memory, in megabytes. */
interface Limits {
  readonly time: number
  readonly memory: number
  readonly threads: number
}
const LIMITS: Readonly<Record<Apart, Limits>> = {
  read: { time: 15_000, memory: 512, threads: 3 },
  work: { time: 60_000, memory: 768, threads: 2 },
}
/** As many jobs of one person as are under way at once; further ones wait their turn. */
const AT_ONCE = 2
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
    minThreads: 1,
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
/** What a thread died of, said to whoever asked. */
function saidOf(error: unknown, limits: Limits, late: AbortSignal): unknown {
  if (late.aborted) return tooLong(limits)
  if (error instanceof Error && 'code' in error && error.code === 'ERR_WORKER_OUT_OF_MEMORY')
    return new Refusal('too-much', 'This would take more memory than there is; ask for less.')
  return error
}

/** Threads over a firm's folder: some for questions, some for long work, so that neither waits. */
export function startThreads(engine: Engine, data: string): Threads {
  const pools = { read: pool({ data }, LIMITS.read), work: pool({ data }, LIMITS.work) }
  const turn = turns(AT_ONCE, WAITING, () =>
    refuse('too-many', 'You have asked for very much at once; wait for some of it first.'),
  )
  async function run<K extends Job['kind']>(
    on: Apart,
    job: Extract<Job, { kind: K }>,
    gone?: AbortSignal,
  ): Promise<Outcomes[K]> {
    const late = AbortSignal.timeout(LIMITS[on].time)
    // A question is over before a thread could be ended and another begun.
    const signal = gone && on === 'work' ? AbortSignal.any([late, gone]) : late
    try {
      return (await pools[on].run(job, { signal })) as Outcomes[K]
    } catch (error) {
      throw saidOf(error, LIMITS[on], late)
    }
  }
  return {
    async answer(route, call, gone) {
      const on = route.apart ?? 'read'
      try {
        return await turn(`${on} ${call.viewer.id}`, gone, () =>
          run<'answer'>(
            on,
            { kind: 'answer', route: nameOf(route), call, now: engine.clock.now() },
            gone,
          ),
        )
      } catch (error) {
        return answerOfError(error)
      }
    },
    check: (route, text) => run<'check'>('work', { kind: 'check', route: nameOf(route), text }),
    derive: (password, hash) => run<'derive'>('work', { kind: 'derive', password, hash }),
    async close() {
      await Promise.all([pools.read.destroy(), pools.work.destroy()])
    },
  }
}

/** The same on the spot, over whatever the engine reads: tests, and a firm that is in memory. */
export function withoutThreads(engine: Engine): Threads {
  return {
    answer: (route, call) => answerCall(engine, route, call),
    check: (route, text) => Promise.resolve(checkCall(route, text)),
    derive: (password, { salt, n, length }) =>
      new Promise((resolve, reject) => {
        const cost = { N: n, r: 8, p: 1, maxmem: 64 * 1024 * 1024 }
        scrypt(password, salt, length, cost, (error, key) => (error ? reject(error) : resolve(key)))
      }),
    close: () => Promise.resolve(),
  }
}
