import { watch } from 'vue'
import { useRoute } from 'vue-router'

/** Names what a page shows in the title of the window, where it is more than the page’s own name. */
export function useTitle(name: () => string | null | undefined): void {
  const route = useRoute()
  watch(
    [name, () => route.fullPath],
    () => {
      const said = name()
      if (said) document.title = `${said} · Fernwick`
    },
    { immediate: true, flush: 'post' },
  )
}
