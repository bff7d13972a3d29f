import type { Event } from '#core/events/events.ts'
import { taskField } from '#core/fields/catalogue.ts'
import type { TaskFacts } from '#core/fields/facts.ts'
import { isRef, type Value } from '#core/fields/types.ts'
import type { Change } from '#contract/triggers/change.ts'
import type { Subject } from '../subject.ts'
import { itsClient, itsProject, itsTask, type Wakes } from './wake.ts'

const among = (wanted: readonly unknown[], values: readonly unknown[]): boolean =>
  wanted.length === 0 || values.some((value) => wanted.includes(value))
const listed = (value: unknown): readonly unknown[] => (Array.isArray(value) ? value : [value])
const keys = (value: Value): readonly unknown[] =>
  listed(value).map((each) => (isRef(each) ? each.id : each))

/**
 * A change of a field. Fields of a place are named by the way there from a task, `project.state`, and
 * in events by their own name.
 */
function changeOf(
  kind: 'task.changed' | 'project.changed' | 'client.changed',
  about: (event: Event) => Subject | null,
  way = '',
): Wakes<Change> {
  const own = ({ field }: Change) => field.slice(way.length)
  return {
    on: (trigger) => [`${kind}:${own(trigger)}`],
    by(trigger, event) {
      const change = 'fields' in event ? event.fields[own(trigger)] : undefined
      if (!change) return false
      return among(trigger.to, listed(change.to)) && among(trigger.from ?? [], listed(change.from))
    },
    about,
    stands({ field, to }, item: TaskFacts) {
      const of = taskField(field)
      return !of || among(to, keys(of.read(item, { today: '' })))
    },
  }
}

export const changed = changeOf('task.changed', itsTask)
export const projectChanged = changeOf('project.changed', itsProject, 'project.')
export const clientChanged = changeOf('client.changed', itsClient, 'client.')
