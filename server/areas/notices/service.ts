import { refuse } from '#core/refusal.ts'
import type { NoticeRow } from '#contract/desks.ts'
import type { Listener } from '../../engine/handlers.ts'
import { ENGINE, type Changed } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, sightOf, type Viewer } from '../../engine/viewer.ts'
import { newsOf } from './news.ts'
import { notify } from './notify.ts'
import { noticeOf, noticesOf, unreadIds, unreadOf } from './queries.ts'

export const listNotices = ({ reader }: Engine, viewer: Viewer): NoticeRow[] =>
  noticesOf
    .all(reader, { person: viewer.id, sight: sightOf(viewer) })
    .map(({ itemKind, itemId, gone, ...notice }) => ({
      ...notice,
      item: itemKind === null || itemId === null || gone ? null : { kind: itemKind, id: itemId },
    }))

export const unread = ({ reader }: Engine, viewer: Viewer): number =>
  unreadOf.get(reader, { person: viewer.id, sight: sightOf(viewer) })?.notices ?? 0

/** Marks one notice read, or all of a person's when no id is given. */
export function markRead(engine: Engine, viewer: Viewer, id: number | null): Changed<void> {
  const person = viewer.id
  if (id !== null && !noticeOf.get(engine.reader, { id, person }))
    refuse('not-found', 'That notice is not yours, or is gone.')
  return engine.journal.change(actorOf(viewer), (write) => {
    for (const notice of unreadIds.all(engine.reader, { person }))
      if (id === null || notice.id === id) write.update('notices', notice.id, { readAt: write.at })
  })
}

/** Tells people what happened to their work, all of one change together. */
export const hearNotices: Listener = {
  name: 'notices',
  *weigh(engine, events) {
    const news = yield* newsOf(engine, events)
    return () => {
      if (news.length) engine.journal.change(ENGINE, (write) => notify(engine, write, news))
    }
  },
}
