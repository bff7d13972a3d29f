import type { Saying } from '#core/fields/say.ts'
import type { Scope } from '#contract/query.ts'
import type { PhaseChoice } from '#contract/projects.ts'
import type { Directory } from '#contract/desks.ts'

/** What views know of the firm: what there is to choose from, and what day it is. */
export interface Known extends Saying {
  readonly directory: Directory
  /** Those that run, and closed ones that were opened. */
  readonly projects: Directory['projects']
  /** As many as were asked for. */
  readonly phases: readonly PhaseChoice[]
  readonly scope: Scope
  /** Who looks is no guest. */
  readonly member: boolean
}

export const projectIn = ({ scope, projects }: Known) =>
  scope.of === 'project' ? projects.find((p) => p.id === scope.id) : undefined

/**
 * States to choose from: those of a set; of the firm's own where several projects stand together.
 */
export function statesFor({ projects, directory }: Known, projectId: number | null) {
  const set = projects.find((p) => p.id === projectId)?.stateSetId ?? 1
  return directory.states.filter((s) => s.setId === set)
}
