import type { Group } from '../conditions/condition.ts'

/** What a rule does, in its order: actions, and branches of them under conditions of their own. */

/** Actions that are done only where conditions of their own hold, and what is done otherwise. */
export interface Branch<A> {
  readonly kind: 'branch'
  readonly conditions: Group
  readonly actions: readonly A[]
  readonly otherwise: readonly A[]
}
export type Deed<A> = A | Branch<A>
interface Kinded {
  readonly kind: string
}
export const isBranch = <A extends Kinded>(deed: Deed<A>): deed is Branch<A> =>
  deed.kind === 'branch'

/** An action in its place: the how-manieth it is, and on which side of which branch it stands. */
export interface Placed<A> {
  readonly nth: number
  readonly action: A
  readonly within: {
    /** The how-manieth deed its branch is. */
    readonly branch: number
    readonly conditions: Group
    /** It is done where they hold; where not, it is what is done otherwise. */
    readonly where: boolean
  } | null
}

/**
 * All actions one after the other, numbered from 0. A number says which action is meant whatever
 * holds: a run that waits goes on after it.
 */
export function programOf<A extends Kinded>(deeds: readonly Deed<A>[]): Placed<A>[] {
  const all: Placed<A>[] = []
  const put = (actions: readonly A[], within: Placed<A>['within']) => {
    for (const action of actions) all.push({ nth: all.length, action, within })
  }
  deeds.forEach((deed, branch) => {
    if (!isBranch(deed)) return put([deed], null)
    const { conditions, actions, otherwise } = deed
    put(actions, { branch, conditions, where: true })
    put(otherwise, { branch, conditions, where: false })
  })
  return all
}

/** All actions, whether or not they stand in a branch. */
export const actionsIn = <A extends Kinded>(deeds: readonly Deed<A>[]): A[] =>
  programOf(deeds).map(({ action }) => action)

/** The same deeds with every action made another. */
export const mapActions = <A extends Kinded>(
  deeds: readonly Deed<A>[],
  make: (action: A) => A,
): Deed<A>[] =>
  deeds.map((deed) =>
    isBranch(deed)
      ? { ...deed, actions: deed.actions.map(make), otherwise: deed.otherwise.map(make) }
      : make(deed),
  )
