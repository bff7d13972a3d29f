import type { Kept } from '../database/backup.ts'
import type { Answer } from '../http/answer.ts'
import type { Call } from '../http/calls.ts'

/** What a thread is started with. */
export interface ThreadData {
  /** The firm's folder: its database is read, never written. */
  readonly data: string
}

/** What a thread is asked to do; routes are named, everything else comes along. */
export type Job =
  | { readonly kind: 'answer'; readonly route: string; readonly call: Call; readonly now: number }
  | { readonly kind: 'check'; readonly route: string; readonly text: string }
  | { readonly kind: 'copy'; readonly to: string }
  | { readonly kind: 'derive'; readonly password: string; readonly hash: HashOf }

/** A key derived from a password by scrypt (RFC 7914): `n` its cost, `length` in bytes. */
export interface HashOf {
  readonly salt: Uint8Array
  readonly n: number
  readonly length: number
}

/** What each kind of job comes to. */
export interface Outcomes {
  readonly answer: Answer
  readonly check: Answer | null
  readonly copy: Kept
  readonly derive: Uint8Array
}
