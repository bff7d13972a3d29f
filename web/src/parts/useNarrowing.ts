import { useRoute, useRouter } from 'vue-router'

/** What a page is narrowed to, as its address keeps it. */
export function useNarrowing() {
  const route = useRoute()
  const router = useRouter()
  /** What stands in the address under a name; empty where nothing does. */
  const text = (name: string): string => {
    const value = route.query[name]
    return typeof value === 'string' ? value : ''
  }
  const number = (name: string): number | '' => Number(text(name)) || ''
  /** Narrows to something, or no more where it is empty. */
  const narrow = (name: string, to: unknown) =>
    router.replace({ query: { ...route.query, [name]: to ? String(to) : undefined } })
  return { text, number, narrow }
}
