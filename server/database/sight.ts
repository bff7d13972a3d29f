import type { PersonId } from '#core/brands.ts'

const seen = Symbol('sight')

/**
 * What somebody may see of tasks, projects and what hangs on them. Questions over items ask for one,
 * and only `sight` makes one: who forgets it writes what does not compile.
 */
export interface Sight {
  readonly [seen]: true
  /** Sees everything; otherwise what the firm shows `me`. */
  readonly all: boolean
  /** Of the firm, not a guest of it: sees what is for everybody inside. */
  readonly inside: boolean
  readonly me: PersonId
}

export const sight = (of: Pick<Sight, 'all' | 'inside' | 'me'>): Sight => ({ [seen]: true, ...of })
