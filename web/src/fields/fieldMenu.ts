import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import type { TaskPatch, TaskRow } from '#contract/tasks.ts'

/**
 * A request to set a field: where the menu opens, on which task (none: on many at once), and what
 * to do with the edit.
 */
export interface FieldAsk {
  readonly target: HTMLElement
  readonly field: string
  readonly task: TaskRow | null
  readonly apply: (patch: TaskPatch) => unknown
  /** What was typed to open it. */
  readonly typed?: string
}

/** The one menu that sets fields of tasks, wherever they are shown: rows stay light. */
export const useFieldMenu = defineStore('fieldMenu', () => {
  const ask = shallowRef<FieldAsk | null>(null)
  /** Takes keys that are pressed before the menu has the focus: fast typing loses nothing. */
  const sink = shallowRef<((event: KeyboardEvent) => void) | null>(null)
  const open = (next: FieldAsk): void => void (ask.value = next)
  const close = (): void => {
    const from = ask.value?.target
    ask.value = null
    from?.focus()
  }
  return { ask, sink, open, close }
})
