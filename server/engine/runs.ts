import type { RuleId, RunId, SeriesId } from '#core/brands.ts'
import type { Outcome } from '#contract/words.ts'
import { within } from '../database/query.ts'
import { eq } from 'drizzle-orm'
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
  readonly reasons: readonly string[]
  /** The entry of the journal that led to it. */
  readonly causeId?: number
  /** How long it took, in microseconds. */
  readonly took?: number
}

const runByKey = within((orm, a: { key: string }) =>
  orm.select({ id: runs.id, times: runs.times, at: runs.at }).from(runs).where(eq(runs.key, a.key)),
)
/** What is said again within this time is no news. */
const MINUTE = 60_000
/** Whether a run of a key is in the log. */
export const hasRun = (reader: Reader, key: string): boolean =>
  runByKey.get(reader, { key }) !== undefined

/**
 * Writes a run into the run log; nothing else does. Where `instead` is given, what was last said
 * under the same key gives way to it, and is counted; within a minute it stays where it stands.
 */
export function recordRun(write: Writer, run: Run, instead?: Reader): RunId {
  const { key, by, version, about, outcome, summary, reasons, causeId, took } = run
  const old = instead && runByKey.get(instead, { key })
  if (old && write.at - old.at < MINUTE) {
    write.update('runs', old.id, { reasons, times: old.times + 1 })
    return old.id
  }
  if (old) write.remove('runs', old.id)
  return write.insert('runs', {
    ...{ key, outcome, summary, reasons, at: write.at, change: write.change },
    ...(old && { times: old.times + 1 }),
    ...('rule' in by ? { ruleId: by.rule } : { seriesId: by.series }),
    ...{ version: version ?? null, causeId: causeId ?? null, took: took ?? null },
    ...(about && { itemKind: about.kind, itemId: about.id }),
  })
}
