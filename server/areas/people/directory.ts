import { asc } from 'drizzle-orm'
import type { Directory, Me } from '#contract/desks.ts'
import { ready, type Row } from '../../database/query.ts'
import { clientStates, templates } from '../../database/tables/index.ts'
import type { Engine } from '../../engine/services.ts'
import { isGuest, mayStructure, sightOf, type Viewer } from '../../engine/viewer.ts'
import { fieldsSeen, listTags } from '../fields/queries.ts'
import { teamsFor } from '../access/queries.ts'
import { unread } from '../notices/service.ts'
import { projectChoices } from '../projects/queries.ts'
import { seriesNames } from '../series/queries.ts'
import { allStates } from '../states/queries.ts'
import { lacksFactor } from './second-factor.ts'
import { waysOf } from './ways.ts'
import { awayOn } from './who.ts'
import { allClients, allMembers, everybody, personById } from './queries.ts'

/** Who is signed in, and what they may do. */
export function whoAmI(engine: Engine, viewer: Viewer): Me {
  const { firm, clock, reader } = engine
  const { title = '' } = personById.get(reader, { id: viewer.id }) ?? {}
  const { own: ways, zone, ...dates } = waysOf(engine, viewer)
  return {
    id: viewer.id,
    name: viewer.name,
    access: viewer.access,
    title,
    firm: firm.name(),
    today: firm.today(),
    now: clock.now(),
    ...{ zone, dates, ways },
    ...{ firmDates: firm.dates(), projectNames: firm.projectNames() },
    demo: firm.demo(),
    lacksCode: lacksFactor(engine, viewer),
    unread: unread(engine, viewer),
    may: { structure: mayStructure(viewer), member: !isGuest(viewer) },
  }
}

const templateNames = ready((orm) =>
  orm
    .select({ id: templates.id, name: templates.name })
    .from(templates)
    .orderBy(asc(templates.name)),
)

const clientStateChoices = ready((orm) =>
  orm
    .select({ id: clientStates.id, name: clientStates.name, colour: clientStates.colour })
    .from(clientStates)
    .orderBy(asc(clientStates.position), asc(clientStates.id)),
)

/** Somebody as the directory tells of them: what is not so is left out. */
const shown = ({ photo, ...person }: Row<typeof everybody>, awayUntil?: string) => ({
  ...person,
  ...(photo !== null && { photo }),
  ...(awayUntil !== undefined && { awayUntil }),
})

/** Guests know themselves, and the states their work can take. */
function guestDirectory({ reader }: Engine, viewer: Viewer): Directory {
  return {
    people: everybody
      .all(reader)
      .filter((person) => person.id === viewer.id)
      .map((person) => shown(person)),
    teams: [],
    clients: [],
    projects: [],
    templates: [],
    series: [],
    clientStates: [],
    states: allStates.all(reader),
    tags: [],
    fields: [],
  }
}

/**
 * People, teams, clients, running projects and what work is set up with, to choose from. What is
 * closed is found by asking for it.
 */
export function directory(engine: Engine, viewer: Viewer): Directory {
  if (isGuest(viewer)) return guestDirectory(engine, viewer)
  const { reader, firm } = engine
  const members = allMembers.all(reader)
  const away = new Map(awayOn.all(reader, { day: firm.today() }).map((one) => [one.id, one.until]))
  return {
    people: everybody.all(reader).map((person) => shown(person, away.get(person.id))),
    teams: teamsFor.all(reader, { all: mayStructure(viewer), me: viewer.id }).map((team) => ({
      ...team,
      members: members.filter((m) => m.teamId === team.id).map((m) => m.personId),
    })),
    clients: allClients.all(reader),
    projects: projectChoices.all(reader, { sight: sightOf(viewer) }),
    templates: templateNames.all(reader),
    series: seriesNames.all(reader).map(({ on: _, ...one }) => one),
    clientStates: clientStateChoices.all(reader),
    states: allStates.all(reader),
    tags: listTags(reader),
    fields: fieldsSeen(reader, viewer),
  }
}
