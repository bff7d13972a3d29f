import type { Reader } from '../../database/query.ts'
import type { Forgets } from '../../engine/engine.ts'
import type { Entry } from '../../engine/journal.ts'
import { activeRules, type RuleRecord } from './queries.ts'

/** The rules at work, read once until one of them changes. */

const known = new WeakMap<Reader, readonly RuleRecord[]>()

export const forgetAtWork: Forgets = (reader) => (changed) => {
  if (changed.has('rules')) known.delete(reader)
}
/** Rules that are switched on and have not paused themselves, in the order of their numbers. */
export function rulesAtWork(reader: Reader): readonly RuleRecord[] {
  let rules = known.get(reader)
  if (!rules) known.set(reader, (rules = activeRules.all(reader)))
  return rules
}
/** The same inside a change: what it did to rules may yet be taken back, and is not kept. */
export const rulesInside = (reader: Reader, entries: readonly Entry[]): readonly RuleRecord[] =>
  entries.some(({ entity }) => entity === 'rules') ? activeRules.all(reader) : rulesAtWork(reader)
