import type { PersonId } from '#core/brands.ts'
import type { Makes } from '#contract/series.ts'
import type { Reader } from '../../database/query.ts'
import type { Deriver } from '../../engine/journal.ts'
import { peopleOf, seriesById } from './queries.ts'

/** Whom what a series makes is given to, by name. */
export const namedIn = (makes: Makes): PersonId[] =>
  makes.kind === 'task'
    ? [...makes.assignees]
    : Object.values(makes.roles).flatMap((filling) => ('person' in filling ? [filling.person] : []))

/** Keeps which series give whom work, so that a person's are found without reading them all. */
export const seriesWork =
  (reader: Reader): Deriver =>
  (write, entries) => {
    for (const { entity, entityId: seriesId, action, after } of entries) {
      if (entity !== 'series' || action === 'removed') continue
      if (action === 'changed' && !(after && 'makes' in after)) continue
      const found = seriesById.get(reader, { id: seriesId })
      if (!found) continue
      const wanted = new Set(namedIn(found.series.makes))
      for (const { id, personId } of peopleOf.all(reader, { id: seriesId }))
        if (!wanted.delete(personId)) write.remove('seriesPeople', id)
      for (const personId of wanted) write.insert('seriesPeople', { personId, seriesId })
    }
  }
