import type { Event } from '#core/events/events.ts'
import type { TaskFacts } from '#core/fields/facts.ts'

/** When a trigger wakes its rule. */
export interface Wakes<T> {
  /** Where events that could wake it are looked up: the kind of event, or that with a field. */
  on(trigger: T): readonly string[]
  /** Whether an event that was looked up is one. */
  by(trigger: T, event: Event): boolean
  /** Whether what it was woken by still stands, when its turn comes; left out, it always does. */
  stands?(trigger: T, task: TaskFacts): boolean
}

/** Where an event is looked up. */
export function wakesOf(event: Event): readonly string[] {
  if (event.kind !== 'task.changed') return [event.kind]
  return Object.keys(event.fields).map((field) => `${event.kind}:${field}`)
}
