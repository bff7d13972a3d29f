import type { PhaseId, ProjectId } from '#core/brands.ts'
import type { Engine } from '../../engine/services.ts'
import type { Writer } from '../../engine/journal.ts'
import { lastPhasePlace, phaseCalled } from './queries.ts'

/** The phase of a project with a name, made at the end if it is not there. */
export function phaseNamed(
  { reader }: Engine,
  write: Writer,
  projectId: ProjectId,
  name: string,
): PhaseId {
  const there = phaseCalled.get(reader, { project: projectId, name })
  if (there) return there.id
  const position = (lastPhasePlace.get(reader, { project: projectId })?.position ?? -1) + 1
  return write.insert('phases', { projectId, name, position })
}
