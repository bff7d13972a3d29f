import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import type { SavedView } from '#contract/query.ts'
import { get } from '#web/api/client.ts'
import { useLive } from './live.ts'

/** Views that one saved or may open. */
export const useViews = defineStore('views', () => {
  const all = ref<SavedView[]>([])
  const known = ref(false)
  async function read(): Promise<void> {
    all.value = await get<SavedView[]>('/views')
    known.value = true
  }
  useLive().subscribe((change) => {
    if (known.value && change.entities.some((e) => e === 'views' || e === 'all'))
      void read().catch(() => undefined)
  })
  return {
    all,
    known,
    read,
    pinned: computed(() => all.value.filter((v) => v.pinned)),
    one: (id: number) => all.value.find((v) => v.id === id) ?? null,
  }
})
