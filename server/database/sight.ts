import type { PersonId } from '#core/brands.ts'

const seen = Symbol('sight')

/**
 * What somebody may see of tasks, projects and what hangs on them. Questions over items ask for one,
 * and only `sight` makes one: who forgets it writes what does not compile.
 */
export interface Sight {
  readonly [seen]: true
  /** Sees everything; otherwise only what `me` is on. */
  readonly all: boolean
  readonly me: PersonId
}

export const sight = (all: boolean, me: PersonId): Sight => ({ [seen]: true, all, me })
