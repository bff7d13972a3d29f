import type { Engine } from '../../engine/services.ts'
import type { Writer } from '../../engine/journal.ts'

/** The phase of a project with a name, made at the end if it is not there. */
export function phaseNamed(engine: Engine, write: Writer, projectId: number, name: string): number {
  const there = engine.db
    .prepare('select id from phases where projectId = ? and name = ? collate nocase')
    .get(projectId, name) as { id: number } | undefined
  if (there) return there.id
  const { n } = engine.db
    .prepare('select coalesce(max(position), -1) + 1 as n from phases where projectId = ?')
    .get(projectId) as { n: number }
  return write.insert('phases', { projectId, name, position: n })
}
