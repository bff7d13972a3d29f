import type { ClientId, IsoDate, LocalStamp, PersonId, ProjectId, TaskId } from '#core/brands.ts'
import { addWorkingDays, workingDaysBetween } from '#core/calendar/calendar.ts'
import { localStamp } from '#core/calendar/dates.ts'
import type { Coming } from '#core/recurrence/coming.ts'
import { merge, servedPeriod } from '#core/text/merge.ts'
import { richText } from '#core/text/rich.ts'
import type { Makes } from '#contract/series.ts'
import { COPIES, type Carries, type Copies } from '#contract/words.ts'
import type { Reader } from '../../database/query.ts'
import type { Item, Writer } from '../../engine/journal.ts'
import type { Steps } from '../../engine/portions.ts'
import type { Engine } from '../../engine/services.ts'
import { copyShares } from '../access/shares.ts'
import { withUsual } from '../clients/usual.ts'
import { clientById, isActive } from '../people/queries.ts'
import { leastLoaded, nextInTurn } from '../people/team.ts'
import { shiftProject } from '../projects/resume.ts'
import { needRecord } from '../projects/service.ts'
import { setPlanned } from '../reminders/planned.ts'
import { takeAlong, takenFrom } from '../tasks/copy.ts'
import { contextOf, homeOf } from '../tasks/queries.ts'
import { turnOf } from '../rules/queries.ts'
import { insertTask, patchTask, type InsertTask } from '../tasks/write.ts'
import { rolesIn } from '../templates/queries.ts'
import { projectSteps } from '../templates/start.ts'
import { handOn, leadAsEnded, rolesAsEnded } from './carry.ts'
import { isOver } from './coming.ts'
import { lastMade, lastProject, lastProjectFor, type Known, type SeriesRecord } from './queries.ts'

/** What a series makes of a date: a task or a project, or the one before led on. */

/** Names by date, of what is made for a client. */
export function naming(
  what: Makes,
  client: { readonly name: string; readonly short: string } | null | undefined,
): (date: IsoDate) => string {
  const text = what.kind === 'project' ? what.name : what.title
  return (date) =>
    merge(text, {
      client: client?.short ?? '',
      'client name': client?.name ?? '',
      date: { date },
      period: { date: servedPeriod(date, what.period) },
    })
}
/** Whom something is made for. */
export const clientOf = ({ reader }: Pick<Engine, 'reader'>, { clientId }: Makes) =>
  clientId === null ? null : clientById.get(reader, { id: clientId })

/** What was made of a date, and why whoever has it was chosen. */
export interface Made {
  readonly projectId: ProjectId | null
  readonly taskId: TaskId | null
  readonly name: string
  readonly why?: string
}
/** A date, and for whom it is where the series does not say. */
type Date = Pick<Coming, 'scheduled' | 'date'> & { readonly clientId?: ClientId | null }

function* makeProject(
  engine: Engine,
  write: Writer,
  { row, name, scheduled }: { row: SeriesRecord; name: string; scheduled: LocalStamp },
  anchor: IsoDate,
): Steps<Made> {
  const what = row.makes
  if (what.kind !== 'project') throw new Error('This series makes tasks.')
  // What was for another client hands on nothing.
  const before = lastProjectFor.get(engine.reader, { id: row.id, client: what.clientId })
  // What comes by itself is seen by nobody who did not see the one before.
  const seenLike = before ?? lastProject.get(engine.reader, { id: row.id })
  const seen = seenLike && { audience: seenLike.audience, teamId: seenLike.teamId }
  const roles = { ...what.roles, ...(before && rolesAsEnded(engine, row, before)) }
  const projectId = yield* projectSteps(engine, write, what.templateId, {
    ...{ ...what, name, anchor },
    ...{ creatorId: row.ownerId, seriesId: row.id, occurrence: scheduled },
    leadId: (before && leadAsEnded(engine, row, before)) ?? what.leadId,
    roles: withUsual(engine, what.clientId, rolesIn(engine.reader, what.templateId), roles),
    ...(seen && { seen }),
  })
  if (!before) return { projectId, taskId: null, name }
  copyShares(engine, write, before.id, projectId)
  const why = yield* handOn(engine, write, row, { before, projectId, anchor })
  return { projectId, taskId: null, name, ...(why !== undefined && { why }) }
}

/** Who of those it is for gets it on a day, where they take turns. */
function turnTo(
  engine: Engine,
  write: Writer,
  row: SeriesRecord,
  { among, day }: { among: readonly PersonId[]; day: IsoDate },
): { assignees: readonly PersonId[]; why?: string } {
  const { rota } = row.ways
  const here = among.filter((id) => isActive(engine.reader, id))
  if (rota === undefined || here.length < 2) return { assignees: here }
  const id = `series:${row.id}`
  const last = turnOf.get(engine.reader, { id })?.personId ?? null
  const chosen =
    rota === 'least' ? leastLoaded(engine, here, day) : nextInTurn(engine, here, day, last)
  if (!chosen) return { assignees: here }
  if (rota === 'turn') {
    if (turnOf.get(engine.reader, { id })) write.update('turns', id, { personId: chosen.id })
    else write.insert('turns', { id, personId: chosen.id })
  }
  return { assignees: [chosen.id], why: chosen.why }
}

const COPIED: ReadonlySet<string> = new Set(COPIES.filter((what) => what !== 'dates'))
const isCopied = (what: Carries): what is Exclude<Copies, 'dates'> => COPIED.has(what)
/**
 * The task that the next one takes after: the last that was made, or the one it all began with. What
 * was for another client hands on nothing.
 */
function originalOf({ reader }: Engine, row: SeriesRecord) {
  const carries = row.ways.carries ?? []
  const { makes } = row
  if (makes.kind !== 'task' || carries.length === 0) return undefined
  const last = lastMade.get(reader, { id: row.id })?.task?.id ?? makes.like
  const found = last === undefined ? undefined : contextOf.get(reader, { id: last })
  if (!found) return undefined
  const theirs = (found.project ?? found.task).clientId
  if (theirs !== clientFor(reader, makes)) return undefined
  return { task: found.task, carries, take: carries.filter(isCopied) }
}
/** Whom a task is for: its project’s client, where it is in one. */
function clientFor(
  reader: Reader,
  { projectId, clientId }: Extract<Makes, { kind: 'task' }>,
): ClientId | null {
  const home = projectId === null ? undefined : homeOf.get(reader, { id: projectId })
  return home ? home.clientId : clientId
}
type Original = NonNullable<ReturnType<typeof originalOf>>
/** What stands in the row of the next one that is as the one before had it. */
function carried(engine: Engine, { task, carries, take }: Original): Partial<InsertTask> {
  return {
    ...takenFrom(engine, { id: task.id, take }),
    ...(carries.includes('title') && { title: task.title }),
    ...(carries.includes('estimate') && { estimate: task.estimate }),
    ...(carries.includes('phase') && { phaseId: task.phaseId, projectId: task.projectId }),
  }
}

/** Gives the next one what hangs on the one before, by as many working days later. */
function* belongings(
  engine: Engine,
  write: Writer,
  { task, take }: Original,
  next: InsertTask & { readonly id: TaskId; readonly due: IsoDate },
): Steps<void> {
  const calendar = engine.firm.calendar()
  const by = task.due ? workingDaysBetween(calendar, task.due, next.due) : 0
  const into = {
    ...{ parentId: next.id, creatorId: next.creatorId ?? null },
    ...{ projectId: next.projectId ?? null, phaseId: next.phaseId ?? null },
    date: (day: IsoDate) => (by === 0 ? day : addWorkingDays(calendar, day, by)),
  }
  yield* takeAlong(engine, write, { id: task.id, take: [...take, 'dates'] }, into)
}

function* makeTask(
  engine: Engine,
  write: Writer,
  { row, name, scheduled }: { row: SeriesRecord; name: string; scheduled: LocalStamp },
  date: LocalStamp,
): Steps<Made> {
  const what = row.makes
  if (what.kind !== 'task') throw new Error('This series makes projects.')
  const { date: due, time } = localStamp(date)
  const original = originalOf(engine, row)
  const from = original && carried(engine, original)
  // Who takes turns is said here; the one before has one of them alone.
  const before = row.ways.rota === undefined ? from?.assignees : undefined
  const { assignees, why } = turnTo(engine, write, row, {
    among: before ?? what.assignees,
    day: due,
  })
  const task: InsertTask = {
    title: name,
    description: richText(what.description),
    clientId: what.clientId,
    projectId: what.projectId,
    estimate: what.estimate,
    checklist: [...what.checklist],
    ...from,
    assignees: [...assignees],
    ...{ creatorId: row.ownerId, seriesId: row.id, occurrence: scheduled },
    ...{ due, dueTime: time?.slice(0, 5) ?? null },
  }
  const taskId = insertTask(engine, write, task)
  setPlanned(write, taskId, what.reminders, null)
  if (original) yield* belongings(engine, write, original, { ...task, id: taskId, due })
  return { projectId: null, taskId, name: task.title, ...(why !== undefined && { why }) }
}

/** Makes what a series makes, for a date, inside a change. */
export function* makeWork(
  engine: Engine,
  write: Writer,
  series: SeriesRecord,
  { scheduled, date, clientId }: Date,
): Steps<Made> {
  const { date: day } = localStamp(date)
  // Whom an event was about may be gone since.
  const isHere = clientId && clientById.get(engine.reader, { id: clientId })
  const makes = { ...series.makes, clientId: series.makes.clientId ?? (isHere ? clientId : null) }
  const row = { ...series, makes }
  const name = naming(row.makes, clientOf(engine, row.makes))(day)
  const what = { row, name, scheduled }
  return row.makes.kind === 'project'
    ? yield* makeProject(engine, write, what, day)
    : yield* makeTask(engine, write, what, date)
}

/** The one before, where it is still open. */
export function openBefore({ reader }: Pick<Engine, 'reader'>, row: SeriesRecord): Known | null {
  const before = lastMade.get(reader, { id: row.id })
  return before && !isOver(before) ? before : null
}

/** Closes the one before as missed: a task is dropped, a project finished. */
export function closeBefore(engine: Engine, write: Writer, before: Known): void {
  const { occurrence, task, project } = before
  const context = task && contextOf.get(engine.reader, { id: task.id })
  if (context) patchTask(engine, write, context, { state: 'dropped' })
  else if (project) {
    const { version } = needRecord(engine, project.id)
    write.update('projects', project.id, { closedAt: write.at, version: version + 1 })
  }
  write.update('occurrences', occurrence.id, {
    ...{ state: 'missed' as const, why: 'still open when the next one came' },
  })
}

/** Moves the one before on to a date, with all of it that is open. */
export function* moveBefore(
  engine: Engine,
  write: Writer,
  { occurrence, task, project }: Known,
  to: LocalStamp,
): Steps<Made> {
  const { date, time } = localStamp(to)
  if (task) {
    const context = contextOf.get(engine.reader, { id: task.id })
    const due = { due: date, dueTime: time?.slice(0, 5) ?? null }
    if (context) patchTask(engine, write, context, due)
    return { taskId: task.id, projectId: null, name: task.title }
  }
  if (!project) return { taskId: null, projectId: null, name: '' }
  const calendar = engine.firm.calendar()
  const by = workingDaysBetween(calendar, project.due ?? localStamp(occurrence.date).date, date)
  if (by !== 0)
    yield* shiftProject(engine, write, project.id, (day) => addWorkingDays(calendar, day, by))
  return { taskId: null, projectId: project.id, name: project.name }
}

export const itemOf = ({ taskId, projectId }: Pick<Made, 'taskId' | 'projectId'>): Item | null =>
  taskId !== null
    ? { kind: 'task', id: taskId }
    : projectId === null
      ? null
      : { kind: 'project', id: projectId }
