import type { ViewId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import type { SavedView, ViewBody } from '#contract/query.ts'
import type { Changed } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, mayStructure, needMember, type Viewer } from '../../engine/viewer.ts'
import { needNewest } from '../../engine/versions.ts'
import { pinsOf, viewFor, viewsFor } from './queries.ts'

/** Views that are one's own or shared with everybody. */
export function listViews({ reader }: Engine, viewer: Viewer): SavedView[] {
  needMember(viewer, 'see saved views')
  return viewsFor
    .all(reader, { me: viewer.id })
    .map((view) => ({ ...view, mine: view.owner.id === viewer.id }))
}

/** @throws Refusal `not-found`, the same whether it is gone or somebody's own */
function needView({ reader }: Engine, viewer: Viewer, id: ViewId): SavedView {
  needMember(viewer, 'see saved views')
  const view =
    viewFor.get(reader, { me: viewer.id, id }) ??
    refuse('not-found', 'That view is gone, or it is not shared.')
  return { ...view, mine: view.owner.id === viewer.id }
}

export function makeView(engine: Engine, viewer: Viewer, body: ViewBody): Changed<SavedView> {
  needMember(viewer, 'save views')
  const { result: id, change } = engine.journal.change(actorOf(viewer), (write) =>
    write.insert('views', { ...body, ownerId: viewer.id }),
  )
  return { result: needView(engine, viewer, id), change }
}

/** Whoever saved a view changes it; a shared one also managers. */
function needOwn(viewer: Viewer, view: SavedView): void {
  if (!view.mine && !(view.shared && mayStructure(viewer)))
    refuse('forbidden', `This is ${view.owner.name}’s view; save your own beside it.`)
}

export function saveView(
  engine: Engine,
  viewer: Viewer,
  id: ViewId,
  { body, seen }: { body: ViewBody; seen: number | null },
): Changed<SavedView> {
  const view = needView(engine, viewer, id)
  needOwn(viewer, view)
  needNewest(seen, view.version)
  const { change } = engine.journal.change(actorOf(viewer), (write) =>
    write.update('views', id, { ...body, version: view.version + 1 }),
  )
  return { result: needView(engine, viewer, id), change }
}

export function removeView(engine: Engine, viewer: Viewer, id: ViewId): Changed<void> {
  needOwn(viewer, needView(engine, viewer, id))
  return engine.journal.change(actorOf(viewer), (write) => {
    for (const pin of pinsOf.all(engine.reader, { view: id })) write.remove('viewPins', pin.id)
    write.remove('views', id)
  })
}

/** Keeps a view at hand, for this person alone. */
export function pinView(
  engine: Engine,
  viewer: Viewer,
  id: ViewId,
  on: boolean,
): Changed<SavedView> {
  const view = needView(engine, viewer, id)
  const { change } = engine.journal.change(actorOf(viewer), (write) => {
    if (on && !view.pinned) write.insert('viewPins', { personId: viewer.id, viewId: id })
    if (on) return
    for (const pin of pinsOf.all(engine.reader, { view: id }))
      if (pin.personId === viewer.id) write.remove('viewPins', pin.id)
  })
  return { result: needView(engine, viewer, id), change }
}
