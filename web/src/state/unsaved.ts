import { useEventListener } from '@vueuse/core'
import type { Ref } from 'vue'
import { useSession } from './session.ts'
import { onBeforeRouteLeave, onBeforeRouteUpdate } from 'vue-router'

/**
 * Asks before what was typed is left behind: on another page, another item of the same page, or a
 * closed tab. Answers the question, for whatever else leads away: true to go on. `dropped` hears
 * that they were left on purpose.
 */
export function useUnsaved(
  dirty: Readonly<Ref<boolean>>,
  what: string,
  dropped: () => void = () => undefined,
): () => boolean {
  const session = useSession()
  function leave(): boolean {
    // A session that ended asks nothing: what was written is kept for when it begins again.
    if (!dirty.value || !session.me) return true
    const left = window.confirm(`${what} has changes that are not saved. Leave them?`)
    if (left) dropped()
    return left
  }
  onBeforeRouteLeave(leave)
  onBeforeRouteUpdate((to, from) => to.path === from.path || leave())
  useEventListener(window, 'beforeunload', (event) => {
    if (dirty.value) event.preventDefault()
  })
  return leave
}
