import { defineStore } from 'pinia'
import { computed, ref, type Ref } from 'vue'
import { sayMoment, type Saying } from '#core/fields/say.ts'
import { answeredAt, get, post, remove } from '#web/api/client.ts'
import type { Directory, Me } from '#contract/desks.ts'
import { useLive } from './live.ts'

interface SessionAnswer {
  begun: boolean
  demo: boolean
  firm: string
  /** Whether a forgotten password can be set anew by mail. */
  mayForget: boolean
  me: Me | null
}

const NOTHING: Directory = {
  people: [],
  teams: [],
  clients: [],
  projects: [],
  templates: [],
  series: [],
  clientStates: [],
  states: [],
  tags: [],
  fields: [],
}

type ProjectChoice = Directory['projects'][number]
/** Closed projects that were opened: not to choose from, but known while they are looked at. */
function visitedProjects(directory: Readonly<Ref<Directory>>) {
  const visited = ref<ProjectChoice[]>([])
  function visit(project: ProjectChoice): void {
    if (directory.value.projects.some((p) => p.id === project.id)) return
    visited.value = [...visited.value.filter((p) => p.id !== project.id), project].slice(-50)
  }
  return { visited, visit }
}

/** Who is here, and whose photo is which. */
const peopleIn = (directory: Readonly<Ref<Directory>>) => ({
  active: computed(() => directory.value.people.filter((p) => p.active)),
  photos: computed(
    () => new Map(directory.value.people.flatMap((p) => (p.photo ? [[p.id, p.photo]] : []))),
  ),
})

/** What day it is, and how the firm writes times. */
function useSaying(me: Readonly<Ref<Me | null>>) {
  const today = computed(() => me.value?.today ?? '')
  const saying = computed((): Saying => ({
    today: today.value,
    zone: me.value?.zone ?? 'UTC',
    clock: me.value?.dates.clock ?? 24,
  }))
  /** A moment as people say it: "10:42" today, "Wed 18 Nov, 10:42". */
  const sayAt = (at: number): string => sayMoment(at, saying.value)
  return { today, saying, sayAt }
}

/** Who is signed in, and whom and what there is to choose from. */
export const useSession = defineStore('session', () => {
  const live = useLive()
  const me = ref<Me | null>(null)
  const demo = ref(false)
  const firm = ref('')
  /** Whether there is a firm here at all. */
  const begun = ref(true)
  const mayForget = ref(false)
  const known = ref(false)
  const directory = ref<Directory>(NOTHING)

  /** Asks who is signed in, and what there is to choose from. */
  async function read(): Promise<void> {
    const found = await get<SessionAnswer>('/session')
    live.began(answeredAt(found))
    me.value = found.me
    demo.value = found.demo
    firm.value = found.firm
    ;[begun.value, mayForget.value] = [found.begun, found.mayForget]
    known.value = true
    if (found.me && !found.me.lacksCode) directory.value = await get<Directory>('/directory')
  }
  /**
   * Asks again about whoever is signed in, and, where that may have changed, about what there is to
   * choose from; answers the mark that it was answered at.
   */
  async function refresh(choices: boolean): Promise<number> {
    const [found, more] = await Promise.all([
      get<Me>('/me'),
      choices && !me.value?.lacksCode ? get<Directory>('/directory') : null,
    ])
    me.value = found
    if (more) directory.value = more
    return answeredAt(found)
  }
  async function enter(path: string, body: object): Promise<void> {
    me.value = await post<Me>(path, body)
    await read()
  }
  const signIn = (email: string, password: string, code: string) =>
    enter('/session', { email, password, ...(code && { code }) })
  const signInAs = (who: string) => enter('/session/demo', { who })
  const signOut = () => remove('/session').then(() => void (me.value = null))
  const { visited, visit } = visitedProjects(directory)
  const { active, photos } = peopleIn(directory)
  const { today, saying, sayAt } = useSaying(me)
  return {
    me,
    demo,
    firm,
    begun,
    mayForget,
    ...{ known, directory, visited, visit },
    active,
    photos,
    today,
    saying,
    sayAt,
    read,
    refresh,
    signIn,
    signInAs,
    signOut,
  }
})
