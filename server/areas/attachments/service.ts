import type { ProjectId, TaskId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import type { Attachment } from '#contract/tasks.ts'
import type { Row } from '../../database/query.ts'
import type { Changed, Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, isGuest, needMember, sightOf, type Viewer } from '../../engine/viewer.ts'
import { needInProject, needOnTask } from '../access/levels.ts'
import { needProject } from '../projects/sheet.ts'
import { attachmentsOn } from '../tasks/queries.ts'
import { needSight } from '../tasks/service.ts'
import { checkName, kindOf } from './kinds.ts'
import { attachment, fileOf } from './queries.ts'

/** Where a file or link goes: on a task, or on a project alone. */
export type Home = { readonly taskId: TaskId } | { readonly projectId: ProjectId }

/** Who works on a task may add to it; to a project, who may edit what is in it. */
function needHome(engine: Engine, viewer: Viewer, home: Home): void {
  if ('taskId' in home) {
    needSight(engine, viewer, home.taskId)
    needOnTask(engine, viewer, home.taskId, 'work', 'add files')
  } else {
    needProject(engine, viewer, home.projectId)
    needInProject(engine, viewer, home.projectId, 'edit', 'file things with it')
  }
}

const gone = (): never =>
  refuse('not-found', 'That file is not here any more, or it is not shared with you.')

function added(
  engine: Engine,
  viewer: Viewer,
  work: (write: Writer) => number,
): Changed<Attachment> {
  const { result: id, change } = engine.journal.change(actorOf(viewer), work)
  return { result: attachment(engine.reader, sightOf(viewer), id) ?? gone(), change }
}

/** Keeps a file. @throws Refusal for its name, kind or size */
export async function addFile(
  engine: Engine,
  viewer: Viewer,
  home: Home,
  { name, bytes }: { name: string; bytes: Buffer },
): Promise<Changed<Attachment>> {
  needHome(engine, viewer, home)
  const clean = checkName(name)
  const type = await kindOf(clean, bytes)
  // Things may have gone while the bytes were looked at, and while they were written.
  needHome(engine, viewer, home)
  const digest = await engine.files.put(bytes)
  needHome(engine, viewer, home)
  return added(engine, viewer, (write) =>
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
}

export function addLink(
  engine: Engine,
  viewer: Viewer,
  home: Home,
  body: { name: string; url: string },
): Changed<Attachment> {
  needHome(engine, viewer, home)
  const url = /^[a-z][a-z0-9+.-]*:/i.test(body.url) ? body.url : `https://${body.url}`
  if (!URL.canParse(url) || !/^(https?|mailto):/i.test(url))
    refuse('bad-link', 'A link begins with http://, https:// or mailto:.', 'url')
  const name = body.name || url.replace(/^https?:\/\//, '').slice(0, 200)
  return added(engine, viewer, (write) =>
    write.insert('attachments', { ...home, name, url, personId: viewer.id, at: write.at }),
  )
}

function needAttachment(engine: Engine, viewer: Viewer, id: number): Row<typeof fileOf> {
  return fileOf.get(engine.reader, { id, sight: sightOf(viewer) }) ?? gone()
}

/** A file that the viewer sees, and may change. */
function needOwn(engine: Engine, viewer: Viewer, id: number): Row<typeof fileOf> {
  const row = needAttachment(engine, viewer, id)
  if (row.taskId !== null) needHome(engine, viewer, { taskId: row.taskId })
  else if (row.projectId !== null) needHome(engine, viewer, { projectId: row.projectId })
  return row
}

/** The bytes of a file for someone who may see where it is filed. */
export async function readFile(
  engine: Engine,
  viewer: Viewer,
  id: number,
): Promise<{ name: string; type: string; bytes: Buffer }> {
  const row = needAttachment(engine, viewer, id)
  const bytes = row.digest === null ? null : await engine.files.read(row.digest)
  if (bytes === null) return refuse('not-found', `The contents of “${row.name}” are missing.`)
  return { name: row.name, type: row.type ?? 'application/octet-stream', bytes }
}

/**
 * Shows a file or link of a task on its slip, in place of what was shown there, or no more.
 * @throws Refusal `not-on-task` for what is filed with a project
 */
export function showOnBoard(
  engine: Engine,
  viewer: Viewer,
  id: number,
  onBoard: boolean,
): Changed<Attachment> {
  needMember(viewer, 'choose what a slip shows')
  const { taskId } = needOwn(engine, viewer, id)
  if (taskId === null)
    return refuse('not-on-task', 'Only what is on a task is shown on its slip.', 'onBoard')
  return added(engine, viewer, (write) => {
    for (const file of attachmentsOn.all(engine.reader, { id: taskId }))
      write.update('attachments', file, { onBoard: onBoard && file.id === id })
    return id
  })
}

/** Takes a file or link off; its bytes stay, so that this can be undone. */
export function removeAttachment(engine: Engine, viewer: Viewer, id: number): Changed<void> {
  const row = needOwn(engine, viewer, id)
  if (isGuest(viewer) && row.personId !== viewer.id)
    refuse('forbidden', 'Guests may remove only what they added themselves.')
  return engine.journal.change(actorOf(viewer), (write) => write.remove('attachments', id))
}
