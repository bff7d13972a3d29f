import { PassThrough } from 'node:stream'
import type { Event } from '#core/events/events.ts'
import { isAssigned } from '../areas/tasks/queries.ts'
import type { Engine } from '../engine/services.ts'
import { isGuest, type Viewer } from '../engine/viewer.ts'

const HEARTBEAT = 25_000
const MANY = 200
/** As many bytes as wait for a browser that does not read before it is let go. */
const UNREAD = 256 * 1024
/** As many streams as one person has open; the oldest makes room. */
const EACH = 20

/** The task that an event is about, if it is about one. */
const taskOf = (event: Event): number | null => ('task' in event ? event.task : null)

/** What changed, as browsers are told. */
function toldOf(events: readonly Event[]): string {
  const tasks = [...new Set(events.flatMap((event) => taskOf(event) ?? []))]
  const projects = [...new Set(events.flatMap((e) => (e.projectId === null ? [] : [e.projectId])))]
  // A change of very many is told as a change of everything.
  const many = tasks.length > MANY
  const entities = [...new Set<string>(events.flatMap((e) => e.rows)), ...(many ? ['all'] : [])]
  const data = JSON.stringify({ tasks: many ? [] : tasks, projects, entities })
  return `event: change\ndata: ${data}\n\n`
}

interface Open {
  readonly stream: PassThrough
  /** Whoever is signed in there now; null: nobody any more. */
  readonly viewer: () => Viewer | null
}

/** The streams by which browsers hear of changes. */
export interface Live {
  /** Opens one for a session, which is asked anew each time something is told. */
  open(viewer: () => Viewer | null): PassThrough
  closeAll(): void
}

/**
 * Server-sent events that say what changed, never what it changed to: browsers ask for what they
 * show, through the same checks as ever. Guests hear only of tasks they can see. A stream ends with
 * its session, and when nobody reads it.
 */
export function createLive(engine: Engine): Live {
  const opened = new Set<Open>()
  const sees = (viewer: Viewer, id: number | null) =>
    id !== null && isAssigned.get(engine.reader, { id, person: viewer.id }) !== undefined
  const seenBy = (viewer: Viewer, events: readonly Event[]) =>
    isGuest(viewer) ? events.filter((event) => sees(viewer, taskOf(event))) : events

  function tell(open: Open, text: (viewer: Viewer) => string | null): void {
    const viewer = open.viewer()
    const { stream } = open
    if (!viewer) stream.end('event: bye\ndata: {}\n\n')
    else if (stream.readableLength + stream.writableLength > UNREAD) stream.destroy()
    else {
      const said = text(viewer)
      if (said !== null) stream.write(said)
    }
  }

  engine.journal.subscribe((events) => {
    // Members are all told the same, made once.
    const whole = opened.size ? toldOf(events) : ''
    for (const open of opened)
      tell(open, (viewer) => {
        if (!isGuest(viewer)) return whole
        const seen = seenBy(viewer, events)
        return seen.length ? toldOf(seen) : null
      })
  })
  const beat = setInterval(() => {
    for (const open of opened) tell(open, () => ': still here\n\n')
  }, HEARTBEAT)
  beat.unref()

  function makeRoom(id: number | undefined): void {
    const theirs = [...opened].filter((open) => open.viewer()?.id === id)
    for (const { stream } of theirs.slice(0, Math.max(0, theirs.length - EACH + 1))) stream.end()
  }
  return {
    open(viewer) {
      makeRoom(viewer()?.id)
      const stream = new PassThrough()
      const open = { stream, viewer }
      opened.add(open)
      stream.on('close', () => opened.delete(open))
      stream.write('retry: 2000\n\nevent: hello\ndata: {}\n\n')
      return stream
    },
    closeAll() {
      clearInterval(beat)
      for (const { stream } of opened) stream.end()
    },
  }
}
