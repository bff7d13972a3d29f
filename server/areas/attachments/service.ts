import { refuse } from '#core/refusal.ts'
import type { Attachment } from '#contract/tasks.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, isGuest, needMember, type Viewer } from '../../engine/viewer.ts'
import { needProject } from '../projects/queries.ts'
import { needTask } from '../tasks/service.ts'
import { checkName, kindOf } from './kinds.ts'
import { attachmentsOf } from './queries.ts'

/** Where a file or link goes: on a task, or on a project alone. */
export type Home = { readonly taskId: number } | { readonly projectId: number }

/** Guests may add to what was handed to them; projects are for members. */
function needHome(engine: Engine, viewer: Viewer, home: Home): void {
  if ('taskId' in home) needTask(engine, viewer, home.taskId)
  else {
    needMember(viewer, 'file things with a project')
    needProject(engine, viewer, home.projectId)
  }
}
const one = (engine: Engine, id: number): Attachment => attachmentsOf(engine, 'a.id = ?', [id])[0]!

/** Keeps a file. @throws Refusal for its name, kind or size */
export async function addFile(
  engine: Engine,
  viewer: Viewer,
  home: Home,
  name: string,
  bytes: Buffer,
): Promise<Attachment> {
  needHome(engine, viewer, home)
  const clean = checkName(name)
  const type = await kindOf(clean, bytes)
  needHome(engine, viewer, home)
  const digest = engine.files.put(bytes)
  const id = engine.journal.change(actorOf(viewer), (write) =>
    write.insert('attachments', {
      ...home,
      name: clean,
      type,
      size: bytes.length,
      digest,
      personId: viewer.id,
      at: write.at,
    }),
  )
  return one(engine, id)
}

export function addLink(
  engine: Engine,
  viewer: Viewer,
  home: Home,
  body: { name: string; url: string },
): Attachment {
  needHome(engine, viewer, home)
  const url = /^[a-z][a-z0-9+.-]*:/i.test(body.url) ? body.url : `https://${body.url}`
  if (!URL.canParse(url) || !/^(https?|mailto):/i.test(url))
    refuse('bad-link', 'A link begins with http://, https:// or mailto:.', 'url')
  const id = engine.journal.change(actorOf(viewer), (write) =>
    write.insert('attachments', {
      ...home,
      name: body.name || url.replace(/^https?:\/\//, '').slice(0, 200),
      url,
      personId: viewer.id,
      at: write.at,
    }),
  )
  return one(engine, id)
}

interface Row {
  id: number
  taskId: number | null
  projectId: number | null
  personId: number | null
  name: string
  type: string | null
  digest: string | null
}
function needAttachment(engine: Engine, viewer: Viewer, id: number): Row {
  const row = engine.db
    .prepare(
      'select id, taskId, projectId, personId, name, type, digest from attachments where id = ?',
    )
    .get(id) as Row | undefined
  if (!row) return refuse('not-found', 'That file is gone; someone removed it.')
  needHome(
    engine,
    viewer,
    row.taskId === null ? { projectId: row.projectId! } : { taskId: row.taskId },
  )
  return row
}

/** The bytes of a file for someone who may see where it is filed. */
export function readFile(
  engine: Engine,
  viewer: Viewer,
  id: number,
): { name: string; type: string; bytes: Buffer } {
  const row = needAttachment(engine, viewer, id)
  const bytes = row.digest === null ? null : engine.files.read(row.digest)
  if (bytes === null) return refuse('not-found', `The contents of “${row.name}” are missing.`)
  return { name: row.name, type: row.type ?? 'application/octet-stream', bytes }
}

/** Takes a file or link off; its bytes stay, so that this can be undone. */
export function removeAttachment(engine: Engine, viewer: Viewer, id: number): void {
  const row = needAttachment(engine, viewer, id)
  if (isGuest(viewer) && row.personId !== viewer.id)
    refuse('forbidden', 'Guests may remove only what they added themselves.')
  engine.journal.change(actorOf(viewer), (write) => write.remove('attachments', id))
}
