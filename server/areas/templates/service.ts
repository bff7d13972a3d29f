import type { IsoDate } from '#core/brands.ts'
import { readTemplateRows, type ImportMapping } from '#core/formats/template-rows.ts'
import { isoDate } from '#core/calendar/dates.ts'
import { refuse } from '#core/refusal.ts'
import { richText } from '#core/text/rich.ts'
import { plan } from '#core/templates/plan.ts'
import type { Finding, Plan, Template } from '#core/templates/template.ts'
import { plural, sayDate } from '#core/text/speak.ts'
import type {
  Filling,
  StartBody,
  TemplateSummary,
  TemplateView,
  TryResult,
} from '#contract/clockwork.ts'
import type { Actor, Cause, Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { needNewest } from '../../engine/versions.ts'
import { actorOf, needMember, needStructure, type Viewer } from '../../engine/viewer.ts'
import { insertTask } from '../tasks/write.ts'
import { fill, isActive, personName } from '../people/queries.ts'

interface Row {
  id: number
  name: string
  version: number
  definition: string
  updatedAt: number
  projects: number
}

function summary(row: Row): TemplateView {
  const definition = JSON.parse(row.definition) as Template
  const tasks = definition.phases.flatMap((p) => p.tasks)
  return {
    id: row.id,
    name: row.name,
    version: row.version,
    updatedAt: row.updatedAt,
    projects: row.projects,
    tasks: tasks.length,
    phases: definition.phases.length,
    roles: definition.roles?.length ?? 0,
    effort: tasks.reduce((sum, t) => sum + (t.effort ?? 0), 0),
    definition,
  }
}

const SELECT =
  'select t.*, (select count(*) from projects p where p.templateId = t.id) as projects from templates t'

export function listTemplates(engine: Engine, viewer: Viewer): TemplateSummary[] {
  needMember(viewer, 'see templates')
  return (engine.db.prepare(`${SELECT} order by t.name`).all() as Row[]).map((row) => {
    const { definition: _, ...rest } = summary(row)
    return rest
  })
}

export function templateView(engine: Engine, viewer: Viewer, id: number): TemplateView {
  needMember(viewer, 'see templates')
  const row = engine.db.prepare(`${SELECT} where t.id = ?`).get(id) as Row | undefined
  return row ? summary(row) : refuse('not-found', `There is no template ${id}.`)
}

/** What the shapes cannot say: keys are unique, roles exist, dates do not run in a circle. */
function checkTemplate(definition: Template): void {
  const roles = new Set(definition.roles?.map((r) => r.key))
  for (const task of definition.phases.flatMap((p) => p.tasks))
    if (task.role !== undefined && !roles.has(task.role))
      refuse(
        'no-such-role',
        `“${task.title}” names a role that the template does not have.`,
        task.key,
      )
  // Planning on any date finds doubled keys and circles.
  plan({ template: definition, anchor: '2026-06-01' as IsoDate, firm: ANY_CALENDAR })
}
const ANY_CALENDAR = { works: Array<boolean>(8).fill(true), minutes: [], holidays: new Map() }

/** Writes a template's first version. */
export function insertTemplate(write: Writer, definition: Template): number {
  const text = JSON.stringify(definition)
  const id = write.insert('templates', {
    name: definition.name,
    definition: text,
    updatedAt: write.at,
  })
  write.insert('templateVersions', { templateId: id, version: 1, definition: text, at: write.at })
  return id
}

export function makeTemplate(
  engine: Engine,
  viewer: Viewer,
  definition: Template,
  actor: Actor = actorOf(viewer),
): TemplateView {
  needStructure(viewer, 'make templates')
  checkTemplate(definition)
  return templateView(
    engine,
    viewer,
    engine.journal.change(actor, (write) => insertTemplate(write, definition)),
  )
}

/**
 * Makes a template of an imported table; rows that cannot be read are left out, as the preview
 * named them.
 */
export function importTemplate(
  engine: Engine,
  viewer: Viewer,
  body: { name: string; anchor: Template['anchor']; rows: string[][]; mapping: ImportMapping },
): TemplateView {
  const read = readTemplateRows(body.rows, body.mapping, body.name, body.anchor)
  if (read.kept === 0)
    refuse(
      'no-rows',
      `None of the ${plural(body.rows.length, 'row')} can be read${read.problems[0] ? `: line ${read.problems[0].line} ${read.problems[0].reason}` : ''}.`,
      'rows',
    )
  return makeTemplate(engine, viewer, read.template, { kind: 'import', id: viewer.id })
}

/** Saves a new version. @throws Refusal `changed-since` when somebody saved one in between. */
export function saveTemplate(
  engine: Engine,
  viewer: Viewer,
  id: number,
  definition: Template,
  seenVersion: number | null,
): TemplateView {
  needStructure(viewer, 'change templates')
  checkTemplate(definition)
  engine.journal.change(actorOf(viewer), (write) => {
    const { version } = templateView(engine, viewer, id)
    needNewest(seenVersion, version)
    const text = JSON.stringify(definition)
    write.update('templates', id, {
      name: definition.name,
      definition: text,
      version: version + 1,
      updatedAt: write.at,
    })
    write.insert('templateVersions', {
      templateId: id,
      version: version + 1,
      definition: text,
      at: write.at,
    })
  })
  return templateView(engine, viewer, id)
}

function planFor(
  engine: Engine,
  template: Template,
  body: Pick<StartBody, 'anchor' | 'roles'>,
): { plan: Plan; people: Map<string, number> } {
  const { firm } = engine
  const people = new Map<string, number>()
  for (const role of template.roles ?? []) {
    const person = fill(engine, body.roles[role.key])
    if (person !== null) people.set(role.key, person)
  }
  const own = Object.fromEntries(
    [...people.values()].map((id) => [String(id), firm.calendarOf(id)]),
  )
  const roles = Object.fromEntries([...people].map(([role, id]) => [role, String(id)]))
  return {
    plan: plan({
      template,
      anchor: isoDate(body.anchor, 'anchor'),
      roles,
      firm: firm.calendar(),
      people: own,
      today: firm.today(),
    }),
    people,
  }
}

function speak(
  engine: Engine,
  template: Template,
  finding: Finding,
): TryResult['findings'][number] {
  const today = engine.firm.today()
  const day = (date: string) => sayDate(date, today)
  const title = (key: string) =>
    template.phases.flatMap((p) => p.tasks).find((t) => t.key === key)?.title ?? key
  switch (finding.kind) {
    case 'rolled':
      return {
        ...finding,
        label: 'Moved',
        tone: 'ochre',
        sentence: `${title(finding.task)} fell on ${day(finding.from)} (${finding.because}), so it ${finding.field === 'start' ? 'starts' : 'is due'} ${day(finding.to)}.`,
      }
    case 'away': {
      const who = personName(engine, Number(finding.person)) ?? 'Its person'
      return {
        ...finding,
        label: 'Clash',
        tone: 'alarm',
        sentence: `${title(finding.task)} lands on ${day(finding.date)}: ${who.split(' ')[0]} is away. Next free day is ${day(finding.nextFree)}.`,
      }
    }
    case 'past':
      return {
        ...finding,
        label: 'Past',
        tone: 'alarm',
        sentence: `${title(finding.task)} would be due ${day(finding.date)}, which is already past.`,
      }
    case 'unfilled':
      return {
        ...finding,
        label: 'Open',
        tone: 'ochre',
        sentence: `Nobody fills ${template.roles?.find((r) => r.key === finding.role)?.name ?? finding.role}: ${plural(finding.tasks.length, 'task')} would have no owner.`,
      }
    case 'start-after-due':
      return {
        ...finding,
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
  id: number,
  body: StartBody,
): TryResult {
  const { definition } = templateView(engine, viewer, id)
  const { plan: made } = planFor(engine, definition, body)
  const dates = made.tasks.flatMap((t) => (t.start ? [t.start, t.due] : [t.due])).sort()
  return {
    tasks: made.tasks.map((t) => ({
      ...t,
      people: t.assignees.map((a) => personName(engine, Number(a)) ?? ''),
    })),
    findings: made.findings.map((f) => speak(engine, definition, f)),
    first: dates[0] ?? null,
    last: dates.at(-1) ?? null,
  }
}

export interface StartInput extends StartBody {
  readonly name: string
  readonly seriesId?: number
  readonly occurrence?: string
  readonly creatorId?: number | null
}

/**
 * Makes a project of a template's newest version inside a change: project, phases, tasks with dates
 * and people.
 */
export function insertProject(
  engine: Engine,
  write: Writer,
  templateId: number,
  input: StartInput,
): number {
  const row = engine.db
    .prepare('select version, definition, stateSetId from templates where id = ?')
    .get(templateId) as
    { version: number; definition: string; stateSetId: number | null } | undefined
  if (!row) return refuse('no-such-template', `There is no template ${templateId}.`, 'templateId')
  const template = JSON.parse(row.definition) as Template
  const { plan: made } = planFor(engine, template, input)
  const projectId = write.insert('projects', {
    name: input.name,
    clientId: input.clientId,
    leadId: input.leadId ?? null,
    templateId,
    templateVersion: row.version,
    stateSetId: row.stateSetId,
    anchor: input.anchor,
    seriesId: input.seriesId ?? null,
    occurrence: input.occurrence ?? null,
    createdAt: write.at,
  })
  const phases = new Map(
    template.phases.map((phase, position) => [
      phase.key,
      write.insert('phases', { projectId, name: phase.name, position }),
    ]),
  )
  const roleNames = new Map(template.roles?.map((r) => [r.key, r.name]))
  made.tasks.forEach((task, position) => {
    insertTask(engine, write, {
      title: task.title,
      description: richText(task.description),
      projectId,
      phaseId: phases.get(task.phase)!,
      role: task.role === null ? null : roleNames.get(task.role)!,
      start: task.start,
      due: task.due,
      dueTime: task.dueTime,
      estimate: task.effort,
      creatorId: input.creatorId ?? null,
      position,
      assignees: task.assignees.map(Number),
      checklist: [...task.checklist],
    })
  })
  return projectId
}

export function checkFillings(engine: Engine, roles: Record<string, Filling>): void {
  for (const [role, filling] of Object.entries(roles)) {
    if ('person' in filling && !isActive(engine, filling.person))
      refuse(
        'person-left',
        `${personName(engine, filling.person) ?? 'That person'} has left; choose someone else for ${role}.`,
        `roles.${role}`,
      )
    if (
      'team' in filling &&
      !engine.db.prepare('select 1 from teams where id = ?').get(filling.team)
    )
      refuse('no-such-team', `There is no team ${filling.team}.`, `roles.${role}`)
  }
}

/**
 * Starts a project; answers its id. Roles left open are made as tasks without an owner: loose ends.
 */
export function startProject(
  engine: Engine,
  viewer: Viewer,
  templateId: number,
  body: StartBody & { name: string },
  cause?: Cause,
): number {
  needMember(viewer, 'start projects')
  checkFillings(engine, body.roles)
  if (
    body.clientId !== null &&
    !engine.db.prepare('select 1 from clients where id = ?').get(body.clientId)
  )
    refuse('no-such-client', `There is no client ${body.clientId}.`, 'clientId')
  if (body.leadId != null && !isActive(engine, body.leadId))
    refuse(
      'person-left',
      `${personName(engine, body.leadId) ?? 'That person'} has left; choose another lead.`,
      'leadId',
    )
  return engine.journal.change(
    actorOf(viewer),
    (write) =>
      insertProject(engine, write, templateId, {
        ...body,
        leadId: body.leadId ?? viewer.id,
        creatorId: viewer.id,
      }),
    cause,
  )
}
