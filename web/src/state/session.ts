import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { answeredAt, get, post, remove } from '#web/api/client.ts'
import type { Directory, Me } from '#contract/desks.ts'
import { useLive } from './live.ts'

interface SessionAnswer {
  demo: boolean
  firm: string
  me: Me | null
}

const NOTHING: Directory = {
  people: [],
  teams: [],
  clients: [],
  projects: [],
  templates: [],
  states: [],
  tags: [],
  fields: [],
}

/** Who is signed in, and whom and what there is to choose from. */
export const useSession = defineStore('session', () => {
  const live = useLive()
  const me = ref<Me | null>(null)
  const demo = ref(false)
  const firm = ref('')
  const known = ref(false)
  const directory = ref<Directory>(NOTHING)

  /**
   * Asks who is signed in and, unless that is left out, what there is to choose from; answers the
   * mark that it was answered at.
   */
  async function read(choices = true): Promise<number> {
    const found = await get<SessionAnswer>('/session')
    const at = answeredAt(found)
    live.began(at)
    me.value = found.me
    demo.value = found.demo
    firm.value = found.firm
    known.value = true
    if (found.me && (choices || directory.value.people.length === 0))
      directory.value = await get<Directory>('/directory')
    return at
  }
  async function signIn(email: string, password: string): Promise<void> {
    me.value = await post<Me>('/session', { email, password })
    await read()
  }
  async function signInAs(who: string): Promise<void> {
    me.value = await post<Me>('/session/demo', { who })
    await read()
  }
  async function signOut(): Promise<void> {
    await remove('/session')
    me.value = null
  }
  /** Closed projects that were opened: not to choose from, but known while they are looked at. */
  const visited = ref<Directory['projects'][number][]>([])
  function visit(project: Directory['projects'][number]): void {
    if (directory.value.projects.some((p) => p.id === project.id)) return
    visited.value = [...visited.value.filter((p) => p.id !== project.id), project].slice(-50)
  }
  const active = computed(() => directory.value.people.filter((p) => p.active))
  const today = computed(() => me.value?.today ?? '')
  return {
    me,
    demo,
    firm,
    known,
    directory,
    visited,
    visit,
    active,
    today,
    read,
    signIn,
    signInAs,
    signOut,
  }
})
