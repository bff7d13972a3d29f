/** What changes can be looked for by: what they were about. */
export const JOURNAL_KINDS = ['work', 'talk', 'projects', 'clockwork', 'set-up'] as const
export type JournalKind = (typeof JOURNAL_KINDS)[number]

/** One change of the journal as people read it. */
export interface ChangeRow {
  readonly change: number
  readonly at: number
  readonly who: string
  readonly automatic: boolean
  /** How many tasks it touched. */
  readonly tasks: number
  /** Its first few steps, in words. */
  readonly lines: readonly string[]
  /** The change it took back, if it was an undo. */
  readonly undoes: number | null
  readonly undone: boolean
  readonly mayUndo: boolean
}

/** What taking a change back did: the change that did so, and what it left, in sentences. */
export interface Undone {
  readonly change: number
  readonly count: number
  readonly left: readonly string[]
}
