/** What keys do to the task in focus, in every view of tasks alike. */

/** A key as far as it matters here. */
export type Key = Pick<KeyboardEvent, 'key' | 'shiftKey' | 'altKey' | 'ctrlKey' | 'metaKey'>

export type TaskKeyDoes =
  | { readonly mark: 'one' | 'through' }
  | { readonly tick: true }
  /** Sets a field of the task, wherever in it the focus is. */
  | { readonly set: string }
  /** To what can be done with everything marked. */
  | { readonly bulk: true }

const LETTERS: Readonly<Record<string, TaskKeyDoes>> = {
  ...{ t: { tick: true }, b: { bulk: true } },
  ...{ s: { set: 'state' }, d: { set: 'due' }, a: { set: 'assignee' }, p: { set: 'priority' } },
}
export const markBy = ({ shiftKey }: Key): TaskKeyDoes => ({ mark: shiftKey ? 'through' : 'one' })

/** Marks, ticks or sets a field of the task; null where the key does nothing to it. */
export function taskKeyDoes(key: Key): TaskKeyDoes | null {
  if (key.ctrlKey || key.metaKey || key.altKey) return null
  if (key.key === ' ' || key.key.toLowerCase() === 'x') return markBy(key)
  return LETTERS[key.key] ?? null
}
