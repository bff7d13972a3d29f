import { createHash } from 'node:crypto'
import { eq } from 'drizzle-orm'
import { refuse } from '#core/refusal.ts'
import { ready } from '../database/query.ts'
import { idempotency } from '../database/tables/index.ts'
import type { Changed } from '../engine/journal.ts'
import type { Engine } from '../engine/services.ts'
import { actorOf, type Viewer } from '../engine/viewer.ts'

const answered = ready((orm, a: { id: string }) =>
  orm
    .select({ request: idempotency.request, answer: idempotency.answer })
    .from(idempotency)
    .where(eq(idempotency.id, a.id)),
)

const digest = (...parts: readonly (string | number)[]): string =>
  createHash('sha256').update(JSON.stringify(parts)).digest('base64url')

interface Repeatable {
  readonly key: string
  /** What is asked, in words that are the same where the same is asked. */
  readonly request: string
  /** Whoever asks again may still see what was answered. @throws Refusal */
  readonly still: () => unknown
  readonly work: () => Changed<unknown>
}

/** Answers a repeated creation with what the first one answered. @throws Refusal `key-reused` */
export function once(
  { reader, journal }: Engine,
  viewer: Viewer,
  { key, request, still, work }: Repeatable,
): Changed<unknown> {
  const id = digest(viewer.id, key)
  const asked = digest(request)
  return journal.together(() => {
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
    journal.change(actorOf(viewer), (write) => {
      const answer = JSON.stringify(done.result ?? null)
      write.insert('idempotency', { id, request: asked, answer, at: write.at })
    })
    return done
  })
}
