import type { IsoDate } from '#core/brands.ts'
import { addWorkingDays } from '#core/calendar/calendar.ts'
import { addDays } from '#core/calendar/dates.ts'
import { Refusal, refuse } from '#core/refusal.ts'
import type { BulkBody, BulkDone, EditsBody, TaskPatch, TaskRow } from '#contract/tasks.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { needMember, type Viewer } from '../../engine/viewer.ts'
import { counted } from '../journal/counted.ts'
import { phaseNamed } from '../projects/phases.ts'
import { taskRows } from './queries.ts'
import { applyEdit, checkPatch } from './service.ts'
import { checkDates, insertTask, lastPosition } from './write.ts'

const merged = (
  now: readonly number[],
  add: readonly number[] | undefined,
  remove: readonly number[] | undefined,
): number[] => [...new Set([...now.filter((id) => !remove?.includes(id)), ...(add ?? [])])]

/** The edit that a bulk change means for one task; nothing where it would change nothing. */
function editFor(engine: Engine, body: BulkBody, row: TaskRow): TaskPatch {
  const { firm } = engine
  const patch: TaskPatch = { ...body.set }
  // A parent whose dates follow its subtasks moves with them, never by itself.
  const follows =
    (body.shift || body.slipped) &&
    engine.db.prepare('select 1 from tasks where id = ? and datesFollow = 1').get(row.id) !==
      undefined
  if (body.shift && !follows) {
    const { days, working } = body.shift
    // A task's start keeps its distance in the same days.
    const move = (date: string | null) =>
      date &&
      (working
        ? addWorkingDays(firm.calendar(), date as IsoDate, days)
        : addDays(date as IsoDate, days))
    if (row.due) patch.due = move(row.due)
    if (row.start) patch.start = move(row.start)
  }
  if (body.slipped && row.late && !follows) {
    const today = firm.today()
    patch.due = today
    if (row.dueTime && row.dueTime <= firm.nowLocal().time) patch.dueTime = null
    if (row.start && row.start > today) patch.start = today
  }
  if (body.addAssignees || body.removeAssignees)
    patch.assignees = merged(
      row.assignees.map((a) => a.id),
      body.addAssignees,
      body.removeAssignees,
    )
  if (body.addTags || body.removeTags)
    patch.tags = merged(
      row.tags.map((t) => t.id),
      body.addTags,
      body.removeTags,
    )
  if (body.addFollowers) {
    const now = engine.db
      .prepare('select personId from taskFollowers where taskId = ?')
      .all(row.id) as { personId: number }[]
    patch.followers = merged(
      now.map((f) => f.personId),
      body.addFollowers,
      undefined,
    )
  }
  return patch
}

/** One edit of several; a refusal names the task. Answers whether anything changed. */
function editOne(
  engine: Engine,
  write: Writer,
  viewer: Viewer,
  row: Pick<TaskRow, 'id' | 'title' | 'version'>,
  patch: TaskPatch,
): boolean {
  try {
    applyEdit(engine, write, viewer, row.id, patch)
  } catch (error) {
    if (error instanceof Refusal)
      refuse(error.code, `“${row.title}”: ${error.message} Nothing was changed.`, `tasks.${row.id}`)
    throw error
  }
  return (
    (engine.db.prepare('select version from tasks where id = ?').get(row.id) as { version: number })
      .version !== row.version
  )
}

/**
 * One change of many tasks: all of it or none. Answers how many it touched and the change that
 * undoes it whole.
 * @throws Refusal that names the first task in the way
 */
export function bulkEdit(engine: Engine, viewer: Viewer, body: BulkBody): BulkDone {
  needMember(viewer, 'change many tasks at once')
  return counted(engine, viewer, (write) => {
    const rows = taskRows(engine, viewer, body.ids)
    if (rows.length < body.ids.length)
      refuse(
        'not-found',
        `${body.ids.length - rows.length} of these tasks are not there any more; look at the list again.`,
      )
    return rows.filter((row) => {
      const patch = editFor(engine, body, row)
      return Object.keys(patch).length > 0 && editOne(engine, write, viewer, row, patch)
    }).length
  })
}

/**
 * An edit for each of some tasks, and new ones, in a new project if asked: what is pasted or
 * brought in, as one change.
 */
export function editEach(
  engine: Engine,
  viewer: Viewer,
  body: EditsBody,
): BulkDone & { projectId: number | null } {
  needMember(viewer, 'change many tasks at once')
  let projectId: number | null = null
  const done = counted(engine, viewer, (write) => {
    const rows = new Map(
      taskRows(
        engine,
        viewer,
        body.edits.map((e) => e.id),
      ).map((row) => [row.id, row]),
    )
    let touched = 0
    for (const { id, patch } of body.edits)
      if (
        editOne(
          engine,
          write,
          viewer,
          rows.get(id) ?? refuse('not-found', `There is no task ${id} here any more.`),
          patch,
        )
      )
        touched++
    if (body.project)
      projectId = write.insert('projects', {
        ...body.project,
        leadId: viewer.id,
        createdAt: write.at,
      })
    for (const [i, { phaseName: phase, ...task }] of body.make.entries()) {
      try {
        const home = projectId ?? task.projectId ?? null
        const whole = {
          ...task,
          projectId: home,
          ...(phase && home !== null && { phaseId: phaseNamed(engine, write, home, phase) }),
        }
        checkDates(whole.start, whole.due, whole.dueTime)
        checkPatch(engine, viewer, whole, null)
        insertTask(engine, write, {
          ...whole,
          creatorId: viewer.id,
          position: lastPosition(engine, home) + 1,
        })
      } catch (error) {
        if (error instanceof Refusal)
          refuse(
            error.code,
            `New task ${i + 1}, “${task.title}”: ${error.message} Nothing was made.`,
            `make.${i}`,
          )
        throw error
      }
      touched++
    }
    return touched
  })
  return { ...done, projectId }
}
