import type { ProjectId } from '#core/brands.ts'
import { workDay } from '#core/calendar/dates.ts'
import { refuse } from '#core/refusal.ts'
import type { MilestoneBody, ProjectSheet } from '#contract/projects.ts'
import type { Changed, Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { isActive, personName } from '../people/queries.ts'
import { milestoneOf } from './queries.ts'
import { changing, needShape } from './service.ts'
import { needProject } from './sheet.ts'

/** A milestone by its project's number and its own. */
interface Place {
  readonly project: ProjectId
  readonly id: number
}

function columnsOf({ reader }: Engine, write: Writer, body: MilestoneBody, doneAt: number | null) {
  if (body.ownerId && !isActive(reader, body.ownerId))
    refuse(
      'person-left',
      `${personName(reader, body.ownerId) ?? 'That person'} has left; choose another owner.`,
      'ownerId',
    )
  return {
    name: body.name,
    ownerId: body.ownerId,
    date: body.date ? workDay(body.date, 'date') : null,
    doneAt: body.done ? (doneAt ?? write.at) : null,
  }
}

const needMilestone = (engine: Engine, place: Place) =>
  milestoneOf.get(engine.reader, { ...place }) ??
  refuse('not-found', 'That milestone is gone; someone removed it.')

export function makeMilestone(
  engine: Engine,
  viewer: Viewer,
  projectId: ProjectId,
  body: MilestoneBody,
): Changed<ProjectSheet> {
  needShape(engine, viewer, projectId, 'set milestones')
  return changing(engine, viewer, projectId, (write) => {
    write.insert('milestones', { projectId, ...columnsOf(engine, write, body, null) })
  })
}

/** Whoever owns a milestone may say that it is reached. */
export function editMilestone(
  engine: Engine,
  viewer: Viewer,
  place: Place,
  patch: Partial<MilestoneBody>,
): Changed<ProjectSheet> {
  needProject(engine, viewer, place.project)
  const row = needMilestone(engine, place)
  const onlyDone = Object.keys(patch).every((field) => field === 'done')
  if (!(onlyDone && row.ownerId === viewer.id))
    needShape(engine, viewer, place.project, 'change milestones')
  const { name, ownerId, date, doneAt } = row
  const body = { name, ownerId, date, done: doneAt !== null, ...patch }
  return changing(engine, viewer, place.project, (write) => {
    write.update('milestones', row, columnsOf(engine, write, body, doneAt))
  })
}

export function removeMilestone(
  engine: Engine,
  viewer: Viewer,
  place: Place,
): Changed<ProjectSheet> {
  needShape(engine, viewer, place.project, 'remove milestones')
  needMilestone(engine, place)
  return changing(engine, viewer, place.project, (write) => write.remove('milestones', place.id))
}
