import { assemble } from '../assembly.ts'
import type { Database } from '../database/open.ts'
import type { Runner } from '../engine/runner.ts'
import type { Lab } from './lab.ts'

/** Servers that are killed at a commit, and started again over what was committed. */

/** What a kill is to the database: the outermost transaction is not committed. */
class Killed extends Error {}
function mortal(db: Database) {
  let depth = 0
  let left = Infinity
  const twin: Database = {
    ...db,
    transact(work) {
      depth++
      try {
        return db.transact(() => {
          const result = work()
          if (depth === 1 && --left <= 0) throw new Killed()
          return result
        })
      } finally {
        depth--
      }
    },
  }
  return { twin, in: (commits: number) => (left = commits) }
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
  const { twin, in: killIn } = mortal(db)
  for (let kills = 0; ;) {
    const { runner } = assemble(twin, clock)
    killIn(kills < times ? commits() : Infinity)
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
