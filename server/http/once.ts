import { createHash } from 'node:crypto'
import { eq } from 'drizzle-orm'
import { refuse } from '#core/refusal.ts'
import { ready } from '../database/query.ts'
import { idempotency } from '../database/tables/index.ts'
import type { Changed } from '../engine/journal.ts'
import { isLarge, type Carrying, type Large } from '../engine/portions.ts'
import type { Engine } from '../engine/services.ts'
import { actorOf, type Viewer } from '../engine/viewer.ts'
import type { Answered } from './route.ts'

const answered = ready((orm, a: { id: string }) =>
  orm
    .select({ request: idempotency.request, answer: idempotency.answer })
    .from(idempotency)
    .where(eq(idempotency.id, a.id)),
)

const digest = (...parts: readonly (string | number)[]): string =>
  createHash('sha256').update(JSON.stringify(parts)).digest('base64url')

export interface Repeatable {
  readonly key: string
  /** What is asked, in words that are the same where the same is asked. */
  readonly request: string
  /** Whoever asks again may still see what was answered. @throws Refusal */
  readonly still: () => unknown
  readonly work: () => Answered
  /** Makes what may touch very much. */
  readonly carry: (large: Large<unknown>, carrying: Carrying<unknown>) => Promise<Changed<unknown>>
}

/** What is being made in portions under a key: who asks again meanwhile waits for it. */
const underWay = new Map<string, Promise<unknown>>()

/** Answers a repeated creation with what the first one answered. @throws Refusal `key-reused` */
export async function once(
  { reader, journal }: Engine,
  viewer: Viewer,
  { key, request, still, work, carry }: Repeatable,
): Promise<Changed<unknown>> {
  const id = digest(viewer.id, key)
  const asked = digest(request)
  const keep = ({ result }: Changed<unknown>) =>
    void journal.change(actorOf(viewer), (write) => {
      const answer = JSON.stringify(result ?? null)
      write.insert('idempotency', { id, request: asked, answer, at: write.at })
    })
  await underWay.get(id)?.catch(() => undefined)
  const made = journal.together(() => {
    const found = answered.get(reader, { id })
    if (found && found.request !== asked)
      refuse(
        'key-reused',
        'This idempotency key was used for something else; use a new one.',
        'Idempotency-Key',
      )
    if (found) {
      still()
      return { result: JSON.parse(found.answer), change: null }
    }
    const done = work()
    if (done instanceof Promise) throw new Error('What waits cannot be done once.')
    if (!isLarge(done)) keep(done)
    return done
  })
  if (!isLarge(made)) return made
  const making = carry(made, { closing: keep })
  underWay.set(id, making)
  return making.finally(() => underWay.delete(id))
}
