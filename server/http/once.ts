import { and, eq } from 'drizzle-orm'
import type { PersonId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import { ready } from '../database/query.ts'
import { idempotency } from '../database/tables/index.ts'
import type { Changed } from '../engine/journal.ts'
import type { Engine } from '../engine/services.ts'
import { actorOf, type Viewer } from '../engine/viewer.ts'

const answered = ready((orm, a: { person: PersonId; key: string }) =>
  orm
    .select({ request: idempotency.request, answer: idempotency.answer })
    .from(idempotency)
    .where(and(eq(idempotency.personId, a.person), eq(idempotency.key, a.key))),
)

/** Answers a repeated creation with what the first one answered. @throws Refusal `key-reused` */
export function once(
  { reader, journal }: Engine,
  viewer: Viewer,
  { key, request }: { key: string; request: string },
  work: () => Changed<unknown>,
): Changed<unknown> {
  return journal.together(() => {
    const found = answered.get(reader, { person: viewer.id, key })
    if (found && found.request !== request)
      refuse(
        'key-reused',
        'This idempotency key was used for something else; use a new one.',
        'Idempotency-Key',
      )
    if (found) return { result: JSON.parse(found.answer), change: null }
    const done = work()
    journal.change(actorOf(viewer), (write) => {
      const answer = JSON.stringify(done.result ?? null)
      write.insert('idempotency', { key, personId: viewer.id, request, answer, at: write.at })
    })
    return done
  })
}
