import { assemble } from '../assembly.ts'
import type { Database } from '../database/open.ts'
import type { Runner } from '../engine/runner.ts'
import type { Lab } from './lab.ts'

/** Servers that are killed at a commit, and started again over what was committed. */

/** What a kill is to the database: the outermost transaction is not committed. */
export class Killed extends Error {}
/** A database whose process may be told to die at the commit that comes after so many others. */
export function mortal(db: Database): { db: Database; dieAt: (commit: number) => void } {
  let depth = 0
  let left = Infinity
  const mayDie =
    <T>(work: () => T) =>
    (): T => {
      depth++
      try {
        const result = work()
        if (depth === 1 && --left <= 0) throw new Killed()
        return result
      } finally {
        depth--
      }
    }
  return {
    db: {
      ...db,
      transact: (work) => db.transact(mayDie(work)),
      lightly(work) {
        const done = db.lightly(mayDie(work))
        if (left <= 0) throw new Killed()
        return done
      },
    },
    dieAt: (commit) => (left = commit),
  }
}

/**
 * Lets a firm run, killed so many times after so many commits each, until it comes to its end; nothing
 * is remembered from one start to the next but what was committed.
 */
export function killedTimes(
  { db, clock }: Lab,
  times: number,
  { commits, run }: { commits: () => number; run: (runner: Runner) => void },
): void {
  const { db: twin, dieAt } = mortal(db)
  for (let kills = 0; ;) {
    const { runner } = assemble(twin, clock)
    dieAt(kills < times ? commits() : Infinity)
    try {
      run(runner)
      if (kills === times) return
      throw new Error(`It came to its end after ${kills} kills.`)
    } catch (error) {
      if (!(error instanceof Killed)) throw error
      kills++
    }
  }
}
