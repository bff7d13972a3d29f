import { PassThrough } from 'node:stream'
import { isAssigned } from '../areas/tasks/queries.ts'
import { taskOf } from '../engine/journal.ts'
import type { Engine } from '../engine/services.ts'
import { isGuest, type Viewer } from '../engine/viewer.ts'

const HEARTBEAT = 25_000
const MANY = 200

/**
 * A stream of server-sent events that says what changed, never what it changed to: browsers ask for
 * what they show, through the same checks as ever. Guests hear only of tasks they can see.
 */
export function liveStream(engine: Engine, viewer: Viewer): PassThrough {
  const stream = new PassThrough()
  stream.write('retry: 2000\n\nevent: hello\ndata: {}\n\n')
  const sees = (id: number | null) =>
    id !== null && isAssigned.get(engine.reader, { id, person: viewer.id }) !== undefined
  const stop = engine.journal.subscribe((entries) => {
    const seen = isGuest(viewer) ? entries.filter((entry) => sees(taskOf(entry))) : entries
    if (seen.length === 0) return
    const tasks = [...new Set(seen.flatMap((entry) => taskOf(entry) ?? []))]
    const projects = [...new Set(seen.flatMap((e) => (e.projectId === null ? [] : [e.projectId])))]
    // A change of very many is told as a change of everything.
    const many = tasks.length > MANY
    const entities = [...new Set<string>(seen.map((e) => e.entity)), ...(many ? ['all'] : [])]
    stream.write(
      `event: change\ndata: ${JSON.stringify({ tasks: many ? [] : tasks, projects, entities })}\n\n`,
    )
  })
  const beat = setInterval(() => stream.write(': still here\n\n'), HEARTBEAT)
  stream.on('close', () => {
    clearInterval(beat)
    stop()
  })
  return stream
}
