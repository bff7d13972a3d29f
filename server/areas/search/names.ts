import type { PersonId } from '#core/brands.ts'
import type { Reader, Row } from '../../database/query.ts'
import type { Forgets } from '../../engine/engine.ts'
import { HITS, named } from './queries.ts'

/**
 * Clockwork, saved views, tags and people by name. They are few and change seldom: their names are read
 * once and looked through here, until one of them changes.
 */

type Name = Row<typeof named> & { readonly low: string }
const known = new WeakMap<Reader, readonly Name[]>()
const NAMED: ReadonlySet<string> = new Set([
  'views',
  'templates',
  'series',
  'rules',
  'people',
  'tags',
])

/** Forgets the names when any of what they name is made, changed or removed. */
export const forgetNames: Forgets = (reader) => (changed) => {
  for (const table of changed) if (NAMED.has(table)) known.delete(reader)
}

function namesOf(reader: Reader): readonly Name[] {
  let names = known.get(reader)
  if (!names) {
    names = named.all(reader).map((row) => ({ ...row, low: row.name.toLowerCase() }))
    known.set(reader, names)
  }
  return names
}

/** What has some words in its name, of what a person may see: their own views, and shared ones. */
export function byName(reader: Reader, words: string, me: PersonId) {
  const sought = words.trim().toLowerCase()
  const found: Pick<Name, 'kind' | 'id' | 'name'>[] = []
  for (const row of namesOf(reader)) {
    // Most rows fall here: nothing else of them is read before.
    if (!row.low.includes(sought) || (row.only !== null && row.only !== me)) continue
    const { kind, id, name } = row
    found.push({ kind, id, name })
    if (found.length === HITS) break
  }
  return found
}
