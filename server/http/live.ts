import { performance } from 'node:perf_hooks'
import { PassThrough } from 'node:stream'
import type { Event } from '#core/events/events.ts'
import type { LiveChange, LiveHello, LiveProgress } from '#contract/live.ts'
import { seesAllOf, seesThatProject, seesThatTask } from '../areas/access/levels.ts'
import { assignedIn } from '../areas/tasks/queries.ts'
import type { Engine } from '../engine/services.ts'
import { isGuest, mayStructure, type Viewer } from '../engine/viewer.ts'

const HEARTBEAT = 25_000
/** As often as is told how far a large change has come, in milliseconds. */
const PROGRESS_EVERY = 200
const MANY = 200
/** As many bytes as wait for a browser that does not read before it is let go. */
const UNREAD = 256 * 1024
/** As many streams as one person has open; the oldest makes room. */
const EACH = 20

/** The task that an event is about, if it is about one. */
const taskOf = (event: Event): number | null => ('task' in event ? event.task : null)

/** Milliseconds for each browser that may ask again, and as many as that may come to. */
const SPREAD_EACH = 50
const SPREAD_MOST = 4_000

/** Who came to a task or left it, by an event. */
function comersOf(event: Event): readonly number[] {
  if (event.kind !== 'task.changed') return []
  const { from, to } = event.fields['assignee'] ?? { from: [], to: [] }
  return [from, to].flat().filter((id) => typeof id === 'number')
}
/** Projects that an event is about: a task that moves leaves one and comes to another. */
function projectsOf(event: Event): number[] {
  const moved = event.kind === 'task.changed' ? event.fields['project'] : undefined
  const all = [event.projectId, moved?.from, moved?.to]
  return all.filter((id): id is number => typeof id === 'number')
}
/** All fields that events changed of tasks; null where they changed more. */
function fieldsOf(events: readonly Event[]): string[] | null {
  const about = events.filter((event) => taskOf(event) !== null)
  return about.every((event) => event.kind === 'task.changed' && !event.more)
    ? distinct(about.flatMap((event) => Object.keys('fields' in event ? event.fields : {})))
    : null
}
const distinct = <T>(values: readonly T[]): T[] => [...new Set(values)]

interface Telling {
  readonly at: number
  readonly spread: number
  /** Who is, or was until now, on the tasks of events: what guests are not told. */
  readonly on: (events: readonly Event[], tasks: readonly number[]) => readonly number[]
  /** Whether a project is shown to whom this is told. */
  readonly shows?: (project: number) => boolean
  /** Whether what they see may be another thing altogether. */
  readonly anew?: boolean
}
/** Who is, or was until now, on the tasks of events. */
const peopleOn =
  ({ reader }: Engine): Telling['on'] =>
  (events, tasks) => {
    const now = assignedIn.all(reader, { ids: JSON.stringify(tasks) })
    return distinct([...events.flatMap(comersOf), ...now.map(({ id }) => Number(id))])
  }

/**
 * Rows that say who sees what: with a change of them, what somebody sees may be another thing
 * altogether. A project that is made, or finished, is told as any other change.
 */
const ACCESS: ReadonlySet<string> = new Set(['projects', 'shares', 'teams', 'teamMembers'])
const changesSight = ({ kind, rows }: Event): boolean =>
  (kind === 'other' || kind === 'project.changed') && rows.some((row) => ACCESS.has(row))

/** The events that somebody may hear of: those of what they see, or came to, or were taken off. */
function heardBy(engine: Engine, viewer: Viewer, events: readonly Event[]): readonly Event[] {
  const inside = !isGuest(viewer)
  const whole = new Map<number, boolean>()
  const seesAll = (id: number): boolean => {
    const known = whole.get(id) ?? seesAllOf(engine, viewer, id)
    whole.set(id, known)
    return known
  }
  const tasks = new Map<number, boolean>()
  const seesTask = (id: number): boolean => {
    const known = tasks.get(id) ?? seesThatTask(engine, viewer, id)
    tasks.set(id, known)
    return known
  }
  return events.filter((event) => {
    const projects = projectsOf(event)
    if (projects.some(seesAll) || comersOf(event).includes(viewer.id)) return true
    const task = taskOf(event)
    if (task === null) return projects.length === 0 && inside
    return (projects.length === 0 && inside) || seesTask(task)
  })
}
/** The same as it is told to them: of projects they do not see, not even the number. */
function toldTo(engine: Engine, viewer: Viewer, events: readonly Event[], telling: Telling) {
  const heard = heardBy(engine, viewer, events)
  const anew = events.some(changesSight)
  if (heard.length === 0 && !anew) return null
  const on: Telling['on'] = isGuest(viewer) ? () => [] : telling.on
  const shows = (id: number) => seesThatProject(engine, viewer, id)
  return toldOf(heard, { ...telling, on, shows, anew })
}

/** What changed, as browsers are told. */
function toldOf(
  events: readonly Event[],
  { at, spread, on, shows = () => true, anew = false }: Telling,
): string {
  const tasks = distinct(events.flatMap((event) => taskOf(event) ?? []))
  // A change of very many is told as a change of everything.
  const many = tasks.length > MANY
  const change: LiveChange = {
    ...(many
      ? { tasks: [], fields: null, on: [] }
      : { tasks, fields: fieldsOf(events), on: on(events, tasks) }),
    projects: distinct(events.flatMap(projectsOf)).filter(shows),
    entities: distinct([...events.flatMap(({ rows }) => rows), ...(many || anew ? ['all'] : [])]),
    at,
    spread,
  }
  return `event: change\ndata: ${JSON.stringify(change)}\n\n`
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

/** Tells people how far their own large changes have come. */
function tellProgress(
  { journal }: Engine,
  tell: (isTheirs: (viewer: Viewer) => boolean, said: string) => void,
): void {
  let toldAt = 0
  journal.watch(({ actor, done, of }) => {
    const now = performance.now()
    if (now - toldAt < PROGRESS_EVERY) return
    toldAt = now
    const progress: LiveProgress = { done, of }
    tell(
      ({ id }) => actor.kind === 'person' && actor.id === id,
      `event: progress\ndata: ${JSON.stringify(progress)}\n\n`,
    )
  })
}

/**
 * Server-sent events that say what changed, never what it changed to: browsers ask for what they
 * show, through the same checks as ever. Everybody hears of what they see alone. A stream ends with
 * its session, and when nobody reads it.
 */
export function createLive(engine: Engine): Live {
  const opened = new Set<Open>()
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

  const on = peopleOn(engine)
  engine.journal.subscribe((events) => {
    if (opened.size === 0) return
    const spread = Math.min(SPREAD_MOST, SPREAD_EACH * (opened.size - 1))
    const telling = { at: engine.journal.told, spread, on }
    // Who sees everything is told the same, made once.
    const whole = toldOf(events, telling)
    for (const open of opened)
      tell(open, (viewer) =>
        mayStructure(viewer) ? whole : toldTo(engine, viewer, events, telling),
      )
  })
  tellProgress(engine, (isTheirs, said) => {
    for (const open of opened) tell(open, (viewer) => (isTheirs(viewer) ? said : null))
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
      const hello: LiveHello = { at: engine.journal.told }
      stream.write(`retry: 2000\n\nevent: hello\ndata: ${JSON.stringify(hello)}\n\n`)
      return stream
    },
    closeAll() {
      clearInterval(beat)
      for (const { stream } of opened) stream.end()
    },
  }
}
