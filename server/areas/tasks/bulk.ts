import type { IsoDate } from '#core/brands.ts'
import { addWorkingDays } from '#core/calendar/calendar.ts'
import { addDays } from '#core/calendar/dates.ts'
import { Refusal, refuse } from '#core/refusal.ts'
import type { BulkBody, BulkDone, EditsBody, TaskPatch } from '#contract/tasks.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Large } from '../../engine/portions.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, needMember, sightOf, type Viewer } from '../../engine/viewer.ts'
import { countedLarge } from '../journal/counted.ts'
import { phaseNamed } from '../projects/phases.ts'
import { checkPoints } from '../projects/service.ts'
import { checkPatch } from './check.ts'
import { isLate } from './late.ts'
import {
  assignmentsOf,
  contextOf,
  followsOf,
  presentIn,
  taggingsOf,
  type TaskContext,
  type TaskRecord,
} from './queries.ts'
import { applyEdit, needSight, noTask } from './service.ts'
import { checkDates, insertTask, lastPosition, needContext } from './write.ts'

const merged = (
  now: readonly number[],
  add: readonly number[] | undefined,
  remove: readonly number[] | undefined,
): number[] => [...new Set([...now.filter((id) => !remove?.includes(id)), ...(add ?? [])])]

/** A task's start keeps its distance from its due in the same days. */
function shifted(engine: Engine, task: TaskRecord, shift: NonNullable<BulkBody['shift']>) {
  const { days, working } = shift
  const move = (date: IsoDate) =>
    working ? addWorkingDays(engine.firm.calendar(), date, days) : addDays(date, days)
  return {
    ...(task.due && { due: move(task.due) }),
    ...(task.start && { start: move(task.start) }),
  }
}

/** What is overdue is due today; a time that has passed falls away. */
function broughtToToday(engine: Engine, task: TaskRecord): TaskPatch {
  const now = engine.firm.nowLocal()
  if (!isLate(now, task)) return {}
  return {
    due: now.date,
    ...(task.dueTime && task.dueTime <= now.time && { dueTime: null }),
    ...(task.start && task.start > now.date && { start: now.date }),
  }
}

/** The edit that a bulk change means for one task; nothing where it would change nothing. */
function editFor(engine: Engine, body: BulkBody, { task }: TaskContext): TaskPatch {
  const { reader } = engine
  const patch: TaskPatch = { ...body.set }
  // A parent whose dates follow its subtasks moves with them, never by itself.
  if (body.shift && !task.datesFollow) Object.assign(patch, shifted(engine, task, body.shift))
  if (body.slipped && !task.datesFollow) Object.assign(patch, broughtToToday(engine, task))
  if (body.addAssignees || body.removeAssignees)
    patch.assignees = merged(
      assignmentsOf.all(reader, { id: task.id }).map((a) => a.personId),
      body.addAssignees,
      body.removeAssignees,
    )
  if (body.addTags || body.removeTags)
    patch.tags = merged(
      taggingsOf.all(reader, { id: task.id }).map((t) => t.tagId),
      body.addTags,
      body.removeTags,
    )
  if (body.addFollowers)
    patch.followers = merged(
      followsOf.all(reader, { id: task.id }).map((f) => f.personId),
      body.addFollowers,
      undefined,
    )
  return patch
}

/** A refusal that names the one of many it is about, and says that nothing was done. */
function naming<T>(work: () => T, say: (message: string) => string, place: string): T {
  try {
    return work()
  } catch (error) {
    if (error instanceof Refusal) return refuse(error.code, say(error.message), place)
    throw error
  }
}

/** One edit of several; a refusal names the task. Answers whether anything changed. */
function editOne(
  engine: Engine,
  write: Writer,
  viewer: Viewer,
  { context, patch }: { context: TaskContext; patch: TaskPatch },
): boolean {
  const { id, title, version } = context.task
  naming(
    () => applyEdit(engine, write, viewer, { context, patch }),
    (message) => `“${title}”: ${message} Nothing was changed.`,
    `tasks.${id}`,
  )
  return contextOf.get(engine.reader, { id })?.task.version !== version
}

/**
 * One change of many tasks: all of it or none. Answers how many it touched and the change that
 * undoes it whole.
 * @throws Refusal that names the first task in the way
 */
export function bulkEdit(engine: Engine, viewer: Viewer, body: BulkBody): Large<BulkDone> {
  needMember(viewer, 'change many tasks at once')
  return countedLarge(engine, viewer, body.ids.length, function* (write) {
    const sight = sightOf(viewer)
    const present = presentIn.all(engine.reader, { ids: JSON.stringify(body.ids), sight })
    const gone = body.ids.length - present.length
    if (gone > 0)
      refuse('not-found', `${gone} of these tasks are not there any more; look at the list again.`)
    let touched = 0
    for (const id of body.ids) {
      const context = needContext(engine, id)
      const patch = editFor(engine, body, context)
      if (Object.keys(patch).length > 0 && editOne(engine, write, viewer, { context, patch }))
        touched++
      yield
    }
    return touched
  })
}

/** What a pasted or imported task says, with the home it goes into. */
function makeOne(
  engine: Engine,
  write: Writer,
  viewer: Viewer,
  { row, home }: { row: EditsBody['make'][number]; home: number | null },
): void {
  const { phaseName, ...task } = row
  const named = phaseName && home !== null ? phaseName : null
  const whole = { ...task, projectId: home, ...(named && { phaseId: null }) }
  checkDates(whole)
  checkPatch(engine, viewer, whole, null)
  // Only in a project that is there is a phase looked for, or made.
  const phase = named && home !== null && { phaseId: phaseNamed(engine, write, home, named) }
  const position = lastPosition(engine, home) + 1
  insertTask(engine, write, { ...whole, ...phase, creatorId: viewer.id, position })
}

/**
 * An edit for each of some tasks, and new ones, in a new project if asked: what is pasted or brought
 * in, as one change.
 */
export function editEach(
  engine: Engine,
  viewer: Viewer,
  { edits, make, project }: EditsBody,
): Large<BulkDone & { projectId: number | null }> {
  needMember(viewer, 'change many tasks at once')
  if (project) checkPoints(engine, project)
  return engine.journal.large({
    actor: actorOf(viewer),
    size: edits.length + make.length,
    *work(write) {
      let count = 0
      for (const { id, patch } of edits) {
        needSight(engine, viewer, id)
        const context = contextOf.get(engine.reader, { id }) ?? noTask(id)
        if (editOne(engine, write, viewer, { context, patch })) count++
        yield
      }
      const leadId = viewer.id
      const projectId = project
        ? write.insert('projects', { ...project, leadId, createdAt: write.at })
        : null
      for (const [i, row] of make.entries()) {
        naming(
          () => makeOne(engine, write, viewer, { row, home: projectId ?? row.projectId ?? null }),
          (message) => `New task ${i + 1}, “${row.title}”: ${message} Nothing was made.`,
          `make.${i}`,
        )
        count++
        yield
      }
      return { count, projectId, change: write.written ? write.change : null }
    },
  })
}
