import type { TemplateId } from '#core/brands.ts'
import type { Reader } from '../../database/query.ts'
import type { Deriver } from '../../engine/journal.ts'
import { moved } from '../../engine/tally.ts'
import { startedFromOne } from './queries.ts'

/** Keeps how many projects were ever started from each template. */
export const startTallies =
  (reader: Reader): Deriver =>
  (write, entries) => {
    for (const [id, by] of moved<TemplateId>(entries, 'projects', 'templateId')) {
      const now = startedFromOne.get(reader, { id })
      if (now) write.update('templateCounts', now, { projects: now.projects + by })
      else write.insert('templateCounts', { id, projects: by })
    }
  }
