import type { IsoDate, LocalTime, Minutes } from '../brands.ts'
import { readDate, readMinutes, readTime } from './read.ts'

/** Something that a line may name; `names` are what people call it. */
export interface Nameable {
  readonly id: number
  readonly names: readonly string[]
}
export interface Vocabulary {
  readonly people: readonly Nameable[]
  readonly clients: readonly Nameable[]
  readonly projects: readonly Nameable[]
  readonly tags: readonly Nameable[]
}

/** A piece of the line that was understood, and as what; `from` and `to` are places in the line. */
export interface Piece {
  readonly kind: 'date' | 'time' | 'estimate' | 'priority' | 'person' | 'client' | 'project' | 'tag'
  readonly text: string
  readonly from: number
  readonly to: number
}
export interface Captured {
  readonly title: string
  readonly due: IsoDate | null
  readonly time: LocalTime | null
  readonly estimate: Minutes | null
  readonly priority: 'low' | 'high' | 'urgent' | null
  readonly people: readonly number[]
  readonly clientId: number | null
  readonly projectId: number | null
  readonly tags: readonly number[]
  readonly pieces: readonly Piece[]
}

const PRIORITIES: Readonly<Record<string, Captured['priority']>> = {
  urgent: 'urgent',
  asap: 'urgent',
  'high priority': 'high',
  important: 'high',
  'low priority': 'low',
}
/** The most words that one piece may have. */
const LONGEST = 6

const inOrder = (named: readonly [number, number][]): number[] => [
  ...new Set([...named].sort((a, b) => a[0] - b[0]).map(([, id]) => id)),
]

/**
 * Understands a line such as "Chase statements Mossgate fri 3pm 30m urgent". Longer pieces are read
 * before shorter ones, each kind but people and tags once, the first that fits; what is left over
 * is the title. Words in quotes are always title. Pure: the vocabulary says which names there are.
 */
export function capture(line: string, vocabulary: Vocabulary, today: IsoDate): Captured {
  const words = [...line.matchAll(/"[^"]*"|\S+/g)].map((m) => ({
    text: m[0],
    from: m.index,
    to: m.index + m[0].length,
    taken: m[0].startsWith('"'),
  }))
  const quoted = new Set(words.filter((w) => w.taken))
  const pieces: Piece[] = []
  const found: { -readonly [K in keyof Captured]?: Captured[K] } = {}
  const people: [from: number, id: number][] = []
  const tags: [from: number, id: number][] = []
  const byName = (list: readonly Nameable[]) => {
    const names = new Map<string, number | null>()
    // A name that two things share names neither.
    for (const { id, names: all } of list)
      for (const name of new Set(all.map((n) => n.toLowerCase())))
        names.set(name, names.has(name) && names.get(name) !== id ? null : id)
    return names
  }
  const [persons, clients, projects, tagNames] = [
    vocabulary.people,
    vocabulary.clients,
    vocabulary.projects,
    vocabulary.tags,
  ].map(byName) as [
    Map<string, number | null>,
    Map<string, number | null>,
    Map<string, number | null>,
    Map<string, number | null>,
  ]

  const read = (text: string, from: number): Piece['kind'] | null => {
    const bare = text.replace(/[,;]$/, '')
    const key = bare.toLowerCase()
    if (found.due === undefined) {
      const due = readDate(bare, today)
      if (due !== null) return ((found.due = due), 'date')
    }
    if (found.time === undefined) {
      const time = readTime(bare)
      if (time !== null) return ((found.time = time), 'time')
    }
    if (found.estimate === undefined) {
      const estimate = readMinutes(bare)
      if (estimate !== null) return ((found.estimate = estimate), 'estimate')
    }
    if (found.priority === undefined && Object.hasOwn(PRIORITIES, key))
      return ((found.priority = PRIORITIES[key]!), 'priority')
    const person = persons.get(key.replace(/^(?:@|for )/, ''))
    if (person) return (people.push([from, person]), 'person')
    if (found.clientId === undefined) {
      const client = clients.get(key.replace(/^for /, ''))
      if (client) return ((found.clientId = client), 'client')
    }
    if (found.projectId === undefined) {
      const project = projects.get(key.replace(/^in /, ''))
      if (project) return ((found.projectId = project), 'project')
    }
    const tag = tagNames.get(key.replace(/^#/, ''))
    if (tag && key.startsWith('#')) return (tags.push([from, tag]), 'tag')
    return null
  }
  for (let length = Math.min(LONGEST, words.length); length > 0; length--)
    for (let i = 0; i + length <= words.length; i++) {
      const run = words.slice(i, i + length)
      if (run.some((w) => w.taken)) continue
      const [from, to] = [run[0]!.from, run.at(-1)!.to]
      const kind = read(line.slice(from, to).replace(/\s+/g, ' '), from)
      if (!kind) continue
      for (const word of run) word.taken = true
      pieces.push({ kind, text: line.slice(from, to), from, to })
    }
  const title = words
    .filter((w) => !w.taken || quoted.has(w))
    .map((w) => (quoted.has(w) ? w.text.slice(1, -1) : w.text))
    .join(' ')
    .trim()
  const time = found.time ?? null
  return {
    title,
    // A time without a day is today's.
    due: found.due ?? (time === null ? null : today),
    time,
    estimate: found.estimate ?? null,
    priority: found.priority ?? null,
    people: inOrder(people),
    clientId: found.clientId ?? null,
    projectId: found.projectId ?? null,
    tags: inOrder(tags),
    pieces: pieces.sort((a, b) => a.from - b.from),
  }
}
