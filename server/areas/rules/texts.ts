import { daysLate } from '#core/calendar/calendar.ts'
import { isoDate } from '#core/calendar/dates.ts'
import type { TaskFacts } from '#core/fields/facts.ts'
import { fieldsIn, merge, type MergeValues } from '#core/text/merge.ts'
import { plural } from '#core/text/speak.ts'
import { PRIORITY_NAMES } from '#contract/words.ts'
import type { Engine } from '../../engine/services.ts'

/** Texts of rules with their merge fields filled in. */

/** How long a task has been late, in words. */
export const lateBy = ({ firm }: Engine, { due }: Pick<TaskFacts, 'due'>): string =>
  plural(due === null ? 0 : daysLate(firm.calendar(), isoDate(due), firm.today()), 'working day')

const dated = (date: string | null) => (date === null ? 'no date' : { date: isoDate(date) })
/** What merge fields stand for; contract/merge-fields.ts says which there are. */
const valuesOf = (engine: Engine, task: TaskFacts): MergeValues => ({
  ...{ task: task.title, number: `#${task.id}`, state: task.stateName },
  ...{ client: task.client?.short ?? 'the firm', project: task.project?.name },
  ...{ due: dated(task.due), 'first due': dated(task.firstDue) },
  'days late': lateBy(engine, task),
  people: task.assignees.map(({ name }) => name).join(' and '),
  priority: PRIORITY_NAMES[task.priority].toLowerCase(),
  lead: task.project?.lead?.name,
  today: { date: engine.firm.today() },
})

/** Fills texts in; tells which of their fields were empty. */
export function filler(engine: Engine, task: TaskFacts, empty: (field: string) => void) {
  let known: MergeValues | undefined
  return (text: string): string => {
    const names = fieldsIn(text)
    if (names.length === 0) return text
    known ??= valuesOf(engine, task)
    for (const name of names) if ((known[name] ?? '') === '') empty(name)
    return merge(
      text,
      Object.fromEntries(Object.entries(known).map(([name, value]) => [name, value ?? ''])),
    )
  }
}
