import { computed, watchEffect, type ComputedRef } from 'vue'
import type { Scope } from '#contract/query.ts'
import { usePhases } from '#web/state/phases.ts'
import { useSession } from '#web/state/session.ts'
import type { Known } from './known.ts'

/**
 * What views of a scope know of the firm. `phases` says which are to be chosen from beside those of
 * the scope's own project: of a project, or (null) of all that run; nothing where none are.
 */
export function useKnown(
  scope: () => Scope,
  phases: () => number | null | undefined = () => undefined,
): ComputedRef<Known> {
  const session = useSession()
  const choices = usePhases()
  watchEffect(() => {
    const of = scope()
    if (of.of === 'project') choices.want(of.id)
    const more = phases()
    if (more !== undefined) choices.want(more)
  })
  return computed(() => ({
    directory: session.directory,
    projects: [...session.directory.projects, ...session.visited],
    phases: choices.known,
    today: session.today,
    zone: session.me?.zone ?? 'UTC',
    scope: scope(),
    member: session.me?.may.member ?? false,
  }))
}
