import { MOST_TOGETHER } from '#contract/headers.ts'

/** An answer of the API as far as it says something: a body that is no JSON is null. */
export interface Said {
  readonly status: number
  /** The mark that it was given at. */
  readonly at: number
  readonly body: unknown
}
type AskAlone = (path: string, signal?: AbortSignal) => Promise<Said>

interface Waiting {
  readonly path: string
  readonly signal: AbortSignal | undefined
  readonly answered: (said: Promise<Said>) => void
}
/** Longer questions are asked alone, and no address is longer than this: servers take 16 kB. */
const LONGEST = 6_000
const partOf = ({ path }: Waiting): string => `of=${encodeURIComponent(path)}`

let gathering: Waiting[] | null = null
/** Whatever is asked while `questions` runs goes in as few requests as can be. */
export function inOneRequest(questions: () => void): void {
  if (gathering) return questions()
  const gathered: Waiting[] = []
  gathering = gathered
  try {
    questions()
  } finally {
    gathering = null
    sendAll(gathered)
  }
}

let alone: AskAlone
/** As few requests as can be, none of them too long. */
function sendAll(gathered: readonly Waiting[]): void {
  let some: Waiting[] = []
  let length = 0
  for (const each of gathered) {
    const more = partOf(each).length
    if (some.length === MOST_TOGETHER || length + more > LONGEST) {
      sendSome(some)
      some = []
      length = 0
    }
    some.push(each)
    length += more
  }
  sendSome(some)
}
function sendSome(some: readonly Waiting[]): void {
  const [first] = some
  if (!first) return
  if (some.length === 1) return first.answered(alone(first.path, first.signal))
  const all = alone(`/together?${some.map(partOf).join('&')}`)
  some.forEach(({ answered }, i) => {
    // What fails as a whole fails for each.
    answered(all.then((said) => (said.status === 200 ? (said.body as Said[])[i]! : said)))
  })
}

/**
 * Asks one question: with others, where it is one of several asked in one breath, or by itself.
 * Who does not wait for the answer any more ends its signal.
 */
export function ask(path: string, by: AskAlone, signal?: AbortSignal): Promise<Said> {
  alone = by
  if (!gathering) return by(path, signal)
  const gathered = gathering
  const answer = new Promise<Said>((answered) => gathered.push({ path, signal, answered }))
  if (!signal) return answer
  // The others of the request are still waited for.
  const ended = new Promise<never>((_, end) =>
    signal.addEventListener('abort', () => end(signal.reason), { once: true }),
  )
  return Promise.race([answer, ended])
}
