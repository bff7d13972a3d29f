import type { TemplateId } from '#core/brands.ts'
import type { Reader } from '../../database/query.ts'
import type { Deriver } from '../../engine/journal.ts'
import { moved } from '../../engine/tally.ts'
import { startedFromOne, templateById } from './queries.ts'

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

/** Keeps every version of each template, however it came about. */
export const templateVersions =
  (reader: Reader): Deriver =>
  (write, entries) => {
    const saved = entries.filter(
      ({ entity, action, after }) =>
        entity === 'templates' && (action !== 'changed' || after?.['version'] !== undefined),
    )
    for (const id of new Set(saved.map((entry) => entry.entityId))) {
      const now = templateById.get(reader, { id })
      if (!now) continue
      const { version, definition, updatedAt: at } = now
      write.insert('templateVersions', { templateId: now.id, version, definition, at })
    }
  }
