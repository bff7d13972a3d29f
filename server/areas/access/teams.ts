import { and, eq, isNull, sql } from 'drizzle-orm'
import type { PersonId, TeamId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import { plural } from '#core/text/speak.ts'
import type { NewTeam, TeamSheet } from '#contract/access.ts'
import { ready, within } from '../../database/query.ts'
import { caseless } from '../../database/sql.ts'
import {
  people,
  projects,
  rules,
  series,
  teamAsks,
  teamMembers,
  teams,
  templates,
} from '../../database/tables/index.ts'
import type { Changed, Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import {
  actorOf,
  isGuestAccess,
  mayStructure,
  needMember,
  needStructure,
  type Viewer,
} from '../../engine/viewer.ts'
import { personById } from '../people/queries.ts'
import { teamsFor } from './queries.ts'

/** Teams: who is in them, who may join, who asks to. */

const memberships = ready((orm) =>
  orm
    .select({ id: teamMembers.id, teamId: teamMembers.teamId, personId: teamMembers.personId })
    .from(teamMembers)
    .innerJoin(people, and(eq(people.id, teamMembers.personId), eq(people.active, true)))
    .orderBy(people.name),
)
const membershipsOf = within((orm, a: { team: TeamId }) =>
  orm
    .select({ id: teamMembers.id, personId: teamMembers.personId })
    .from(teamMembers)
    .where(eq(teamMembers.teamId, a.team)),
)
const asks = ready((orm) =>
  orm
    .select({
      id: teamAsks.id,
      teamId: teamAsks.teamId,
      person: { id: people.id, name: people.name },
    })
    .from(teamAsks)
    .innerJoin(people, and(eq(people.id, teamAsks.personId), eq(people.active, true)))
    .orderBy(teamAsks.at),
)
const called = within((orm, a: { name: string }) =>
  orm
    .select({ id: teams.id, name: teams.name })
    .from(teams)
    .where(eq(caseless(teams.name), a.name)),
)
const projectsFor = within((orm) =>
  orm
    .select({ teamId: projects.teamId, running: sql<number>`count(*)` })
    .from(projects)
    .where(
      and(
        sql`${projects.audience} = 'team'`,
        isNull(projects.closedAt),
        isNull(projects.archivedAt),
      ),
    )
    .groupBy(projects.teamId),
)
const everyProjectFor = within((orm, a: { team: TeamId }) =>
  orm.select({ id: projects.id }).from(projects).where(eq(projects.teamId, a.team)),
)

/** The teams that somebody may know of. */
export function listTeams({ reader }: Engine, viewer: Viewer): TeamSheet[] {
  needMember(viewer, 'see teams')
  const all = mayStructure(viewer)
  const members = memberships.all(reader)
  const asking = asks.all(reader)
  const running = new Map(projectsFor.all(reader).map((row) => [row.teamId, row.running]))
  return teamsFor.all(reader, { all, me: viewer.id }).map((team) => {
    const own = members.filter((m) => m.teamId === team.id).map((m) => Number(m.personId))
    const mine = own.includes(viewer.id)
    const waiting = asking.filter((ask) => ask.teamId === team.id).map((ask) => ask.person)
    return {
      ...team,
      members: own,
      asks: all || mine ? waiting : [],
      projects: running.get(team.id) ?? 0,
      mine,
      asked: waiting.some((person) => person.id === viewer.id),
    }
  })
}
/** @throws Refusal `not-found`, the same for a team that is closed to whoever asks */
const needTeam = (engine: Engine, viewer: Viewer, id: TeamId): TeamSheet =>
  listTeams(engine, viewer).find((team) => team.id === id) ??
  refuse('not-found', 'There is no such team here.')

/** @throws Refusal `there-already` */
function checkName({ reader }: Engine, name: string | undefined, own: TeamId | null): void {
  const there = name === undefined ? undefined : called.get(reader, { name })
  if (there && there.id !== own)
    refuse('there-already', `There is a team “${there.name}” already.`, 'name')
}
/** @throws Refusal `no-such-person`, `person-left`, `guest` */
function checkMembers({ reader }: Engine, members: readonly PersonId[], now: readonly number[]) {
  for (const [i, id] of members.entries()) {
    if (now.includes(id)) continue
    const place = `members.${i}`
    const person =
      personById.get(reader, { id }) ?? refuse('no-such-person', `There is no person ${id}.`, place)
    if (!person.active)
      refuse('person-left', `${person.name} has left; choose someone who is here.`, place)
    if (isGuestAccess(person.access))
      refuse(
        'guest',
        `${person.name} is a guest, and guests are in no team; share a project with them.`,
        place,
      )
  }
}
/** Puts people in and takes others out; whoever is let in asks no more. */
function setMembers(
  { reader }: Engine,
  write: Writer,
  teamId: TeamId,
  wanted: readonly PersonId[],
): void {
  const now = membershipsOf.all(reader, { team: teamId })
  for (const { id, personId } of now)
    if (!wanted.includes(personId)) write.remove('teamMembers', id)
  for (const personId of wanted)
    if (!now.some((member) => member.personId === personId))
      write.insert('teamMembers', { teamId, personId })
  for (const ask of asks.all(reader))
    if (ask.teamId === teamId && wanted.includes(ask.person.id)) write.remove('teamAsks', ask.id)
}

export function makeTeam(engine: Engine, viewer: Viewer, body: NewTeam): Changed<TeamSheet> {
  needStructure(viewer, 'make teams')
  const { name, kind, members = [] } = body
  checkName(engine, name, null)
  checkMembers(engine, members, [])
  const { result: id, change } = engine.journal.change(actorOf(viewer), (write) => {
    const team = write.insert('teams', { name, kind })
    setMembers(engine, write, team, members)
    return team
  })
  return { result: needTeam(engine, viewer, id), change }
}

/** @throws Refusal `there-already`, and those of its people */
export function editTeam(
  engine: Engine,
  viewer: Viewer,
  id: TeamId,
  { members, ...columns }: Partial<NewTeam>,
): Changed<TeamSheet> {
  needStructure(viewer, 'change teams')
  const now = needTeam(engine, viewer, id)
  checkName(engine, columns.name, id)
  checkMembers(engine, members ?? [], now.members)
  const { change } = engine.journal.change(actorOf(viewer), (write) => {
    write.update('teams', id, columns)
    if (members) setMembers(engine, write, id, members)
  })
  return { result: needTeam(engine, viewer, id), change }
}

/** Whether a definition names a team, wherever in it. */
function names(value: unknown, team: TeamId): boolean {
  if (typeof value !== 'object' || value === null) return false
  const of: Readonly<Record<string, unknown>> = { ...value }
  if (of['team'] === team || (of['is'] === 'team' && of['id'] === team)) return true
  return Object.values(value).some((each) => names(each, team))
}
const ruleTexts = ready((orm) =>
  orm.select({ name: rules.name, definition: rules.definition }).from(rules),
)
const templateTexts = ready((orm) =>
  orm.select({ name: templates.name, definition: templates.definition }).from(templates),
)
const seriesTexts = ready((orm) =>
  orm.select({ name: series.name, definition: series.makes }).from(series),
)
/** What still names a team: removed, it would do nothing any more. */
function naming({ reader }: Engine, team: TeamId): string[] {
  const of = (kind: string, rows: readonly { name: string; definition: unknown }[]) =>
    rows.filter((row) => names(row.definition, team)).map(({ name }) => `${kind} “${name}”`)
  return [
    ...of('rule', ruleTexts.all(reader)),
    ...of('template', templateTexts.all(reader)),
    ...of('series', seriesTexts.all(reader)),
  ]
}

/** Removes a team that nothing is for any more. @throws Refusal `in-use` */
export function removeTeam(engine: Engine, viewer: Viewer, id: TeamId): Changed<void> {
  needStructure(viewer, 'remove teams')
  const team = needTeam(engine, viewer, id)
  const own = everyProjectFor.all(engine.reader, { team: id }).length
  const [are, them] = own === 1 ? ['is', 'it'] : ['are', 'them']
  if (own > 0)
    refuse(
      'in-use',
      `${plural(own, 'project')} ${are} for “${team.name}” alone; say first who else sees ${them}.`,
    )
  const [first, ...others] = naming(engine, id)
  const more = others.length ? ` and ${plural(others.length, 'other')}` : ''
  if (first)
    refuse('in-use', `The ${first}${more} gives work to “${team.name}”; change that first.`)
  return engine.journal.change(actorOf(viewer), (write) => {
    setMembers(engine, write, id, [])
    for (const ask of asks.all(engine.reader))
      if (ask.teamId === id) write.remove('teamAsks', ask.id)
    write.remove('teams', id)
  })
}

/** Joins an open team at once; asks at one that is for asking. */
export function joinTeam(engine: Engine, viewer: Viewer, id: TeamId): Changed<TeamSheet> {
  const team = needTeam(engine, viewer, id)
  const me = viewer.id
  const at = mayStructure(viewer) || team.kind === 'open'
  const { change } = engine.journal.change(actorOf(viewer), (write) => {
    if (team.mine) return
    if (at) setMembers(engine, write, id, [...team.members, me])
    else if (!team.asked) write.insert('teamAsks', { teamId: id, personId: me, at: write.at })
  })
  return { result: needTeam(engine, viewer, id), change }
}
/** Leaves a team, or asks no more. Who leaves a closed one does not know of it any more. */
export function leaveTeam(engine: Engine, viewer: Viewer, id: TeamId): Changed<void> {
  needTeam(engine, viewer, id)
  const { reader } = engine
  return engine.journal.change(actorOf(viewer), (write) => {
    for (const member of membershipsOf.all(reader, { team: id }))
      if (member.personId === viewer.id) write.remove('teamMembers', member.id)
    for (const ask of asks.all(reader))
      if (ask.teamId === id && ask.person.id === viewer.id) write.remove('teamAsks', ask.id)
  })
}
/** Lets in whoever asked, or does not; managers do so, and whoever is in the team. */
export function answerAsk(
  engine: Engine,
  viewer: Viewer,
  id: TeamId,
  { personId, let: lets }: { personId: PersonId; let: boolean },
): Changed<TeamSheet> {
  const team = needTeam(engine, viewer, id)
  if (!mayStructure(viewer) && !team.mine)
    refuse('forbidden', 'Only who is in a team, or a manager, may let others in.')
  const ask = asks.all(engine.reader).find((a) => a.teamId === id && a.person.id === personId)
  if (!ask) return refuse('not-found', 'They do not ask any more.')
  const { change } = engine.journal.change(actorOf(viewer), (write) => {
    if (lets) setMembers(engine, write, id, [...team.members, personId])
    else write.remove('teamAsks', ask.id)
  })
  return { result: needTeam(engine, viewer, id), change }
}
