import { watch } from 'vue'
import type { ProjectPatch, ProjectSheet } from '#contract/projects.ts'
import { patch } from '#web/api/client.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'

/** What is done to a project: said with a step back, or why it was not done; `changed` hears of it. */
export function useProjectEdits(project: () => ProjectSheet, changed: () => void) {
  const messages = useMessages()
  const { attempt } = useAttempt()
  const home = () => `/projects/${project().id}`
  /** Does something; answers whether it was done. */
  const run = (work: () => Promise<unknown>, said: string): Promise<boolean> =>
    attempt(async () => {
      messages.did(said, await work())
      changed()
    })
  /** Edits go one after the other: each starts from the version that the one before it made. */
  let turn: Promise<unknown> = Promise.resolve()
  let version = 0
  watch(
    () => project().version,
    (now) => (version = now),
    { immediate: true },
  )
  function edit(change: ProjectPatch, said: string): Promise<boolean> {
    const done = turn.then(() =>
      run(async () => {
        const saved = await patch<ProjectSheet>(home(), change, { seen: version })
        version = saved.version
        return saved
      }, said),
    )
    turn = done
    return done
  }
  return { home, run, edit }
}
