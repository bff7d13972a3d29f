import { and, asc, eq } from 'drizzle-orm'
import type { ProjectId, RuleId } from '#core/brands.ts'
import type { ProjectRule } from '#contract/rules.ts'
import { ready, within } from '../../database/query.ts'
import { seesProject } from '../../database/sees.ts'
import type { Sight } from '../../database/sight.ts'
import { projects, ruleOffs } from '../../database/tables/index.ts'
import type { Changed } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, needMember, sightOf, type Viewer } from '../../engine/viewer.ts'
import { needShape } from '../projects/service.ts'
import { needProject } from '../projects/sheet.ts'
import { allRules, ruleById } from './queries.ts'
import { factsAbout, reaches } from './subject.ts'
import { refuse } from '#core/refusal.ts'

/** Rules in one project: which act there, and which are switched off there alone. */

const offs = ready((orm, a: { sight: Sight }) =>
  orm
    .select({ rule: ruleOffs.ruleId, id: projects.id, name: projects.name })
    .from(ruleOffs)
    .innerJoin(
      projects,
      and(eq(projects.id, ruleOffs.projectId), seesProject(a.sight, projects.id)),
    )
    .orderBy(asc(projects.name)),
)
/** Projects that rules are switched off in, as far as somebody sees them. */
export const offProjects = ({ reader }: Engine, viewer: Viewer) =>
  offs.all(reader, { sight: sightOf(viewer) })
const offHere = within((orm, a: { project: ProjectId }) =>
  orm
    .select({ id: ruleOffs.id, rule: ruleOffs.ruleId })
    .from(ruleOffs)
    .where(eq(ruleOffs.projectId, a.project)),
)

/** The rules whose scope a project is in, whether or not they are switched on. */
export function rulesIn(engine: Engine, viewer: Viewer, id: ProjectId): ProjectRule[] {
  needMember(viewer, 'see rules')
  needProject(engine, viewer, id)
  const { reader } = engine
  const facts = factsAbout(engine, { kind: 'project', id })
  const off = new Set(offHere.all(reader, { project: id }).map(({ rule }) => rule))
  return allRules.all(reader).flatMap(({ rule }) => {
    if (!facts || !reaches(rule.definition, facts)) return []
    const { id: ruleId, name, on, pausedBecause, definition } = rule
    return [{ id: ruleId, name, on, pausedBecause, definition, offHere: off.has(ruleId) }]
  })
}

/** Switches a rule off in one project, or lets it act there again; it stays as it is elsewhere. */
export function switchIn(
  engine: Engine,
  viewer: Viewer,
  { rule, project }: { readonly rule: RuleId; readonly project: ProjectId },
  on: boolean,
): Changed<ProjectRule[]> {
  needShape(engine, viewer, project, 'switch rules on or off in it')
  const { reader, journal } = engine
  if (!ruleById.get(reader, { id: rule })) refuse('not-found', `There is no rule ${rule}.`)
  const { change } = journal.change(actorOf(viewer), (write) => {
    const off = offHere.all(reader, { project }).find((one) => one.rule === rule)
    if (off && on) write.remove('ruleOffs', off.id)
    else if (!off && !on) write.insert('ruleOffs', { ruleId: rule, projectId: project })
  })
  return { result: rulesIn(engine, viewer, project), change }
}
