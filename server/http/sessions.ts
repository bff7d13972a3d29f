import { randomBytes, timingSafeEqual } from 'node:crypto'
import { and, asc, desc, eq, gt, lte } from 'drizzle-orm'
import type { PersonId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import type { Access } from '#contract/words.ts'
import { most, ready } from '../database/query.ts'
import { people, sessions } from '../database/tables/index.ts'
import type { SessionRow } from '#contract/people.ts'
import { ENGINE, type Writer } from '../engine/journal.ts'
import { digestOf } from '../engine/secrets.ts'
import type { Engine } from '../engine/services.ts'
import type { Viewer } from '../engine/viewer.ts'
import { derive } from '../workers/derive.ts'
import type { Threads } from '../workers/threads.ts'

/** The cost of a password's hash: 32 MiB of memory. */
const COST = 32_768
export const SESSION_DAYS = 14

const kept = (salt: Buffer, hash: Uint8Array): string =>
  `scrypt$${COST}$${salt.toString('base64')}$${Buffer.from(hash).toString('base64')}`

export const hashPassword = (password: string, salt: Buffer = randomBytes(16)): string =>
  kept(salt, derive(password, { salt, n: COST, length: 32 }))

/** What is kept of a new password, hashed where nobody waits for it. */
export async function hashed(threads: Threads, password: string): Promise<string> {
  const salt = randomBytes(16)
  return kept(salt, await threads.derive(password, { salt, n: COST, length: 32 }))
}

async function matches(threads: Threads, password: string, stored: string): Promise<boolean> {
  const [, n, salt = '', hash = ''] = stored.split('$')
  const wanted = Buffer.from(hash, 'base64')
  const given = await threads.derive(password, {
    salt: Buffer.from(salt, 'base64'),
    n: Number(n),
    length: wanted.length,
  })
  return timingSafeEqual(given, wanted)
}

/**
 * Compared when nobody has the address, so that a wrong address takes as long as a wrong password.
 */
const NOBODY = kept(Buffer.alloc(16), Buffer.alloc(32))

const byEmail = ready((orm, a: { email: string }) =>
  orm
    .select({ id: people.id, passwordHash: people.passwordHash })
    .from(people)
    .where(and(eq(people.email, a.email), eq(people.active, true))),
)
/** The first person here with an access, for the demo's one-click sign-in. */
export const firstWith = ready((orm, a: { access: Access }) =>
  orm
    .select({ id: people.id })
    .from(people)
    .where(and(eq(people.access, a.access), eq(people.active, true)))
    .orderBy(asc(people.id))
    .limit(most(1)),
)
const expired = ready((orm, a: { now: number }) =>
  orm.select({ id: sessions.id }).from(sessions).where(lte(sessions.expiresAt, a.now)),
)
const signedIn = ready((orm, a: { digest: string; now: number }) =>
  orm
    .select({
      id: people.id,
      name: people.name,
      access: people.access,
      clientId: people.clientId,
    })
    .from(sessions)
    .innerJoin(people, and(eq(people.id, sessions.personId), eq(people.active, true)))
    .where(and(eq(sessions.id, a.digest), gt(sessions.expiresAt, a.now))),
)

/** Checks a password. @throws Refusal `wrong-password`, the same for a wrong address. */
export async function checkPassword(
  { reader }: Engine,
  threads: Threads,
  { account, password }: { account: string; password: string },
): Promise<PersonId> {
  const found = byEmail.get(reader, { email: account })
  const right = await matches(threads, password, found?.passwordHash ?? NOBODY)
  return right && found
    ? found.id
    : refuse('wrong-password', 'That address and password do not go together.', 'password')
}

/**
 * Opens a session and sweeps those that ran out; answers the secret for the cookie, which is stored
 * only as a digest.
 */
export function openSession({ reader, journal }: Engine, personId: PersonId): string {
  const secret = randomBytes(32).toString('base64url')
  journal.change({ kind: 'person', id: personId }, (write) => {
    for (const old of expired.all(reader, { now: write.at })) write.remove('sessions', old.id)
    write.insert('sessions', {
      id: digestOf(secret),
      personId,
      createdAt: write.at,
      expiresAt: write.at + SESSION_DAYS * 86_400_000,
    })
  })
  return secret
}

export function closeSession({ journal }: Engine, secret: string): void {
  journal.change(ENGINE, (write) => write.remove('sessions', digestOf(secret)))
}

const ofPerson = ready((orm, a: { person: PersonId }) =>
  orm
    .select()
    .from(sessions)
    .where(eq(sessions.personId, a.person))
    .orderBy(desc(sessions.createdAt)),
)
/** The browsers that somebody is signed in at; which of them asks is known by its secret. */
export const sessionsOf = ({ reader, clock }: Engine, person: PersonId, secret: string) =>
  ofPerson
    .all(reader, { person })
    .filter(({ expiresAt }) => expiresAt > clock.now())
    .map(({ id, createdAt, expiresAt }) => ({
      ...{ createdAt, expiresAt, here: id === digestOf(secret) },
    })) satisfies SessionRow[]

function closeOthers({ reader }: Engine, write: Writer, person: PersonId, secret: string): void {
  for (const { id } of ofPerson.all(reader, { person }))
    if (id !== digestOf(secret)) write.remove('sessions', id)
}
/** Signs somebody out everywhere but at the browser that asks. */
export function closeOtherSessions(engine: Engine, person: PersonId, secret: string): void {
  engine.journal.change({ kind: 'person', id: person }, (write) =>
    closeOthers(engine, write, person, secret),
  )
}
/** A new password of somebody’s; whoever got in by the old one is out. */
export function changePassword(
  engine: Engine,
  person: PersonId,
  secret: string,
  passwordHash: string,
): void {
  engine.journal.change({ kind: 'person', id: person }, (write) => {
    write.update('people', person, { passwordHash })
    closeOthers(engine, write, person, secret)
  })
}

/** Who a cookie's secret belongs to; null when it is unknown or has run out. */
export function viewerOf({ reader, clock }: Engine, secret: string | undefined): Viewer | null {
  if (!secret) return null
  return signedIn.get(reader, { digest: digestOf(secret), now: clock.now() }) ?? null
}
