import type { ProjectId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import type { PostBody, ProjectSheet } from '#contract/projects.ts'
import type { Changed } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { needInProject } from '../access/levels.ts'
import { cleanRich, tellMentionedOn } from '../talk/rich.ts'
import { postOf } from './queries.ts'
import { changing, needRecord } from './service.ts'
import { needProject } from './sheet.ts'

/** Says something about a project; with a health it is a status update and sets the project's. */
export function addPost(
  engine: Engine,
  viewer: Viewer,
  projectId: ProjectId,
  { body, health }: PostBody,
): Changed<ProjectSheet> {
  const project = needProject(engine, viewer, projectId)
  if (health) needInProject(engine, viewer, projectId, 'edit', 'say how it stands')
  else needInProject(engine, viewer, projectId, 'comment', 'write about it')
  const clean = cleanRich(body) || refuse('empty', 'There is nothing in this.', 'body')
  return changing(engine, viewer, projectId, (write) => {
    write.insert('posts', { projectId, authorId: viewer.id, health, body: clean, at: write.at })
    tellMentionedOn(engine, write, project, clean)
    if (!health) return
    const row = needRecord(engine, projectId)
    write.update('projects', row, {
      health,
      healthReason: 'As the last status update says.',
      version: row.version + 1,
    })
  })
}

/**
 * Rewords one's own post; an empty one is taken away. What it once said about the project's health
 * stays said.
 */
export function editPost(
  engine: Engine,
  viewer: Viewer,
  place: { project: ProjectId; id: number },
  body: string,
): Changed<ProjectSheet> {
  const project = needProject(engine, viewer, place.project)
  needInProject(engine, viewer, place.project, 'comment', 'change what you said')
  const row =
    postOf.get(engine.reader, place) ??
    refuse('not-found', 'That post is gone; someone removed it.')
  if (row.authorId !== viewer.id) refuse('forbidden', 'Only who wrote a post may change it.')
  const clean = cleanRich(body)
  return changing(engine, viewer, place.project, (write) => {
    if (!clean) return write.remove('posts', row.id)
    write.update('posts', row, { body: clean })
    tellMentionedOn(engine, write, project, clean, row.body)
  })
}
