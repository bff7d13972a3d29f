import { and, asc, eq, isNotNull, isNull, or } from 'drizzle-orm'
import type { IsoDate, ProjectId } from '#core/brands.ts'
import { addWorkingDays, workingDaysBetween } from '#core/calendar/calendar.ts'
import { refuse } from '#core/refusal.ts'
import type { ProjectSheet, Resuming } from '#contract/projects.ts'
import { within } from '../../database/query.ts'
import { milestones, tasks } from '../../database/tables/index.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Large, Steps } from '../../engine/portions.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, type Viewer } from '../../engine/viewer.ts'
import { contextOf } from '../tasks/queries.ts'
import { patchTask } from '../tasks/write.ts'
import { needRecord, needShape } from './service.ts'
import { projectSheet } from './sheet.ts'

/** A project on hold goes on: its dates shift by the working days that it stood still, or stay. */

/** Open tasks with dates of their own: what follows its subtasks moves with them. */
const dated = within((orm, a: { project: ProjectId }) =>
  orm
    .select({ id: tasks.id, title: tasks.title, start: tasks.start, due: tasks.due })
    .from(tasks)
    .where(
      and(
        ...[eq(tasks.projectId, a.project), isNull(tasks.closedAt), isNull(tasks.archivedAt)],
        ...[eq(tasks.datesFollow, false), or(isNotNull(tasks.due), isNotNull(tasks.start))],
      ),
    )
    .orderBy(asc(tasks.due), asc(tasks.position), asc(tasks.id)),
)
const openMilestones = within((orm, a: { project: ProjectId }) =>
  orm
    .select({ id: milestones.id, name: milestones.name, date: milestones.date })
    .from(milestones)
    .where(
      and(
        ...[eq(milestones.projectId, a.project), isNull(milestones.doneAt)],
        isNotNull(milestones.date),
      ),
    )
    .orderBy(asc(milestones.date)),
)

/** As many tasks as are named beforehand. */
const FEW = 8

/** A project that is on hold, and how its dates move. @throws Refusal `forbidden`, `not-on-hold` */
function heldProject(engine: Engine, viewer: Viewer, id: ProjectId) {
  needShape(engine, viewer, id, 'resume this project')
  const { state, heldOn, anchor, version } = needRecord(engine, id)
  if (state !== 'hold') refuse('not-on-hold', 'This project is not on hold.')
  const { firm } = engine
  const since = heldOn ?? firm.today()
  const days = Math.max(0, workingDaysBetween(firm.calendar(), since, firm.today()))
  const moved = (date: IsoDate): IsoDate =>
    days === 0 ? date : addWorkingDays(firm.calendar(), date, days)
  return { since, days, moved, anchor, version }
}

/** How a project's own date and those of its open tasks and milestones become others. */
type Moved = (date: IsoDate) => IsoDate
/** Moves what is open of a project, and its own date, inside a change; a step for each task. */
export function* shiftProject(
  engine: Engine,
  write: Writer,
  id: ProjectId,
  moved: Moved,
): Steps<void> {
  const { reader } = engine
  for (const { id: task } of dated.all(reader, { project: id })) {
    const context = contextOf.get(reader, { id: task })
    // Somebody closed it or took it elsewhere meanwhile.
    if (context?.task.projectId === id && context.task.closedAt === null) {
      const { start, due } = context.task
      patchTask(engine, write, context, {
        ...(start && { start: moved(start) }),
        ...(due && { due: moved(due) }),
      })
    }
    yield
  }
  for (const { id: milestone, date } of openMilestones.all(reader, { project: id }))
    if (date) write.update('milestones', milestone, { date: moved(date) })
  const { anchor, version } = needRecord(engine, id)
  if (anchor) write.update('projects', id, { anchor: moved(anchor), version: version + 1 })
}

/** What resuming a project with its dates shifted would move. @throws Refusal as `resumeProject` */
export function resuming(engine: Engine, viewer: Viewer, id: ProjectId): Resuming {
  const { since, days, moved, anchor } = heldProject(engine, viewer, id)
  const shift = (date: IsoDate) => ({ from: date, to: moved(date) })
  const open = dated.all(engine.reader, { project: id })
  return {
    heldOn: since,
    days,
    count: open.length,
    tasks: open.slice(0, FEW).flatMap(({ id: task, title, start, due }) => {
      const date = due ?? start
      return date ? [{ id: task, title, ...shift(date) }] : []
    }),
    milestones: openMilestones
      .all(engine.reader, { project: id })
      .flatMap(({ name, date }) => (date ? [{ name, ...shift(date) }] : [])),
    anchor: anchor && shift(anchor),
  }
}

/**
 * Lets a project on hold go on; `shift` moves its open tasks, milestones and its own date by the
 * working days lost. One change, one undo.
 * @throws Refusal `not-found`, `forbidden`, `not-on-hold`
 */
export function resumeProject(
  engine: Engine,
  viewer: Viewer,
  id: ProjectId,
  { shift }: { shift: boolean },
): Large<ProjectSheet> {
  const { days, moved } = heldProject(engine, viewer, id)
  const moves = shift && days > 0
  return engine.journal.large({
    actor: actorOf(viewer),
    size: 1 + (moves ? dated.all(engine.reader, { project: id }).length : 0),
    *work(write) {
      if (moves) yield* shiftProject(engine, write, id, moved)
      const { version } = needRecord(engine, id)
      write.update('projects', id, { state: 'running', heldOn: null, version: version + 1 })
      return projectSheet(engine, viewer, id)
    },
  })
}
