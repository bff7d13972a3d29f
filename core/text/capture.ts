import type { IsoDate, LocalTime, Minutes } from '../brands.ts'
import type { Schedule } from '../recurrence/schedule.ts'
import { readMinutes } from './read.ts'
import { readDate, readTime } from './read-date.ts'
import { readEvery } from './read-every.ts'

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
  /** Fields that are set by their name: “fee: 120”; what is read is an edit, null where it is none. */
  readonly fields?: readonly {
    readonly name: string
    readonly read: (words: string) => object | null
  }[]
}

/** A piece of the line that was understood, and as what; `from` and `to` are places in the line. */
export interface Piece {
  readonly kind:
    | 'date'
    | 'time'
    | 'every'
    | 'estimate'
    | 'priority'
    | 'person'
    | 'client'
    | 'project'
    | 'tag'
    | 'field'
  readonly text: string
  readonly from: number
  readonly to: number
}
export interface Captured {
  readonly title: string
  readonly due: IsoDate | null
  readonly time: LocalTime | null
  /** How often it comes again, where the line says so: a rule of RFC 5545, or a working day. */
  readonly every: Schedule['rule'] | null
  readonly estimate: Minutes | null
  readonly priority: 'low' | 'high' | 'urgent' | null
  readonly people: readonly number[]
  readonly clientId: number | null
  readonly projectId: number | null
  readonly tags: readonly number[]
  /** What fields are set to by their names, one edit for each. */
  readonly edits: readonly object[]
  readonly pieces: readonly Piece[]
}

const PRIORITIES: ReadonlyMap<string, NonNullable<Captured['priority']>> = new Map([
  ['urgent', 'urgent'],
  ['asap', 'urgent'],
  ['high priority', 'high'],
  ['important', 'high'],
  ['low priority', 'low'],
])
/** The most words that one piece may have. */
const LONGEST = 8

const inOrder = (named: readonly [number, number][]): number[] => [
  ...new Set([...named].sort((a, b) => a[0] - b[0]).map(([, id]) => id)),
]

type Names = ReadonlyMap<string, number | null>

/** What is called what, in lower case; a name that two things share names neither. */
function byName(list: readonly Nameable[]): Names {
  const names = new Map<string, number | null>()
  for (const { id, names: all } of list)
    for (const name of new Set(all.map((n) => n.toLowerCase())))
      names.set(name, names.has(name) && names.get(name) !== id ? null : id)
  return names
}

interface Found {
  due?: IsoDate
  time?: LocalTime
  every?: Schedule['rule']
  estimate?: Minutes
  priority?: NonNullable<Captured['priority']>
  clientId?: number
  projectId?: number
  people: [from: number, id: number][]
  tags: [from: number, id: number][]
  edits: object[]
}

/** Reads pieces of a line one after the other, and keeps what they say. */
function pieceReader(vocabulary: Vocabulary, today: IsoDate) {
  const found: Found = { people: [], tags: [], edits: [] }
  const [people, clients] = [byName(vocabulary.people), byName(vocabulary.clients)]
  const [projects, tags] = [byName(vocabulary.projects), byName(vocabulary.tags)]

  /** Keeps what is read, where nothing of its kind was read before. */
  const once = <K extends Exclude<keyof Found, 'people' | 'tags' | 'edits'>>(
    key: K,
    read: () => Found[K] | null,
  ): boolean => {
    const value = found[key] === undefined ? read() : null
    if (value === null || value === undefined) return false
    found[key] = value
    return true
  }
  const each = (list: Found['people'], from: number, id: number | null | undefined): boolean =>
    id ? list.push([from, id]) > 0 : false

  /** “fee: 120”. */
  const field = (text: string): boolean => {
    const of = vocabulary.fields?.find(({ name }) =>
      text.toLowerCase().startsWith(`${name.toLowerCase()}: `),
    )
    const edit = of?.read(text.slice(of.name.length + 2)) ?? null
    return edit !== null && found.edits.push(edit) > 0
  }

  const read = (text: string, from: number): Piece['kind'] | null => {
    const bare = text.replace(/[,;]$/, '')
    const key = bare.toLowerCase()
    if (field(bare)) return 'field'
    if (once('every', () => readEvery(bare))) return 'every'
    if (once('due', () => readDate(bare, today))) return 'date'
    if (once('time', () => readTime(bare))) return 'time'
    if (once('estimate', () => readMinutes(bare))) return 'estimate'
    if (once('priority', () => PRIORITIES.get(key))) return 'priority'
    if (each(found.people, from, people.get(key.replace(/^(?:@|for )/, '')))) return 'person'
    if (once('clientId', () => clients.get(key.replace(/^for /, '')))) return 'client'
    if (once('projectId', () => projects.get(key.replace(/^in /, '')))) return 'project'
    if (key.startsWith('#') && each(found.tags, from, tags.get(key.slice(1)))) return 'tag'
    return null
  }
  return { found, read }
}

interface Word {
  readonly text: string
  readonly from: number
  readonly to: number
  /** In quotes: title, whatever it says. */
  readonly quoted: boolean
  taken: boolean
}
const wordsOf = (line: string): Word[] =>
  [...line.matchAll(/"[^"]*"|\S+/g)].map(({ 0: text, index: from }) => ({
    ...{ text, from, to: from + text.length },
    ...{ quoted: text.startsWith('"'), taken: false },
  }))

/** Reads every run of words, longer ones first; those that mean something are taken. */
function piecesOf(
  line: string,
  words: readonly Word[],
  read: (text: string, from: number) => Piece['kind'] | null,
): Piece[] {
  const pieces: Piece[] = []
  for (let length = Math.min(LONGEST, words.length); length > 0; length--)
    for (let i = 0; i + length <= words.length; i++) {
      const run = words.slice(i, i + length)
      if (run.some((word) => word.taken || word.quoted)) continue
      const [from, to] = [run[0]!.from, run.at(-1)!.to]
      const text = line.slice(from, to)
      const kind = read(text.replace(/\s+/g, ' '), from)
      if (!kind) continue
      for (const word of run) word.taken = true
      pieces.push({ kind, text, from, to })
    }
  return pieces
}

/**
 * “high” or “low” by itself is a priority only behind the title, where nothing but what was
 * understood follows it: “Ring the High Street practice” keeps its street.
 */
function bareWord(words: readonly Word[]): { priority: 'high' | 'low'; piece: Piece } | undefined {
  const at = words.findLastIndex((word) => !word.taken)
  const word = words[at]
  const key = word?.text.toLowerCase().replace(/[,;]$/, '')
  if (!word || word.quoted || at === 0 || (key !== 'high' && key !== 'low')) return undefined
  word.taken = true
  return {
    priority: key,
    piece: { kind: 'priority', text: word.text, from: word.from, to: word.to },
  }
}

/**
 * Understands a line such as "Chase statements Mossgate fri 3pm 30m urgent". Longer pieces are read
 * before shorter ones, each kind but people and tags once, the first that fits; what is left over
 * is the title. Words in quotes are always title. Pure: the vocabulary says which names there are.
 */
export function capture(line: string, vocabulary: Vocabulary, today: IsoDate): Captured {
  const words = wordsOf(line)
  const { found, read } = pieceReader(vocabulary, today)
  const pieces = piecesOf(line, words, read)
  const said = found.priority === undefined && bareWord(words)
  if (said) {
    found.priority = said.priority
    pieces.push(said.piece)
  }
  const left = words.filter((word) => !word.taken)
  const { due, time = null, every = null, estimate = null, priority = null } = found
  return {
    title: left
      .map(({ text, quoted }) => (quoted ? text.slice(1, -1) : text))
      .join(' ')
      .trim(),
    // A time without a day is today's.
    due: due ?? (time === null ? null : today),
    time,
    every,
    estimate,
    priority,
    people: inOrder(found.people),
    clientId: found.clientId ?? null,
    projectId: found.projectId ?? null,
    tags: inOrder(found.tags),
    edits: found.edits,
    pieces: pieces.sort((a, b) => a.from - b.from),
  }
}
