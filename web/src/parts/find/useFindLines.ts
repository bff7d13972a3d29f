import { computed, type Ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Found, FoundTask } from '#contract/find.ts'
import { sayDate } from '#web/parts/say.ts'
import { useFindBox } from '#web/state/findBox.ts'
import { useSelection } from '#web/state/selection.ts'
import { useSession } from '#web/state/session.ts'
import { useDeedLines } from './useDeedLines.ts'
import { useNoteLines } from './useNoteLines.ts'

/** One thing the box offers: what it is called, what is said of it, and what taking it does. */
export interface Line {
  readonly key: string
  readonly name: string
  readonly more: string
  readonly run: () => unknown
  readonly task?: FoundTask
}
export interface Section {
  readonly name: string
  readonly lines: readonly Line[]
}

/** Whether a name has every word in it. */
export const fits = (name: string, words: string): boolean =>
  words
    .trim()
    .toLowerCase()
    .split(/\s+/)
    .every((word) => name.toLowerCase().includes(word))

const PATHS: Readonly<Record<Exclude<Found['kind'], 'task'>, string>> = {
  project: '/work/',
  client: '/work/client/',
  tag: '/work/tag/',
  person: '/work/person/',
  view: '/work/view/',
  template: '/clockwork/templates/',
  series: '/clockwork/series/',
  rule: '/clockwork/rules/',
}
const PAGES: readonly [name: string, to: string][] = [
  ['Today', '/today'],
  ['Projects', '/work'],
  ['All work', '/work/all'],
  ['Bring in tasks', '/work/bring-in'],
  ['Journal', '/work/journal'],
  ['Set up: states, fields, tags', '/work/set-up'],
  ['Notices', '/notices'],
  ['Keys', '/keys'],
]
const MEMBERS_PAGES: typeof PAGES = [
  ['Templates', '/clockwork/templates'],
  ['Series', '/clockwork/series'],
  ['Rules', '/clockwork/rules'],
  ['Run log', '/clockwork/log'],
]

/** What was found, and where one can go. */
function useWays(text: Readonly<Ref<string>>, found: Readonly<Ref<readonly Found[]>>) {
  const session = useSession()
  const router = useRouter()
  const route = useRoute()
  const go = (to: string) => () => router.push(to)
  const openTask = (id: number) => () =>
    router.push(
      /^\/(today|work)/.test(route.path)
        ? { path: route.path, query: { ...route.query, task: String(id) } }
        : { path: '/today', query: { task: String(id) } },
    )
  const taskLine = (task: FoundTask, excerpt: string | null): Line => {
    const { id, title: name, client, due } = task
    const more = [`#${id}`, client, due ? sayDate(due, session.today) : '', excerpt]
    return { key: `t${id}`, name, more: more.filter(Boolean).join(' · '), run: openTask(id), task }
  }
  const hits = computed(() =>
    found.value.flatMap((f) => (f.kind === 'task' ? [taskLine(f.task, f.excerpt)] : [])),
  )
  const others = computed(() =>
    found.value.flatMap((f): Line[] => {
      if (f.kind === 'task') return []
      const { kind, id, name } = f
      return [{ key: `${kind}${id}`, name, more: kind, run: go(`${PATHS[kind]}${id}`) }]
    }),
  )
  const pages = computed((): Line[] => {
    const all = [...PAGES, ...(session.me?.may.member ? MEMBERS_PAGES : [])]
    const lines = all.map(([name, to]) => ({ key: to, name, more: 'go there', run: go(to) }))
    return text.value.trim() ? lines.filter((l) => fits(l.name, text.value)) : lines.slice(0, 4)
  })
  return computed((): Section[] => [
    { name: 'Tasks', lines: hits.value },
    { name: 'Elsewhere', lines: others.value },
    { name: 'Go to', lines: pages.value },
  ])
}

/** Everything the box offers for what is typed, in sections; none of them is empty. */
export function useFindLines(text: Readonly<Ref<string>>, found: Readonly<Ref<readonly Found[]>>) {
  const box = useFindBox()
  const selection = useSelection()
  const ways = useWays(text, found)
  const deeds = useDeedLines(text)
  const notes = useNoteLines(text)
  const sections = computed((): Section[] => {
    const deed = { name: 'Do', lines: deeds.value }
    // With tasks marked, doing something with them comes first.
    const ordered = selection.count ? [deed, ...ways.value] : [...ways.value, deed]
    return [
      ...(box.noting ? [{ name: 'Note it', lines: notes.value }] : []),
      ...ordered,
      ...(box.noting ? [] : [{ name: 'Note it as a task', lines: notes.value }]),
    ].filter((section) => section.lines.length)
  })
  return { sections, lines: computed(() => sections.value.flatMap((section) => section.lines)) }
}
