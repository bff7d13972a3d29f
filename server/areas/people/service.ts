import { asc, eq, sql } from 'drizzle-orm'
import type { PersonId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import type { Me } from '#contract/desks.ts'
import type { MePatch, PersonPatch, PersonSheet } from '#contract/people.ts'
import { ready } from '../../database/query.ts'
import { held } from '../../database/sql.ts'
import { invitations, people, secondFactors, sessions } from '../../database/tables/index.ts'
import type { Changed, Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, needStructure, type Viewer } from '../../engine/viewer.ts'
import { checkChains } from './chains.ts'
import { whoAmI } from './directory.ts'
import { dropInvitation } from './invite.ts'
import { endTokens } from './tokens.ts'

/** People of the firm and its guests: what they are, and whether they may come in. */

const sheet = {
  id: people.id,
  name: people.name,
  email: people.email,
  access: people.access,
  title: people.title,
  clientId: people.clientId,
  active: people.active,
  managerId: people.managerId,
  standInId: people.standInId,
  invitedUntil: invitations.expiresAt,
  joined: held(sql`${people.passwordHash} is not null`),
  secondDevice:
    held(sql`exists (select 1 from ${secondFactors} where ${secondFactors.id} = ${people.id}
    and ${secondFactors.since} is not null)`),
}
const sheets = ready((orm) =>
  orm
    .select(sheet)
    .from(people)
    .leftJoin(invitations, eq(invitations.personId, people.id))
    .orderBy(asc(people.name)),
)
const sheetOf = ready((orm, a: { id: PersonId }) =>
  orm
    .select(sheet)
    .from(people)
    .leftJoin(invitations, eq(invitations.personId, people.id))
    .where(eq(people.id, a.id)),
)
const sessionsOf = ready((orm, a: { person: PersonId }) =>
  orm.select({ id: sessions.id }).from(sessions).where(eq(sessions.personId, a.person)),
)
const activeOwners = ready((orm) =>
  orm
    .select({ id: people.id })
    .from(people)
    .where(sql`${people.access} = 'owner' and ${people.active}`),
)

/** @throws Refusal `not-found` */
export const needPerson = ({ reader }: Engine, id: PersonId): PersonSheet =>
  sheetOf.get(reader, { id }) ?? refuse('not-found', `There is nobody with the number ${id}.`)

export function listPeople({ reader }: Engine, viewer: Viewer): PersonSheet[] {
  needStructure(viewer, 'see everybody’s addresses')
  return sheets.all(reader)
}

const isOwner = ({ access, active }: Pick<PersonSheet, 'access' | 'active'>): boolean =>
  access === 'owner' && active
/** @throws Refusal `owners-only`, `last-owner` */
function checkOwners(engine: Engine, viewer: Viewer, now: PersonSheet, then: PersonSheet): void {
  if (isOwner(now) === isOwner(then) && now.access === then.access) return
  if ([now.access, then.access].includes('owner') && viewer.access !== 'owner')
    refuse('owners-only', 'Only an owner may change who owns the firm.', 'access')
  if (isOwner(now) && !isOwner(then) && activeOwners.all(engine.reader).length === 1)
    refuse('last-owner', `${now.name} is the only owner; make somebody else one first.`, 'access')
}
/** @throws Refusal `owners-only`, `last-owner`, `no-client` */
function checkAccess(engine: Engine, viewer: Viewer, now: PersonSheet, patch: PersonPatch): void {
  const { access = now.access } = patch
  checkOwners(engine, viewer, now, { ...now, ...patch })
  if (access === 'client' && now.clientId === null)
    refuse('no-client', `${now.name} belongs to no client, so they are nobody’s contact.`, 'access')
}

/** Ends every session and token of somebody, and what invited them. */
export function showOut(engine: Engine, write: Writer, id: PersonId): void {
  dropInvitation(engine, write, id)
  endTokens(engine, write, id)
  for (const session of sessionsOf.all(engine.reader, { person: id }))
    write.remove('sessions', session.id)
}

/** Who is to leave, where they may. @throws Refusal `not-found`, `owners-only`, `last-owner` */
export function checkLeaving(engine: Engine, viewer: Viewer, id: PersonId): PersonSheet {
  needStructure(viewer, 'say that somebody left')
  const now = needPerson(engine, id)
  checkAccess(engine, viewer, now, { active: false })
  return now
}

/**
 * Changes what somebody is. Who leaves is out at once, at every browser.
 * @throws Refusal `not-found`, `owners-only`, `last-owner`, `unfit`, `ring`
 */
export function editPerson(
  engine: Engine,
  viewer: Viewer,
  id: PersonId,
  patch: PersonPatch,
): Changed<PersonSheet> {
  needStructure(viewer, 'change people')
  const now = needPerson(engine, id)
  checkChains(engine.reader, id, patch)
  checkAccess(engine, viewer, now, patch)
  const { change } = engine.journal.change(actorOf(viewer), (write) => {
    write.update('people', id, patch)
    if (patch.active === false) showOut(engine, write, id)
    // A link that is out would let whoever has it in as an owner.
    if (patch.access === 'owner' && !now.joined) dropInvitation(engine, write, id)
  })
  return { result: sheetOf.get(engine.reader, { id }) ?? now, change }
}

/** Changes what somebody is called and how they like things written, by themselves. */
export const editMe = (engine: Engine, viewer: Viewer, patch: MePatch): Changed<Me> => {
  const { change } = engine.journal.change(actorOf(viewer), (write) =>
    write.update('people', viewer.id, patch),
  )
  return { result: whoAmI(engine, { ...viewer, name: patch.name ?? viewer.name }), change }
}
