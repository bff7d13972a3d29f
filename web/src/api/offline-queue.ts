import { ref } from 'vue'
import type { Problem } from '#contract/common.ts'
import { PERSON_HEADER } from '#contract/headers.ts'

/** A change that waits for the connection, or for whoever made it to sign in again. */
export interface QueuedChange {
  readonly method: string
  readonly path: string
  readonly headers: Record<string, string>
  readonly body: string | null
}

/**
 * What waits lies in this browser, each change under a key of its own that begins with whoever made
 * it and goes by when: tabs share it, and none writes over another's.
 */
const PLACE = 'fernwick.kept/'
const RETRY_MS = 2_000

/** How many changes of whoever is signed in wait to be sent. */
export const waiting = ref(0)

type Store = Pick<Storage, 'getItem' | 'setItem' | 'removeItem'> & { keys(): string[] }
const kept = new Map<string, string>()
/** Without a browser's own storage the queue lives as long as the page. */
const IN_MEMORY: Store = {
  getItem: (key) => kept.get(key) ?? null,
  setItem: (key, value) => void kept.set(key, value),
  removeItem: (key) => void kept.delete(key),
  keys: () => [...kept.keys()],
}
function storeOf(): Store {
  try {
    const { localStorage: own } = globalThis
    own.setItem(`${PLACE}?`, '')
    own.removeItem(`${PLACE}?`)
    const keys = () => Array.from({ length: own.length }, (_, i) => own.key(i) ?? '')
    return {
      getItem: (key) => own.getItem(key),
      setItem: (key, value) => own.setItem(key, value),
      removeItem: (key) => own.removeItem(key),
      keys,
    }
  } catch {
    return IN_MEMORY
  }
}
const store = storeOf()

let person: number | null = null
let failed: (detail: string) => void = () => {}
/** Who waits on this page for the answer to a change. */
const answers = new Map<string, (response: Response) => void>()

/** What waits for whoever is signed in, oldest first. */
const waitingKeys = (): string[] =>
  person === null
    ? []
    : store
        .keys()
        .filter((key) => key.startsWith(`${PLACE}${person}/`))
        .sort()
const count = (): void => void (waiting.value = waitingKeys().length)

let made = 0
const tab = crypto.randomUUID()
function keep(change: QueuedChange): string {
  const order = `${String(Date.now()).padStart(15, '0')}-${String(++made).padStart(6, '0')}`
  const key = `${PLACE}${person}/${order}-${tab}`
  store.setItem(key, JSON.stringify(change))
  count()
  return key
}

/** Sends a change in the name of whoever made it: the server takes it from nobody else. */
const send = ({ method, path, headers, body }: QueuedChange, signal?: AbortSignal) =>
  fetch(path, {
    method,
    headers: { ...headers, ...(person !== null && { [PERSON_HEADER]: String(person) }) },
    ...(body !== null && { body }),
    ...(signal && { signal }),
  })
const pause = (ms: number) => new Promise<void>((done) => setTimeout(done, ms))

async function problemOf(response: Response): Promise<Partial<Problem>> {
  if (response.ok) return {}
  return (await response
    .clone()
    .json()
    .catch(() => ({}))) as Partial<Problem>
}
/** Whoever made it is not signed in any more: it waits for them. */
const waitsForThem = async (response: Response): Promise<boolean> => {
  const { code } = await problemOf(response)
  return code === 'not-signed-in' || code === 'other-person'
}

/** What other tabs are told of a change of theirs that this one sent. */
interface Told {
  readonly key: string
  readonly status: number
  readonly headers: [string, string][]
  readonly text: string
}
const others = 'BroadcastChannel' in globalThis ? new BroadcastChannel('fernwick.kept') : null
others?.addEventListener('message', ({ data }: MessageEvent<Told>) => {
  count()
  const { key, status, headers, text } = data
  settle(key, new Response(status === 204 ? null : text, { status, headers }))
})
/** Answers whoever waits for a change on this page; says whether somebody did. */
function settle(key: string, response: Response): boolean {
  const answer = answers.get(key)
  answers.delete(key)
  answer?.(response)
  return answer !== undefined
}
async function tell(key: string, response: Response): Promise<void> {
  const copy = response.clone()
  if (settle(key, response)) return
  const told: Told = {
    ...{ key, status: copy.status, headers: [...copy.headers] },
    text: await copy.text(),
  }
  others?.postMessage(told)
  if (copy.ok) return
  const { detail } = await problemOf(new Response(told.text, { status: copy.status }))
  failed(detail ?? 'A change from before could not be saved.')
}

/** Sends the oldest; answers whether there may be more to send. */
async function sendOldest(): Promise<boolean> {
  const [key] = waitingKeys()
  if (key === undefined) return false
  try {
    const response = await send(JSON.parse(store.getItem(key) ?? '') as QueuedChange)
    if (await waitsForThem(response)) {
      settle(key, response)
      return false
    }
    store.removeItem(key)
    count()
    await tell(key, response)
  } catch (error) {
    // What cannot be read is no change.
    if (error instanceof SyntaxError) store.removeItem(key)
    else await pause(RETRY_MS)
  }
  return true
}

let sending = false
/** Something came while it was being sent: it is looked for once more. */
let wanted = false
/** Sends what waits, oldest first, until nothing does; of all tabs one does it. */
async function drain(): Promise<void> {
  wanted = true
  if (sending) return
  sending = true
  const all = async () => {
    while (await sendOldest());
  }
  // Browsers have locks where the line is secure; where it is not, a creation's own key keeps it
  // from being made twice.
  const locks = 'navigator' in globalThis && 'locks' in navigator ? navigator.locks : null
  try {
    while (wanted) {
      wanted = false
      await (locks ? locks.request('fernwick.kept', all) : all())
    }
  } finally {
    sending = false
    count()
  }
}

/**
 * Sends a change now, or, without a connection, after those that already wait. Whose session is over
 * has it sent when they are back.
 * @throws what its signal says, once it is stopped while it is sent; TypeError without a connection
 *   where nobody is signed in
 */
export async function sendOrQueue(change: QueuedChange, signal?: AbortSignal): Promise<Response> {
  if (waitingKeys().length === 0) {
    try {
      const response = await send(change, signal)
      if (person !== null && (await waitsForThem(response))) keep(change)
      return response
    } catch (error) {
      signal?.throwIfAborted()
      if (person === null) throw error
      // No connection: it waits below.
    }
  }
  return new Promise((sent) => {
    answers.set(keep(change), sent)
    void drain()
  })
}

/**
 * Says who is signed in, and sends what they left; `told` hears of what the server would not take
 * any more.
 */
export function sendFor(id: number | null, told: (detail: string) => void): void {
  person = id
  failed = told
  count()
  void drain()
}
