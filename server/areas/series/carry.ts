import type { IsoDate, PersonId, ProjectId } from '#core/brands.ts'
import { usualFor } from '#core/people/usual.ts'
import { plural } from '#core/text/speak.ts'
import type { Filling } from '#contract/clockwork.ts'
import { COPIES } from '#contract/words.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Steps } from '../../engine/portions.ts'
import type { Engine } from '../../engine/services.ts'
import { copyDetails } from '../fields/values.ts'
import { isActive } from '../people/queries.ts'
import { phaseNamed } from '../projects/phases.ts'
import { rehome, shiftTo } from '../projects/copy.ts'
import { phaseById, topTasksIn } from '../projects/queries.ts'
import { copyTask } from '../tasks/copy.ts'
import { rolesIn } from '../templates/queries.ts'
import { projectFiles, roleHolders, type ProjectBefore, type SeriesRecord } from './queries.ts'

/** What the next project of a series takes from the one before. */

/** Who led it in the end, while they are here. */
export function leadAsEnded(
  { reader }: Engine,
  { ways }: SeriesRecord,
  { leadId }: ProjectBefore,
): PersonId | null {
  const carries = ways.carries?.includes('lead') && leadId !== null && isActive(reader, leadId)
  return carries ? leadId : null
}

/** Who filled its roles in the end: of a role, whoever was on most of its tasks. */
export function rolesAsEnded(
  { reader }: Engine,
  { ways, makes }: SeriesRecord,
  { id }: ProjectBefore,
): Record<string, Filling> {
  if (!ways.carries?.includes('roles') || makes.kind !== 'project') return {}
  const ended = usualFor(
    rolesIn(reader, makes.templateId),
    roleHolders.all(reader, { project: id }),
  )
  return Object.fromEntries([...ended].map(([key, person]) => [key, { person }]))
}

/** Where something is handed on to. */
interface Onto {
  readonly before: ProjectBefore
  readonly projectId: ProjectId
  readonly anchor: IsoDate
}
/** Hands on what is said to be; answers what of the tasks went along, where any did. */
export function* handOn(
  engine: Engine,
  write: Writer,
  row: SeriesRecord,
  onto: Onto,
): Steps<string | undefined> {
  const { carries = [], openTasks } = row.ways
  const { before, projectId } = onto
  if (carries.includes('description') && before.description)
    write.update('projects', projectId, { description: before.description })
  if (carries.includes('fields')) copyDetails(engine, write, before.id, projectId)
  if (carries.includes('files'))
    for (const { id: _, ...file } of projectFiles.all(engine.reader, { project: before.id }))
      write.insert('attachments', { ...file, projectId })
  const open = openTasks && isOpen(write, before) ? openIn(engine, before) : []
  if (open.length === 0) return undefined
  const ids = open.map(({ id }) => id)
  if (openTasks === 'move') yield* rehome(engine, write, ids, projectId)
  else yield* copyAll(engine, write, open, { ...onto, creatorId: row.ownerId })
  const went = plural(open.length, 'open task')
  return `${went} of “${before.name}” ${openTasks === 'move' ? 'moved along' : 'made again'}`
}
/** What was finished or put away is not touched, unless this very change closed it. */
const isOpen = (write: Writer, { closedAt, archivedAt }: ProjectBefore): boolean =>
  archivedAt === null && (closedAt === null || closedAt === write.at)
const openIn = ({ reader }: Engine, { id }: ProjectBefore) =>
  topTasksIn.all(reader, { project: id }).filter(({ closedAt }) => closedAt === null)

/** Makes open tasks again, each as much later as the project is; none of them before today. */
function* copyAll(
  engine: Engine,
  write: Writer,
  open: ReturnType<typeof openIn>,
  { before, projectId, anchor, creatorId }: Onto & { readonly creatorId: PersonId | null },
): Steps<void> {
  const { reader, firm } = engine
  const [shift, today] = [shiftTo(engine, before.id, anchor), firm.today()]
  const date = (day: IsoDate) => (shift(day) < today ? today : shift(day))
  for (const { id, phaseId: old } of open) {
    const phase = old === null ? undefined : phaseById.get(reader, { id: old })
    const phaseId = phase ? phaseNamed(engine, write, projectId, phase.name) : null
    const into = { projectId, phaseId, parentId: null, creatorId, date, openOnly: true }
    yield* copyTask(engine, write, { id, take: COPIES }, into)
  }
}
