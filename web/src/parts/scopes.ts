import type { Scope } from '#contract/words.ts'

/** What the scopes of a token let a program do, as it is said. */
export const SCOPE_NAMES: Readonly<Record<Scope, string>> = {
  read: 'reads what I see',
  write: 'changes work',
  manage: 'does what managers do',
}
