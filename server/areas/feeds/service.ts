import { and, desc, eq } from 'drizzle-orm'
import type { PersonId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import type { FeedBody, FeedRow, MadeFeed } from '#contract/feeds.ts'
import type { FeedKind } from '#contract/words.ts'
import { ready, within } from '../../database/query.ts'
import { feeds, people } from '../../database/tables/index.ts'
import { ENGINE, type Changed } from '../../engine/journal.ts'
import { digestOf, newLinkSecret } from '../../engine/secrets.ts'
import type { Engine } from '../../engine/services.ts'
import { needMember, type Viewer } from '../../engine/viewer.ts'
import { needClient } from '../clients/page.ts'
import { needProject } from '../projects/sheet.ts'

/** Addresses that calendar programs subscribe to: made, reset, ended, and whose they are. */

/** That it was asked is noted once in so long. */
const HOUR = 3_600_000

const row = {
  ...{ id: feeds.id, of: feeds.of, itemId: feeds.itemId },
  ...{ createdAt: feeds.createdAt, usedAt: feeds.usedAt },
}
const feedsOf = within((orm, a: { person: PersonId }) =>
  orm.select(row).from(feeds).where(eq(feeds.personId, a.person)).orderBy(desc(feeds.id)),
)
const feedOf = within((orm, a: { person: PersonId; of: FeedKind; item: number }) =>
  orm
    .select({ id: feeds.id })
    .from(feeds)
    .where(and(eq(feeds.personId, a.person), eq(feeds.of, a.of), eq(feeds.itemId, a.item))),
)
const known = ready((orm, a: { digest: string }) =>
  orm
    .select({
      feed: { id: feeds.id, usedAt: feeds.usedAt },
      ...{ id: people.id, name: people.name, access: people.access, clientId: people.clientId },
    })
    .from(feeds)
    .innerJoin(people, and(eq(people.id, feeds.personId), eq(people.active, true)))
    .where(eq(feeds.digest, a.digest)),
)
const ownFeed = within((orm, a: { id: number; person: PersonId }) =>
  orm
    .select(row)
    .from(feeds)
    .where(and(eq(feeds.id, a.id), eq(feeds.personId, a.person))),
)

/** What a feed is of, as it is called. @throws Refusal `not-found` for what is not seen */
export function nameOfFeed(
  engine: Engine,
  viewer: Viewer,
  { of, itemId }: { of: FeedKind; itemId: number },
): string {
  if (of === 'person') return viewer.name
  if (of === 'project') return needProject(engine, viewer, itemId).name
  needMember(viewer, 'subscribe to the work for a client')
  return needClient(engine, itemId).client.name
}
const told = (
  engine: Engine,
  viewer: Viewer,
  feed: ReturnType<typeof feedsOf.all>[number],
): FeedRow => {
  const { itemId, ...rest } = feed
  let name = 'what is not seen any more'
  try {
    name = nameOfFeed(engine, viewer, feed)
  } catch {
    // It stands until it is ended, and shows nothing.
  }
  return { ...rest, item: itemId || null, name }
}

/** One's own feeds. */
export const listFeeds = (engine: Engine, viewer: Viewer): FeedRow[] =>
  feedsOf.all(engine.reader, { person: viewer.id }).map((feed) => told(engine, viewer, feed))

/**
 * Makes an address, or resets the one there is: the one before opens nothing any more. It is answered
 * this once. @throws Refusal `not-found`
 */
export function makeFeed(engine: Engine, viewer: Viewer, body: FeedBody): Changed<MadeFeed> {
  const { of, item: itemId = 0 } = body
  const { reader, journal } = engine
  nameOfFeed(engine, viewer, { of, itemId })
  const secret = newLinkSecret()
  const { result: id, change } = journal.change({ kind: 'person', id: viewer.id }, (write) => {
    const old = feedOf.get(reader, { person: viewer.id, of, item: itemId })
    if (old) write.remove('feeds', old.id)
    const digest = digestOf(secret)
    return write.insert('feeds', { personId: viewer.id, of, itemId, digest, createdAt: write.at })
  })
  const made = ownFeed.get(reader, { id, person: viewer.id })!
  return { result: { ...told(engine, viewer, made), path: `/feeds/${secret}.ics` }, change }
}

/** @throws Refusal `not-found` */
export function needFeed({ reader }: Engine, viewer: Viewer, id: number) {
  return (
    ownFeed.get(reader, { id, person: viewer.id }) ?? refuse('not-found', `There is no feed ${id}.`)
  )
}

/** Ends one of one's own: its address opens nothing any more. @throws Refusal `not-found` */
export function endFeed(engine: Engine, viewer: Viewer, id: number): Changed<void> {
  needFeed(engine, viewer, id)
  return engine.journal.change({ kind: 'person', id: viewer.id }, (write) =>
    write.remove('feeds', id),
  )
}

/** Whose an address is, and which; null for one that opens nothing. */
export function feedBehind(
  { reader, journal, clock }: Engine,
  secret: string,
): { viewer: Viewer; id: number } | null {
  const found = known.get(reader, { digest: digestOf(secret) })
  if (!found) return null
  const { feed, ...viewer } = found
  if (feed.usedAt === null || clock.now() - feed.usedAt > HOUR)
    journal.change(ENGINE, (write) => write.update('feeds', feed.id, { usedAt: write.at }))
  return { viewer, id: feed.id }
}
