import { and, eq, gt } from 'drizzle-orm'
import type { PersonId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import { accountOf } from '#contract/firm.ts'
import type { Invitation, InviteBody, Invited, NewPerson } from '#contract/people.ts'
import { ready, within } from '../../database/query.ts'
import { invitations, people } from '../../database/tables/index.ts'
import { ENGINE, type Changed, type Writer } from '../../engine/journal.ts'
import { digestOf, newLinkSecret } from '../../engine/secrets.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, needStructure, type Viewer } from '../../engine/viewer.ts'
import { clientById, personById } from './queries.ts'

/** People are let in by a link that is sent to them, opens once, and runs out. */

const DAY = 86_400_000
/** For so many days an invitation holds. */
export const INVITED_DAYS = 7

const byAccount = within((orm, a: { email: string }) =>
  orm
    .select({ id: people.id, name: people.name, active: people.active })
    .from(people)
    .where(eq(people.email, a.email)),
)
const invitationOf = within((orm, a: { person: PersonId }) =>
  orm.select({ id: invitations.id }).from(invitations).where(eq(invitations.personId, a.person)),
)
const opening = ready((orm, a: { digest: string; now: number }) =>
  orm
    .select({ id: invitations.id, personId: people.id, name: people.name, email: people.email })
    .from(invitations)
    .innerJoin(people, and(eq(people.id, invitations.personId), eq(people.active, true)))
    .where(and(eq(invitations.id, a.digest), gt(invitations.expiresAt, a.now))),
)

/** Takes back the invitation of a person, where there is one. */
export function dropInvitation({ reader }: Engine, write: Writer, person: PersonId): void {
  for (const { id } of invitationOf.all(reader, { person })) write.remove('invitations', id)
}

interface Inviting {
  readonly viewer: Viewer
  readonly address: string
}
/** Writes an invitation in place of any there was, and the mail that brings it. */
function send(
  engine: Engine,
  write: Writer,
  to: Omit<Invited, 'link' | 'expiresAt'>,
  by: Inviting,
) {
  const secret = newLinkSecret()
  const expiresAt = write.at + INVITED_DAYS * DAY
  dropInvitation(engine, write, to.id)
  const id = digestOf(secret)
  write.insert('invitations', { id, personId: to.id, createdAt: write.at, expiresAt })
  const link = new URL(`/join?key=${secret}`, engine.address ?? by.address).href
  const firm = engine.firm.name()
  write.insert('outbox', {
    ...{ key: `invitation-${id}`, recipient: to.email, nextAt: write.at, createdAt: write.at },
    subject: `${by.viewer.name} invites you to ${firm}`,
    body:
      `${by.viewer.name} has put you among the people of ${firm}, which keeps its work in ` +
      `Fernwick.\n\nChoose a password here to come in:\n${link}\n\nThe link opens once, and ` +
      `until ${INVITED_DAYS} days from now.`,
    change: write.change,
  })
  return { ...to, link, expiresAt } satisfies Invited
}

/** @throws Refusal `no-client`, `no-such-client`, `owners-only` */
function checkPerson({ reader }: Engine, viewer: Viewer, person: NewPerson, at: string): void {
  const { access, clientId, name } = person
  if (access === 'owner' && viewer.access !== 'owner')
    refuse('owners-only', 'Only an owner may make somebody an owner.', `${at}.access`)
  if (access === 'client' && !clientId)
    refuse('no-client', `${name} is a client’s contact: say of which client.`, `${at}.clientId`)
  if (clientId && !clientById.get(reader, { id: clientId }))
    refuse('no-such-client', `There is no client ${clientId}.`, `${at}.clientId`)
}

/**
 * Invites people, all as one change; answers the link of each.
 * @throws Refusal `invited-already`, `left`, `twice`, and what is wrong with one of them
 */
export function invite(engine: Engine, viewer: Viewer, body: InviteBody): Changed<Invited[]> {
  needStructure(viewer, 'invite people')
  const accounts = new Set<string>()
  for (const [i, person] of body.people.entries()) {
    const at = `people.${i}`
    const account = accountOf(person.email)
    const there = byAccount.get(engine.reader, { email: account })
    if (there && !there.active)
      refuse('left', `${there.name} has left; let them in again on their own page.`, `${at}.email`)
    if (there) refuse('invited-already', `${there.name} has that address already.`, `${at}.email`)
    if (accounts.has(account)) refuse('twice', `${account} stands there twice.`, `${at}.email`)
    accounts.add(account)
    checkPerson(engine, viewer, person, at)
  }
  const by = { viewer, address: body.address }
  return engine.journal.change(actorOf(viewer), (write) =>
    body.people.map(({ name, access, title = '', clientId = null, ...person }) => {
      const email = accountOf(person.email)
      const belongs = access === 'client' ? clientId : null
      const id = write.insert('people', { name, email, access, title, clientId: belongs })
      return send(engine, write, { id, name, email }, by)
    }),
  )
}

/** Puts a contact with a client, not invited yet; null where somebody has that address already. */
export function insertContact(
  { reader }: Engine,
  write: Writer,
  { name, title, email, clientId }: Required<Omit<NewPerson, 'access'>>,
): PersonId | null {
  const account = accountOf(email)
  if (byAccount.get(reader, { email: account })) return null
  return write.insert('people', { name, title, email: account, access: 'client', clientId })
}

/** Invites somebody once more; the link they had opens nothing any more. @throws Refusal */
export function inviteAgain(
  engine: Engine,
  viewer: Viewer,
  id: PersonId,
  address: string,
): Changed<Invited> {
  needStructure(viewer, 'invite people')
  const person = personById.get(engine.reader, { id })
  if (!person) return refuse('not-found', `There is nobody with the number ${id}.`)
  if (!person.active) refuse('left', `${person.name} has left.`)
  // Whoever has the link of an owner to be becomes that owner.
  if (person.access === 'owner' && viewer.access !== 'owner')
    refuse('owners-only', 'Only an owner may invite an owner.')
  if (person.joined) refuse('in-already', `${person.name} is in already.`)
  const { name, email } = person
  return engine.journal.change(actorOf(viewer), (write) =>
    send(engine, write, { id, name, email }, { viewer, address }),
  )
}

const needOpen = ({ reader, clock }: Engine, key: string) =>
  opening.get(reader, { digest: digestOf(key), now: clock.now() }) ??
  refuse(
    'not-found',
    'This invitation was taken up, taken back or has run out; ask for another one.',
    'key',
  )

/** Who an invitation is for. @throws Refusal `not-found` */
export function invitation(engine: Engine, key: string): Invitation {
  const { name, email } = needOpen(engine, key)
  return { firm: engine.firm.name(), name, email }
}

/** Takes up an invitation: the password stands, the link opens nothing more. @throws Refusal */
export function takeUp(engine: Engine, key: string, passwordHash: string): PersonId {
  return engine.journal.change(ENGINE, (write) => {
    const { id, personId } = needOpen(engine, key)
    write.remove('invitations', id)
    write.update('people', personId, { passwordHash })
    return personId
  }).result
}
