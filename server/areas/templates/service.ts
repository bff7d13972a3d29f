import type { TemplateId } from '#core/brands.ts'
import { readTemplateRows } from '#core/formats/template-rows.ts'
import { calendar, WEEKDAYS } from '#core/calendar/calendar.ts'
import { isoDate } from '#core/calendar/dates.ts'
import { reachOf } from '#core/templates/reach.ts'
import { refuse } from '#core/refusal.ts'
import { plan } from '#core/templates/plan.ts'
import type { Template } from '#core/templates/template.ts'
import { plural } from '#core/text/speak.ts'
import type { TemplateSummary, TemplateTable, TemplateSheet } from '#contract/clockwork.ts'
import type { Row } from '../../database/query.ts'
import type { Actor, Changed, Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { needNewest } from '../../engine/versions.ts'
import { actorOf, needMember, needStructure, type Viewer } from '../../engine/viewer.ts'
import {
  allTemplates,
  fieldsOfTemplate,
  seriesFrom,
  startedFrom,
  startedFromOne,
  templateById,
} from './queries.ts'

function view(row: Row<typeof templateById>, projects: number): TemplateSheet {
  const { definition } = row
  const tasks = definition.phases.flatMap((phase) => phase.tasks)
  return {
    id: row.id,
    name: row.name,
    version: row.version,
    updatedAt: row.updatedAt,
    archived: row.archivedAt !== null,
    projects,
    tasks: tasks.length,
    phases: definition.phases.length,
    roles: definition.roles?.length ?? 0,
    reach: reachOf(definition),
    effort: tasks.reduce((sum, task) => sum + (task.effort ?? 0), 0),
    definition,
  }
}

export function listTemplates({ reader }: Engine, viewer: Viewer): TemplateSummary[] {
  needMember(viewer, 'see templates')
  const started = new Map(startedFrom.all(reader).map((row) => [row.id, row.projects]))
  return allTemplates.all(reader).map((row) => {
    const { definition: _, ...rest } = view(row, started.get(row.id) ?? 0)
    return rest
  })
}

/** @throws Refusal `not-found` */
const needTemplate = ({ reader }: Engine, id: TemplateId): Row<typeof templateById> =>
  templateById.get(reader, { id }) ?? refuse('not-found', `There is no template ${id}.`)

/** @throws Refusal `not-found` */
export function templateSheet(engine: Engine, viewer: Viewer, id: TemplateId): TemplateSheet {
  needMember(viewer, 'see templates')
  const row = needTemplate(engine, id)
  return view(row, startedFromOne.get(engine.reader, { id })?.projects ?? 0)
}

/** What the shapes cannot say: keys are unique, roles exist, dates do not run in a circle. */
function checkTemplate(definition: Template): void {
  const roles = new Set(definition.roles?.map((role) => role.key))
  for (const task of definition.phases.flatMap((phase) => phase.tasks))
    if (task.role !== undefined && !roles.has(task.role))
      refuse(
        'no-such-role',
        `“${task.title}” names a role that the template does not have.`,
        task.key,
      )
  // Planning on any date finds doubled keys and circles.
  plan({ template: definition, anchor: isoDate('2026-06-01'), firm: ANY_CALENDAR })
}
const ANY_CALENDAR = calendar({ week: WEEKDAYS })

/** Writes a template's first version. */
export function insertTemplate(write: Writer, definition: Template): TemplateId {
  return write.insert('templates', { name: definition.name, definition, updatedAt: write.at })
}

export function makeTemplate(
  engine: Engine,
  viewer: Viewer,
  definition: Template,
  actor: Actor = actorOf(viewer),
): Changed<TemplateSheet> {
  needStructure(viewer, 'make templates')
  checkTemplate(definition)
  const { result: id, change } = engine.journal.change(actor, (write) =>
    insertTemplate(write, definition),
  )
  return { result: templateSheet(engine, viewer, id), change }
}

/** Makes a template of a table; rows that cannot be read are left out, as the preview named them. */
export function importTemplate(
  engine: Engine,
  viewer: Viewer,
  body: TemplateTable,
): Changed<TemplateSheet> {
  const read = readTemplateRows(body.rows, body.mapping, body.name, body.anchor)
  const [first] = read.problems
  if (read.kept === 0)
    refuse(
      'no-rows',
      `None of the ${plural(body.rows.length, 'row')} can be read` +
        `${first ? `: line ${first.line} ${first.reason}` : ''}.`,
      'rows',
    )
  return makeTemplate(engine, viewer, read.template, { kind: 'import', id: viewer.id })
}

/** Saves a new version. @throws Refusal `changed-since` when somebody saved one in between. */
export function saveTemplate(
  engine: Engine,
  viewer: Viewer,
  id: TemplateId,
  { definition, seen }: { definition: Template; seen: number | null },
): Changed<TemplateSheet> {
  needStructure(viewer, 'change templates')
  checkTemplate(definition)
  const { change } = engine.journal.change(actorOf(viewer), (write) => {
    const row = needTemplate(engine, id)
    needNewest(seen, row.version)
    write.update('templates', row, {
      name: definition.name,
      definition,
      version: row.version + 1,
      updatedAt: write.at,
    })
  })
  return { result: templateSheet(engine, viewer, id), change }
}

/** Makes another of it, with the same states, to be changed on its own. */
export function copyTemplate(
  engine: Engine,
  viewer: Viewer,
  id: TemplateId,
): Changed<TemplateSheet> {
  needStructure(viewer, 'copy templates')
  const { definition, stateSetId } = needTemplate(engine, id)
  const name = `${definition.name.slice(0, 110)}, copy`
  const { result: made, change } = engine.journal.change(actorOf(viewer), (write) =>
    write.insert('templates', {
      ...{ name, definition: { ...definition, name }, stateSetId },
      updatedAt: write.at,
    }),
  )
  return { result: templateSheet(engine, viewer, made), change }
}

/** Puts a template aside, or back: it stays for what was started from it. @throws Refusal `in-use` */
export function archiveTemplate(
  engine: Engine,
  viewer: Viewer,
  id: TemplateId,
  on: boolean,
): Changed<TemplateSheet> {
  needStructure(viewer, 'archive templates')
  const row = needTemplate(engine, id)
  const running = seriesFrom
    .all(engine.reader, { template: id })
    .find((series) => series.on && series.endedAt === null)
  if (on && running)
    refuse(
      'in-use',
      `Series “${running.name}” starts projects from “${row.name}”; pause or change it first.`,
    )
  const { change } = engine.journal.change(actorOf(viewer), (write) =>
    write.update('templates', row, { archivedAt: on ? write.at : null }),
  )
  return { result: templateSheet(engine, viewer, id), change }
}

/** What would point at nothing without a template; null where nothing does. */
function pointingAt({ reader }: Engine, id: TemplateId): string | null {
  const projects = startedFromOne.get(reader, { id })?.projects ?? 0
  if (projects > 0) return `${plural(projects, 'project')} came from it`
  const [series] = seriesFrom.all(reader, { template: id })
  if (series) return `series “${series.name}” starts projects from it`
  const [field] = fieldsOfTemplate.all(reader, { template: id })
  return field ? `the field “${field.name}” is its own` : null
}

/** Removes a template that nothing points at. @throws Refusal `in-use` */
export function removeTemplate(engine: Engine, viewer: Viewer, id: TemplateId): Changed<void> {
  needStructure(viewer, 'remove templates')
  const { name } = needTemplate(engine, id)
  const why = pointingAt(engine, id)
  if (why !== null) refuse('in-use', `“${name}” stays: ${why}. Archive it instead.`)
  return engine.journal.change(actorOf(viewer), (write) => write.remove('templates', id))
}
