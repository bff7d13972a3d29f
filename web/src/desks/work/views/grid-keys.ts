import { markBy, taskKeyDoes, type Key, type TaskKeyDoes } from '#web/parts/task/task-keys.ts'

/** What keys do on the rows of a list and in the cells of a table. */

export type KeyDoes =
  | { readonly go: readonly [rows: number, cells: number] }
  /** Past the row above or below. */
  | { readonly shift: 1 | -1 }
  | { readonly fold: true }
  /** Begins an edit; with what was typed, where that is how it was begun. */
  | { readonly edit: string | undefined }
  | TaskKeyDoes

/** Past all there are. */
const ALL = 1_000_000
const STEPS: Readonly<Record<string, readonly [rows: number, cells: number]>> = {
  ArrowDown: [1, 0],
  ArrowUp: [-1, 0],
  PageDown: [12, 0],
  PageUp: [-12, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
}

/** Where the keys are: in cells or on rows, and in which of so many columns beside the title. */
export interface Cursor {
  readonly cells: boolean
  readonly at: number
  readonly columns: number
}

/** Where Home and End lead: along a row of cells, else to the first or last line. */
function endOf({ key, ctrlKey, metaKey }: Key, cells: boolean) {
  if (key !== 'Home' && key !== 'End') return undefined
  const by = key === 'Home' ? -ALL : ALL
  return cells && !ctrlKey && !metaKey ? ([0, by] as const) : ([by, 0] as const)
}
/** Where a key leads, by rows and cells; the last cell lets Tab leave the table. */
function stepOf(pressed: Key, { cells, at, columns }: Cursor) {
  const { key, shiftKey, altKey } = pressed
  if (altKey) return undefined
  const end = endOf(pressed, cells)
  if (end) return end
  if (key !== 'Tab' || !cells) return STEPS[key]
  const by = shiftKey ? -1 : 1
  return at + by < 0 || at + by > columns ? undefined : ([0, by] as const)
}
/** On a list's row: what keys do to its task; fold what is under it. */
const onRow = (key: Key): KeyDoes | null =>
  key.key === 'f' && !key.ctrlKey && !key.metaKey && !key.altKey ? { fold: true } : taskKeyDoes(key)
/** In a table's cell: mark its row, edit it, or begin to type in it. */
function inCell(key: Key): KeyDoes | null {
  if (key.key === ' ') return markBy(key)
  if (key.key === 'Enter' || key.key === 'F2') return { edit: undefined }
  const types = key.key.length === 1 && !key.ctrlKey && !key.metaKey && !key.altKey
  return types ? { edit: key.key } : null
}

/** What a key does; null where it does nothing here. */
export function keyDoes(key: Key, cursor: Cursor): KeyDoes | null {
  if (key.altKey && (key.key === 'ArrowDown' || key.key === 'ArrowUp'))
    return { shift: key.key === 'ArrowDown' ? 1 : -1 }
  const step = stepOf(key, cursor)
  if (step) return { go: step }
  return cursor.cells ? inCell(key) : onRow(key)
}
