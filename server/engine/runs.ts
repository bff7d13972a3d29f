import type { RuleId, RunId, SeriesId } from '#core/brands.ts'
import type { Outcome } from '#contract/words.ts'
import { eq, inArray } from 'drizzle-orm'
import { within } from '../database/query.ts'
import { listed } from '../database/sql.ts'
import type { Said } from '../database/tables/clockwork.ts'
import { runs } from '../database/tables/index.ts'
import type { Reader } from '../database/query.ts'
import type { Item, Writer } from './journal.ts'

/** A run of a rule or a series, complete: what it did or did not do to an item, and why. */
export interface Run {
  /** What it is known by: a run of a key happens once. */
  readonly key: string
  readonly by: { readonly rule: RuleId } | { readonly series: SeriesId }
  readonly version?: number
  readonly about: Item | null
  readonly outcome: Outcome
  readonly summary: string
  readonly reasons: readonly Said[]
  /** The entry of the journal that led to it. */
  readonly causeId?: number
  /** How long it took, in microseconds. */
  readonly took?: number
}

const runByKey = within((orm, a: { key: string }) =>
  orm.select({ id: runs.id }).from(runs).where(eq(runs.key, a.key)),
)
const runsByKeys = within((orm, a: { keys: string }) =>
  orm
    .select({ id: runs.id, key: runs.key, times: runs.times, at: runs.at })
    .from(runs)
    .where(inArray(runs.key, listed(a.keys))),
)
/** What is said again within this time is no news. */
const MINUTE = 60_000
/** Whether a run of a key is in the log. */
export const hasRun = (reader: Reader, key: string): boolean =>
  runByKey.get(reader, { key }) !== undefined

/** Writes a run into the run log; nothing else does. */
export function recordRun(write: Writer, run: Run, times = 1): RunId {
  const { key, by, about, outcome, summary, reasons } = run
  return write.insert('runs', {
    key,
    ruleId: 'rule' in by ? by.rule : null,
    seriesId: 'series' in by ? by.series : null,
    version: run.version ?? null,
    itemKind: about?.kind ?? null,
    itemId: about?.id ?? null,
    outcome,
    times,
    summary,
    reasons,
    at: write.at,
    change: write.change,
    causeId: run.causeId ?? null,
    took: run.took ?? null,
  })
}

/**
 * Writes runs into the run log, each once: what was last said under the same key gives way to it, and
 * is counted; within a minute it stays where it stands.
 */
export function recordAgain(reader: Reader, write: Writer, said: readonly Run[]): void {
  const keys = JSON.stringify(said.map(({ key }) => key))
  const before = new Map(runsByKeys.all(reader, { keys }).map((run) => [run.key, run]))
  for (const run of said) {
    const old = before.get(run.key)
    if (!old) recordRun(write, run)
    else if (write.at - old.at < MINUTE)
      write.update('runs', old.id, { reasons: run.reasons, times: old.times + 1 })
    else {
      write.remove('runs', old.id)
      recordRun(write, run, old.times + 1)
    }
  }
}
