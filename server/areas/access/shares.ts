import type { ProjectId } from '#core/brands.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { sharesOfProject } from './queries.ts'

/** Shares another project as one is shared: with the same people, to do the same. */
export function copyShares(
  { reader }: Engine,
  write: Writer,
  id: ProjectId,
  into: ProjectId,
): void {
  for (const { personId, may } of sharesOfProject.all(reader, { id }))
    write.insert('shares', { projectId: into, personId, may })
}
