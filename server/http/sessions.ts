import { createHash, randomBytes, scrypt, timingSafeEqual } from 'node:crypto'
import { promisify } from 'node:util'
import { refuse } from '#core/refusal.ts'
import type { Engine } from '../engine/services.ts'
import type { Viewer } from '../engine/viewer.ts'

const derive = promisify(scrypt) as (
  password: string,
  salt: Buffer,
  length: number,
  options: object,
) => Promise<Buffer>
/** scrypt (RFC 7914) with 32 MiB of memory a hash. */
const COST = { N: 32_768, r: 8, p: 1, maxmem: 64 * 1024 * 1024 }
export const SESSION_DAYS = 14

export async function hashPassword(
  password: string,
  salt: Buffer = randomBytes(16),
): Promise<string> {
  return `scrypt$${COST.N}$${salt.toString('base64')}$${(await derive(password, salt, 32, COST)).toString('base64')}`
}

async function matches(password: string, stored: string): Promise<boolean> {
  const [, n, salt = '', hash = ''] = stored.split('$')
  const wanted = Buffer.from(hash, 'base64')
  const given = await derive(password, Buffer.from(salt, 'base64'), wanted.length, {
    ...COST,
    N: Number(n),
  })
  return timingSafeEqual(given, wanted)
}

const digest = (secret: string): string => createHash('sha256').update(secret).digest('base64url')
/**
 * Compared when nobody has the address, so that a wrong address takes as long as a wrong password.
 */
const NOBODY = `scrypt$${COST.N}$AAAAAAAAAAAAAAAAAAAAAA==$${Buffer.alloc(32).toString('base64')}`

/** Checks a password. @throws Refusal `wrong-password`, the same for a wrong address. */
export async function checkPassword(
  engine: Engine,
  email: string,
  password: string,
): Promise<number> {
  const found = engine.db
    .prepare('select id, passwordHash from people where email = ? and active = 1')
    .get(email.trim().toLowerCase()) as { id: number; passwordHash: string | null } | undefined
  const right = await matches(password, found?.passwordHash ?? NOBODY)
  return right && found
    ? found.id
    : refuse('wrong-password', 'That address and password do not go together.', 'password')
}

/**
 * Opens a session and sweeps those that ran out; answers the secret for the cookie, which is stored
 * only as a digest.
 */
export function openSession(engine: Engine, personId: number): string {
  const secret = randomBytes(32).toString('base64url')
  engine.journal.change({ kind: 'person', id: personId }, (write) => {
    for (const old of engine.db
      .prepare('select id from sessions where expiresAt <= ?')
      .all(write.at) as { id: string }[])
      write.remove('sessions', old.id)
    write.insert('sessions', {
      id: digest(secret),
      personId,
      createdAt: write.at,
      expiresAt: write.at + SESSION_DAYS * 86_400_000,
    })
  })
  return secret
}

export const closeSession = (engine: Engine, secret: string): void =>
  engine.journal.change({ kind: 'engine', id: null }, (write) =>
    write.remove('sessions', digest(secret)),
  )

/** Who a cookie's secret belongs to; null when it is unknown or has run out. */
export function viewerOf(engine: Engine, secret: string | undefined): Viewer | null {
  if (!secret) return null
  const found = engine.db
    .prepare(
      'select w.id, w.name, w.access, w.clientId from sessions s join people w on w.id = s.personId and w.active = 1 where s.id = ? and s.expiresAt > ?',
    )
    .get(digest(secret), engine.clock.now()) as Viewer | undefined
  return found ?? null
}

export interface Limiter {
  /** @throws Refusal `too-many` when a key has failed too often lately. */
  check(key: string): void
  failed(key: string): void
  clear(key: string): void
}

/** Counts failures by key within a sliding window of five minutes. */
export function createLimiter(now: () => number, most = 10, window = 300_000): Limiter {
  const failures = new Map<string, number[]>()
  const recent = (key: string) => (failures.get(key) ?? []).filter((at) => at > now() - window)
  return {
    check(key) {
      if (recent(key).length >= most)
        refuse('too-many', 'Too many wrong passwords; wait five minutes and try again.')
    },
    failed(key) {
      if (failures.size > 10_000) failures.clear()
      failures.set(key, [...recent(key), now()])
    },
    clear: (key) => void failures.delete(key),
  }
}
