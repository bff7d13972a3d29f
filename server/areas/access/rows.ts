import type { ClientId, PhaseId, ProjectId } from '#core/brands.ts'
import { reaches } from '#core/access/reach.ts'
import type { Reader } from '../../database/query.ts'
import type { Engine } from '../../engine/services.ts'
import { isGuest, mayStructure, type Viewer } from '../../engine/viewer.ts'
import { levelAt } from './levels.ts'
import { placesApart, teamsWith } from './queries.ts'

/** As much of a task's row as says whether somebody may work on it. */
interface Row {
  readonly project: { readonly id: ProjectId } | null
  readonly phaseId: PhaseId | null
  /** Its own, or its project's. */
  readonly client: { readonly id: ClientId } | null
  readonly assignees: readonly { readonly id: number }[]
}

/**
 * Whether somebody may say of tasks that they see how far they are, for a page of rows: what is for
 * everybody inside, or for a team of theirs, is told from two questions; any other place is asked
 * about once.
 */
export function mayWorkOn(
  engine: Engine,
  viewer: Viewer,
  rows: readonly Row[],
): (row: Row) => boolean {
  if (mayStructure(viewer)) return () => true
  const apart = isGuest(viewer) ? null : hardToTell(engine.reader, viewer, rows)
  const known = new Map<string, boolean>()
  return ({ project, phaseId, client, assignees }) => {
    if (assignees.some(({ id }) => id === viewer.id)) return true
    if (apart && (project === null || !apart.has(project.id))) return true
    const at = {
      ...{ projectId: project?.id ?? null, phaseId },
      clientId: project === null ? (client?.id ?? null) : null,
    }
    const key = JSON.stringify(at)
    const may = known.get(key) ?? reaches(levelAt(engine, viewer, at), 'work')
    known.set(key, may)
    return may
  }
}
/** The projects of some rows that are neither for everybody inside nor for a team of somebody's. */
function hardToTell(reader: Reader, { id }: Viewer, rows: readonly Row[]): ReadonlySet<number> {
  const ids = [...new Set(rows.flatMap(({ project }) => project?.id ?? []))]
  const apart = placesApart.all(reader, { ids: JSON.stringify(ids) })
  const own = new Set(
    apart.length ? teamsWith.all(reader, { person: id }).map((team) => Number(team.id)) : [],
  )
  const mine = ({ audience, teamId }: (typeof apart)[number]) =>
    audience === 'team' && teamId !== null && own.has(teamId)
  return new Set(apart.filter((place) => !mine(place)).map((place) => Number(place.id)))
}
