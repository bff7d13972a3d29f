import { ref } from 'vue'

/** A change that waits for the connection. */
export interface QueuedChange {
  readonly method: string
  readonly path: string
  readonly headers: Record<string, string>
  readonly body: string | null
}

const PLACE = 'fernwick.kept'
const RETRY_MS = 2_000

/** How many changes wait to be sent. */
export const waiting = ref(0)

const queue: { change: QueuedChange; sent: (response: Response) => void }[] = []
let trying = false

/** What waits survives a closed tab: it lies in this browser until it is sent. */
function write(): void {
  waiting.value = queue.length
  try {
    if (queue.length) localStorage.setItem(PLACE, JSON.stringify(queue.map((q) => q.change)))
    else localStorage.removeItem(PLACE)
  } catch {
    // Without storage the queue lives as long as the page.
  }
}

const send = ({ method, path, headers, body }: QueuedChange, signal?: AbortSignal) =>
  fetch(path, { method, headers, ...(body !== null && { body }), ...(signal && { signal }) })
const pause = (ms: number) => new Promise<void>((done) => setTimeout(done, ms))

/** Sends what waits, oldest first, until nothing does. */
async function drain(): Promise<void> {
  if (trying) return
  trying = true
  try {
    while (queue.length) {
      const next = queue[0]!
      try {
        const response = await send(next.change)
        queue.shift()
        write()
        next.sent(response)
      } catch {
        await pause(RETRY_MS)
      }
    }
  } finally {
    trying = false
  }
}

/**
 * Sends a change now, or, without a connection, after those that already wait.
 * @throws what its signal says, once it is stopped while it is sent
 */
export async function sendOrQueue(change: QueuedChange, signal?: AbortSignal): Promise<Response> {
  if (queue.length === 0) {
    try {
      return await send(change, signal)
    } catch {
      signal?.throwIfAborted()
      // No connection: it waits below.
    }
  }
  return new Promise((sent) => {
    queue.push({ change, sent })
    write()
    void drain()
  })
}

/** Sends what an earlier page left; `failed` hears of what the server would not take any more. */
export function sendLeft(failed: (detail: string) => void): void {
  let left: QueuedChange[] = []
  try {
    left = JSON.parse(localStorage.getItem(PLACE) ?? '[]') as QueuedChange[]
  } catch {
    localStorage.removeItem(PLACE)
  }
  for (const change of left)
    queue.push({
      change,
      sent: (response) => {
        if (!response.ok)
          void response
            .json()
            .then((problem: { detail?: string }) =>
              failed(problem.detail ?? 'A change from before could not be saved.'),
            )
      },
    })
  write()
  void drain()
}
