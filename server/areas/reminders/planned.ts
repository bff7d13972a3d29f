import type { PersonId, TaskId } from '#core/brands.ts'
import type { PlannedReminder } from '#core/templates/template.ts'
import type { Writer } from '../../engine/journal.ts'

/** Sets the reminders that a task of a template, or of a series, comes with. */
export function setPlanned(
  write: Writer,
  taskId: TaskId,
  planned: readonly PlannedReminder[] | undefined,
  creatorId: PersonId | null,
): void {
  for (const { daily, ...when } of planned ?? [])
    write.insert('reminders', {
      ...{ taskId, when: { kind: 'dated', ...when }, daily, creatorId },
      ...{ assignees: true, people: [], text: '' },
    })
}
