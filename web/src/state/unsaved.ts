import { useEventListener } from '@vueuse/core'
import type { Ref } from 'vue'
import { onBeforeRouteLeave, onBeforeRouteUpdate } from 'vue-router'

/**
 * Asks before what was typed is left behind: on another page, another item of the same page, or a
 * closed tab. Answers the question, for whatever else leads away: true to go on.
 */
export function useUnsaved(dirty: Readonly<Ref<boolean>>, what: string): () => boolean {
  const leave = () =>
    !dirty.value || window.confirm(`${what} has changes that are not saved. Leave them?`)
  onBeforeRouteLeave(leave)
  onBeforeRouteUpdate((to, from) => to.path === from.path || leave())
  useEventListener(window, 'beforeunload', (event) => {
    if (dirty.value) event.preventDefault()
  })
  return leave
}
