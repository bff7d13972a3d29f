import { computed, ref, type ComputedRef } from 'vue'
import type { LiveChange } from '#contract/live.ts'
import type { PhaseChoice } from '#contract/projects.ts'
import type { Scope } from '#contract/query.ts'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'
import type { Known } from './known.ts'

/** Phases to choose from: of a project, or (null) of all that run; none are asked for undefined. */
function usePhases(project: () => number | null | undefined) {
  const path = () => {
    const id = project()
    if (id === undefined) return null
    return id === null ? '/phases' : `/phases?project=${id}`
  }
  const touches = ({ entities, projects }: LiveChange) => {
    const id = project()
    return entities.includes('phases') && (typeof id !== 'number' || projects.includes(id))
  }
  return useResource<PhaseChoice[]>(path, touches, { keep: true }).data
}

/** Phases of the scope's own project, and more of them. */
function usePhasesOf(scope: () => Scope, more: () => number | null | undefined) {
  const own = usePhases(() => {
    const of = scope()
    return of.of === 'project' ? of.id : undefined
  })
  const others = usePhases(more)
  return computed(() => {
    const mine = own.value ?? []
    const here = new Set(mine.map((phase) => phase.id))
    return [...mine, ...(others.value ?? []).filter((phase) => !here.has(phase.id))]
  })
}

/**
 * What views of a scope know of the firm; without a scope what is known of it anywhere, no phases
 * among it. `phases` says which are to be chosen from beside those of the scope's own project: of a
 * project, or (null) of all that run; nothing where none are.
 */
export function useKnown(
  scope?: () => Scope,
  phases: () => number | null | undefined = () => undefined,
): ComputedRef<Known> {
  const session = useSession()
  const choices = scope ? usePhasesOf(scope, phases) : ref([])
  return computed(() => ({
    directory: session.directory,
    projects: [...session.directory.projects, ...session.visited],
    phases: choices.value,
    ...session.saying,
    scope: scope?.() ?? { of: 'firm' },
    member: session.me?.may.member ?? false,
  }))
}
