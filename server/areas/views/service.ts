import { refuse } from '#core/refusal.ts'
import type { SavedView, ViewBody, ViewDefinition } from '#contract/query.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, mayStructure, needMember, type Viewer } from '../../engine/viewer.ts'
import { needNewest } from '../../engine/versions.ts'

interface Raw {
  id: number
  name: string
  ownerId: number
  owner: string
  shared: number
  pinned: number
  definition: string
  version: number
}

/** Views that are one's own or shared with everybody. */
export function listViews(engine: Engine, viewer: Viewer): SavedView[] {
  needMember(viewer, 'see saved views')
  const rows = engine.db
    .prepare(
      `select v.id, v.name, v.ownerId, w.name as owner, v.shared, v.definition, v.version, exists (select 1 from viewPins p where p.viewId = v.id and p.personId = @me) as pinned
       from views v join people w on w.id = v.ownerId where v.ownerId = @me or v.shared = 1 order by v.name collate nocase`,
    )
    .all({ me: viewer.id }) as Raw[]
  return rows.map((r) => ({
    id: r.id,
    name: r.name,
    owner: { id: r.ownerId, name: r.owner },
    shared: r.shared === 1,
    pinned: r.pinned === 1,
    mine: r.ownerId === viewer.id,
    definition: JSON.parse(r.definition) as ViewDefinition,
    version: r.version,
  }))
}
const needView = (engine: Engine, viewer: Viewer, id: number) =>
  listViews(engine, viewer).find((v) => v.id === id) ??
  refuse('not-found', 'That view is gone, or it is not shared.')

export function makeView(engine: Engine, viewer: Viewer, body: ViewBody): SavedView {
  needMember(viewer, 'save views')
  const id = engine.journal.change(actorOf(viewer), (write) =>
    write.insert('views', {
      name: body.name,
      ownerId: viewer.id,
      shared: body.shared ? 1 : 0,
      definition: JSON.stringify(body.definition),
    }),
  )
  return needView(engine, viewer, id)
}

/** Whoever saved a view changes it; a shared one also managers. */
function needOwn(viewer: Viewer, view: SavedView): void {
  if (!view.mine && !(view.shared && mayStructure(viewer)))
    refuse('forbidden', `This is ${view.owner.name}’s view; save your own beside it.`)
}

export function saveView(
  engine: Engine,
  viewer: Viewer,
  id: number,
  body: ViewBody,
  seen: number | null,
): SavedView {
  const view = needView(engine, viewer, id)
  needOwn(viewer, view)
  needNewest(seen, view.version)
  engine.journal.change(actorOf(viewer), (write) =>
    write.update('views', id, {
      name: body.name,
      shared: body.shared ? 1 : 0,
      definition: JSON.stringify(body.definition),
      version: view.version + 1,
    }),
  )
  return needView(engine, viewer, id)
}

export function removeView(engine: Engine, viewer: Viewer, id: number): void {
  needOwn(viewer, needView(engine, viewer, id))
  engine.journal.change(actorOf(viewer), (write) => {
    for (const pin of engine.db.prepare('select id from viewPins where viewId = ?').all(id) as {
      id: number
    }[])
      write.remove('viewPins', pin.id)
    write.remove('views', id)
  })
}

/** Keeps a view at hand, for this person alone. */
export function pinView(engine: Engine, viewer: Viewer, id: number, on: boolean): SavedView {
  const view = needView(engine, viewer, id)
  engine.journal.change(actorOf(viewer), (write) => {
    if (on && !view.pinned) write.insert('viewPins', { personId: viewer.id, viewId: id })
    if (!on)
      for (const pin of engine.db
        .prepare('select id from viewPins where viewId = ? and personId = ?')
        .all(id, viewer.id) as { id: number }[])
        write.remove('viewPins', pin.id)
  })
  return needView(engine, viewer, id)
}
