/** What a browser is told by the stream of changes: what changed, never what it changed to. */
export interface LiveChange {
  /** How far the telling has come with it: an answer of that mark or a later one holds it. */
  readonly at: number
  readonly tasks: readonly number[]
  /** Everything that changed of these tasks, by the fields' names; null: more than fields. */
  readonly fields: readonly string[] | null
  /** Who is, or was until now, on any of these tasks; left out for guests. */
  readonly on: readonly number[]
  readonly projects: readonly number[]
  /** The tables whose rows changed; `all`: too much to tell. */
  readonly entities: readonly string[]
  /** Milliseconds over which all who ask again spread their questions. */
  readonly spread: number
}
/** What a stream begins with. */
export type LiveHello = Pick<LiveChange, 'at'>

/** How far a large change of one's own has come. */
export interface LiveProgress {
  readonly done: number
  readonly of: number
}
