import { PassThrough } from 'node:stream'
import { isAssigned } from '../areas/tasks/queries.ts'
import type { Event } from '#core/events/events.ts'
import type { Engine } from '../engine/services.ts'
import { isGuest, type Viewer } from '../engine/viewer.ts'

const HEARTBEAT = 25_000
const MANY = 200

/** The task that an event is about, if it is about one. */
const taskOf = (event: Event): number | null => ('task' in event ? event.task : null)

/**
 * A stream of server-sent events that says what changed, never what it changed to: browsers ask for
 * what they show, through the same checks as ever. Guests hear only of tasks they can see.
 */
export function liveStream(engine: Engine, viewer: Viewer): PassThrough {
  const stream = new PassThrough()
  stream.write('retry: 2000\n\nevent: hello\ndata: {}\n\n')
  const sees = (id: number | null) =>
    id !== null && isAssigned.get(engine.reader, { id, person: viewer.id }) !== undefined
  const stop = engine.journal.subscribe((events) => {
    const seen = isGuest(viewer) ? events.filter((event) => sees(taskOf(event))) : events
    if (seen.length === 0) return
    const tasks = [...new Set(seen.flatMap((event) => taskOf(event) ?? []))]
    const projects = [...new Set(seen.flatMap((e) => (e.projectId === null ? [] : [e.projectId])))]
    // A change of very many is told as a change of everything.
    const many = tasks.length > MANY
    const entities = [...new Set<string>(seen.flatMap((e) => e.rows)), ...(many ? ['all'] : [])]
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
