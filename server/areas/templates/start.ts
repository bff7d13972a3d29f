import type { LocalStamp, PersonId, ProjectId, SeriesId, TeamId, TemplateId } from '#core/brands.ts'
import type { Audience } from '#contract/words.ts'
import { workDay } from '#core/calendar/dates.ts'
import { refuse } from '#core/refusal.ts'
import { richText } from '#core/text/rich.ts'
import { plan } from '#core/templates/plan.ts'
import type { Finding, Plan, PlannedTask, Template } from '#core/templates/template.ts'
import { plural, sayDate } from '#core/text/speak.ts'
import type { Filling, StartBody, TryResult } from '#contract/clockwork.ts'
import type { ProjectSheet } from '#contract/projects.ts'
import type { Cause, Writer } from '../../engine/journal.ts'
import type { Large, Steps } from '../../engine/portions.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, needMember, type Viewer } from '../../engine/viewer.ts'
import { needOwnContacts } from '../people/contacts.ts'
import { clientById, isActive, personName, teamById } from '../people/queries.ts'
import { fill } from '../people/team.ts'
import { projectSheet } from '../projects/sheet.ts'
import { setPlanned } from '../reminders/planned.ts'
import { statesOf } from '../states/queries.ts'
import { setFor } from '../tasks/standing.ts'
import { insertTask } from '../tasks/write.ts'
import { templateById } from './queries.ts'
import { templateSheet } from './service.ts'

/** Laying a template on real dates, and starting a project of it. */

function planFor(
  engine: Engine,
  template: Template,
  body: Pick<StartBody, 'anchor' | 'roles'>,
): Plan {
  const { firm } = engine
  const people = new Map<string, PersonId>()
  for (const role of template.roles ?? []) {
    const person = fill(engine, body.roles[role.key])
    if (person !== null) people.set(role.key, person)
  }
  return plan({
    template,
    anchor: workDay(body.anchor, 'anchor'),
    roles: Object.fromEntries([...people].map(([role, id]) => [role, String(id)])),
    firm: firm.calendar(),
    people: Object.fromEntries([...people.values()].map((id) => [String(id), firm.calendarOf(id)])),
    today: firm.today(),
  })
}

type Spoken = Pick<TryResult['findings'][number], 'label' | 'tone' | 'sentence'>

/** A finding in words. */
function speak(engine: Engine, template: Template, finding: Finding): Spoken {
  const today = engine.firm.today()
  const day = (date: string) => sayDate(date, today)
  const title = (key: string) =>
    template.phases.flatMap((phase) => phase.tasks).find((task) => task.key === key)?.title ?? key
  switch (finding.kind) {
    case 'rolled':
      return {
        label: 'Moved',
        tone: 'ochre',
        sentence:
          `${title(finding.task)} fell on ${day(finding.from)} (${finding.because}), ` +
          `so it ${finding.field === 'start' ? 'starts' : 'is due'} ${day(finding.to)}.`,
      }
    case 'away': {
      const who = personName(engine.reader, Number(finding.person)) ?? 'Its person'
      return {
        label: 'Clash',
        tone: 'alarm',
        sentence:
          `${title(finding.task)} lands on ${day(finding.date)}: ${who.split(' ')[0]} is away. ` +
          `Next free day is ${day(finding.nextFree)}.`,
      }
    }
    case 'past':
      return {
        label: 'Past',
        tone: 'alarm',
        sentence: `${title(finding.task)} would be due ${day(finding.date)}, which is already past.`,
      }
    case 'unfilled': {
      const role = template.roles?.find((r) => r.key === finding.role)?.name ?? finding.role
      return {
        label: 'Open',
        tone: 'ochre',
        sentence: `Nobody fills ${role}: ${plural(finding.tasks.length, 'task')} would have no owner.`,
      }
    }
    case 'start-after-due':
      return {
        label: 'Order',
        tone: 'alarm',
        sentence: `${title(finding.task)} would start ${day(finding.date)}, after it is due.`,
      }
  }
}

/** The plan of a project on real dates, with what to know before starting; nothing is made. */
export function tryTemplate(
  engine: Engine,
  viewer: Viewer,
  id: TemplateId,
  body: StartBody,
): TryResult {
  const { definition } = templateSheet(engine, viewer, id)
  const made = planFor(engine, definition, body)
  const dates = made.tasks.flatMap((t) => (t.start ? [t.start, t.due] : [t.due])).sort()
  const name = (person: string) => personName(engine.reader, Number(person)) ?? ''
  return {
    tasks: made.tasks.map((task) => ({ ...task, people: task.assignees.map(name) })),
    findings: made.findings.map((f) => ({ ...f, ...speak(engine, definition, f) })),
    first: dates[0] ?? null,
    last: dates.at(-1) ?? null,
  }
}

export interface StartInput extends StartBody {
  readonly name: string
  readonly seriesId?: SeriesId
  readonly occurrence?: LocalStamp
  readonly creatorId?: PersonId | null
  /** Who sees it; everybody inside where it is not said. */
  readonly seen?: { readonly audience: Audience; readonly teamId: TeamId | null }
}

/** A planned task as it is written. */
const planned = (task: PlannedTask, position: number) => ({
  title: task.title,
  description: richText(task.description),
  start: task.start,
  due: task.due,
  dueTime: task.dueTime,
  estimate: task.effort,
  position,
  assignees: task.assignees.map(Number),
  checklist: [...task.checklist],
})

/** @throws Refusal `no-such-template`, `archived` */
function needTemplate({ reader }: Engine, id: TemplateId) {
  const row =
    templateById.get(reader, { id }) ??
    refuse('no-such-template', `There is no template ${id}.`, 'templateId')
  if (row.archivedAt !== null)
    refuse('archived', `“${row.name}” is archived; bring it back first.`, 'templateId')
  return row
}

/** As many tasks as a project of a template begins with. */
export const tasksIn = (engine: Engine, id: TemplateId): number =>
  needTemplate(engine, id).definition.phases.reduce((sum, { tasks }) => sum + tasks.length, 0)

/**
 * Makes a project of a template's newest version inside a change: project, phases, tasks with dates
 * and people; a step for each task.
 */
export function* projectSteps(
  engine: Engine,
  write: Writer,
  templateId: TemplateId,
  input: StartInput,
): Steps<ProjectId> {
  const row = needTemplate(engine, templateId)
  const { definition: template, stateSetId } = row
  const made = planFor(engine, template, input)
  const leadId = input.leadId ?? null
  const projectId = write.insert('projects', {
    name: input.name,
    clientId: input.clientId,
    leadId,
    templateId,
    templateVersion: row.version,
    stateSetId,
    anchor: workDay(input.anchor, 'anchor'),
    ...input.seen,
    seriesId: input.seriesId ?? null,
    occurrence: input.occurrence ?? null,
    createdAt: write.at,
  })
  const phases = new Map(
    template.phases.map(({ key, name }, position) => [
      key,
      write.insert('phases', { projectId, name, position }),
    ]),
  )
  const roles = new Map(template.roles?.map((role) => [role.key, role.name]))
  const states = statesOf(engine.reader, setFor({ stateSetId }))
  const { clientId = null, creatorId = null } = input
  const home = { id: projectId, leadId, stateSetId, templateId, clientId, states }
  for (const [position, task] of made.tasks.entries()) {
    const id = insertTask(
      engine,
      write,
      {
        ...planned(task, position),
        projectId,
        phaseId: phases.get(task.phase) ?? null,
        role: task.role === null ? null : (roles.get(task.role) ?? task.role),
        creatorId,
      },
      home,
    )
    setPlanned(write, id, task.reminders, creatorId)
    yield
  }
  return projectId
}

/** Whoever fills a role is here. @throws Refusal `person-left`, `no-such-team` */
export function checkFillings({ reader }: Engine, roles: Record<string, Filling>): void {
  for (const [role, filling] of Object.entries(roles)) {
    if ('person' in filling && !isActive(reader, filling.person))
      refuse(
        'person-left',
        `${personName(reader, filling.person) ?? 'That person'} has left; choose someone else for ${role}.`,
        `roles.${role}`,
      )
    if ('team' in filling && !teamById.get(reader, { id: filling.team }))
      refuse('no-such-team', `There is no team ${filling.team}.`, `roles.${role}`)
  }
}

/** People named to fill roles. */
export const fillersOf = (roles: Record<string, Filling>): PersonId[] =>
  Object.values(roles).flatMap((filling) => ('person' in filling ? [filling.person] : []))

/** Starts a project. Roles left open are made as tasks without an owner: loose ends. */
export function startProject(
  engine: Engine,
  viewer: Viewer,
  templateId: TemplateId,
  { cause, ...body }: StartBody & { name: string; cause?: Cause },
): Large<ProjectSheet> {
  const { reader } = engine
  needMember(viewer, 'start projects')
  checkFillings(engine, body.roles)
  if (body.clientId !== null && !clientById.get(reader, { id: body.clientId }))
    refuse('no-such-client', `There is no client ${body.clientId}.`, 'clientId')
  if (body.leadId != null && !isActive(reader, body.leadId))
    refuse(
      'person-left',
      `${personName(reader, body.leadId) ?? 'That person'} has left; choose another lead.`,
      'leadId',
    )
  needOwnContacts(engine, viewer, {
    ...{ ids: fillersOf(body.roles), client: body.clientId, place: 'roles' },
  })
  const input = { ...body, leadId: body.leadId ?? viewer.id, creatorId: viewer.id }
  return engine.journal.large({
    ...{ actor: actorOf(viewer), size: tasksIn(engine, templateId) },
    *work(write) {
      return projectSheet(engine, viewer, yield* projectSteps(engine, write, templateId, input))
    },
    ...(cause && { cause }),
  })
}
