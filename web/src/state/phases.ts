import { defineStore } from 'pinia'
import { ref } from 'vue'
import type { PhaseChoice } from '#contract/projects.ts'
import { get } from '#web/api/client.ts'
import { isEverything, onChange } from './live.ts'

/** Phases to choose from, asked for when something wants them: of one project, or of all that run. */
export const usePhases = defineStore('phases', () => {
  const known = ref<readonly PhaseChoice[]>([])
  const wanted = new Set<number | null>()

  async function ask(project: number | null): Promise<void> {
    const found = await get<PhaseChoice[]>(
      project === null ? '/phases' : `/phases?project=${project}`,
    )
    const others =
      project === null
        ? known.value.filter((p) => !found.some((f) => f.projectId === p.projectId))
        : known.value.filter((p) => p.projectId !== project)
    known.value = [...others, ...found]
  }
  /** Makes sure that the phases of a project (null: of all that run) are known. */
  function want(project: number | null): void {
    if (wanted.has(project)) return
    wanted.add(project)
    // What could not be had is asked for again the next time.
    ask(project).catch(() => wanted.delete(project))
  }
  onChange((change) => {
    if (!change.entities.includes('phases') && !isEverything(change)) return
    for (const project of wanted)
      if (project === null || change.projects.includes(project)) void ask(project).catch(() => {})
  })
  return { known, want }
})
