import { PassThrough } from 'node:stream'
import type { Engine } from '../engine/services.ts'
import { isGuest, type Viewer } from '../engine/viewer.ts'

const HEARTBEAT = 25_000

/**
 * A stream of server-sent events that says what changed, never what it changed to: browsers ask for what
 * they show, through the same checks as ever. Guests hear only of tasks they can see.
 */
export function liveStream(engine: Engine, viewer: Viewer): PassThrough {
  const stream = new PassThrough()
  stream.write('retry: 2000\n\nevent: hello\ndata: {}\n\n')
  const sees = (taskId: number | null) => taskId !== null && engine.db.prepare('select 1 from taskAssignees where taskId = ? and personId = ?').get(taskId, viewer.id) !== undefined
  const stop = engine.journal.subscribe((entries) => {
    const seen = isGuest(viewer) ? entries.filter((e) => sees(e.taskId)) : entries
    if (seen.length === 0) return
    const tasks = [...new Set(seen.flatMap((e) => (e.taskId === null ? [] : [e.taskId])))]
    const projects = [...new Set(seen.flatMap((e) => (e.projectId === null ? [] : [e.projectId])))]
    stream.write(`event: change\ndata: ${JSON.stringify({ tasks: tasks.slice(0, 200), projects, entities: [...new Set(seen.map((e) => e.entity))] })}\n\n`)
  })
  const beat = setInterval(() => stream.write(': still here\n\n'), HEARTBEAT)
  stream.on('close', () => {
    clearInterval(beat)
    stop()
  })
  return stream
}
