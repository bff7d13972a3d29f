import type { Event } from '#core/events/events.ts'
import type { TaskFacts } from '#core/fields/facts.ts'
import type { Reader } from '../../../database/query.ts'
import type { Subject } from '../subject.ts'

/** When a trigger wakes its rule. */
export interface Wakes<T> {
  /** Where events that could wake it are looked up: the kind of event, or that with a field. */
  on(trigger: T): readonly string[]
  /** Whether an event that was looked up is one; left out, each is. */
  by?(trigger: T, event: Event): boolean
  /** What an event that is one is about; nothing where it is none after all. */
  about(event: Event, reader: Reader): Subject | null
  /** What of an event is one thing only in a change, however often it comes; else each event is. */
  once?(event: Event, reader: Reader): string
  /** Whether what it was woken by still stands, when its turn comes; left out, it always does. */
  stands?(trigger: T, item: TaskFacts): boolean
}

/** Where whatever happens to a task is looked up. */
export const ANY = 'task'
/** Where an event is looked up. */
export function wakesOf(event: Event): readonly string[] {
  const any = 'task' in event && event.task !== null ? [ANY] : []
  if (!('fields' in event)) return [event.kind, ...any]
  return [...Object.keys(event.fields).map((field) => `${event.kind}:${field}`), ...any]
}

/** The task that an event is about. */
export const itsTask = (event: Event): Subject | null =>
  'task' in event && event.task !== null ? { kind: 'task', id: event.task } : null
export const itsProject = (event: Event): Subject | null =>
  'project' in event ? { kind: 'project', id: event.project } : null
export const itsClient = (event: Event): Subject | null =>
  'client' in event ? { kind: 'client', id: event.client } : null

/** A trigger that events of one kind wake: each thing once in a change. */
export const wokenBy = (
  kind: Event['kind'],
  about: (event: Event) => Subject | null,
): Wakes<unknown> => ({ on: () => [kind], about, once: (event) => `${kind}:${about(event)?.id}` })
