import type { Problem } from '#contract/common.ts'
import { AT_HEADER, CONFIRM_HEADER } from '#contract/headers.ts'
import { sendOrQueue, type QueuedChange } from './offline-queue.ts'
import { ask, type Said } from './together.ts'
import { keptInSight } from './under-way.ts'

/** An answer of the API that says no: what is wrong, and where. */
export class ApiProblem extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail)
  }
}

const OFFLINE: Problem = {
  type: 'about:blank',
  title: 'No connection',
  status: 0,
  code: 'offline',
  detail: 'Fernwick cannot be reached. What you typed is still here; try again in a moment.',
}

export interface CallOptions {
  readonly body?: unknown
  /** Version the edit is based on. */
  readonly seen?: number
  /** Makes a repeated creation answer the first one's result. */
  readonly once?: string
  readonly bytes?: Blob
  /** It changes nothing, and may take long: it is sent now or not at all, and can be stopped. */
  readonly asks?: true
}

let onSignedOut: () => void = () => {}
/** Called when a request finds the session gone. */
export const whenSignedOut = (then: () => void): void => void (onSignedOut = then)

let onDoubt: (sentence: string) => Promise<boolean> = () => Promise.resolve(false)
/** Called with what is asked about before it is done; answers whether it is wanted all the same. */
export const whenInDoubt = (ask: typeof onDoubt): void => void (onDoubt = ask)

const changes = new WeakMap<object, number>()
/** The change of the journal that an answer tells of: what takes it back whole. */
export const changeOf = (answer: unknown): number | null =>
  answer !== null && typeof answer === 'object' ? (changes.get(answer) ?? null) : null

const marks = new WeakMap<object, number>()
/** The mark that an answer was given at: it holds every change told up to it. 0: it does not say. */
export const answeredAt = (answer: unknown): number =>
  answer !== null && typeof answer === 'object' ? (marks.get(answer) ?? 0) : 0

/** What an answer says, whether it came alone or with others. @throws ApiProblem */
function taken<T>({ status, at, body }: Said): T {
  if (status < 400) {
    if (body !== null && typeof body === 'object') marks.set(body, at)
    return body as T
  }
  const problem = (body as Problem | null) ?? { ...OFFLINE, status }
  if (problem.code === 'not-signed-in') onSignedOut()
  throw new ApiProblem(problem)
}
async function saidBy(response: Response): Promise<Said> {
  const { status, headers } = response
  const body: unknown = status === 204 ? {} : await response.json().catch(() => null)
  return { status, at: Number(headers.get(AT_HEADER)), body }
}
/** @throws ApiProblem */
async function answerOf<T>(response: Response): Promise<T> {
  const answer = taken<T>(await saidBy(response))
  const change = Number(response.headers.get('Fernwick-Change'))
  if (change && answer !== null && typeof answer === 'object') changes.set(answer, change)
  return answer
}

type Method = 'POST' | 'PUT' | 'PATCH' | 'DELETE'

function headersOf(method: Method, { body, bytes, seen, once }: CallOptions) {
  const headers: Record<string, string> = {}
  if (body !== undefined) headers['Content-Type'] = 'application/json'
  if (bytes) headers['Content-Type'] = bytes.type || 'application/octet-stream'
  if (seen !== undefined) headers['If-Match'] = `"${seen}"`
  // Sent twice because an answer was lost, a creation must still happen once.
  if (method === 'POST' && !bytes) headers['Idempotency-Key'] = once ?? crypto.randomUUID()
  return headers
}

/** One request, now or not at all. @throws ApiProblem, or what its signal says once it is ended */
async function sendNow(url: string, init: RequestInit): Promise<Response> {
  try {
    return await fetch(url, init)
  } catch {
    init.signal?.throwIfAborted()
    throw new ApiProblem(OFFLINE)
  }
}

const STOPPED: Problem = {
  type: 'about:blank',
  title: 'Stopped',
  status: 0,
  code: 'stopped',
  detail: 'Stopped. Unless it had just ended, nothing of it is kept.',
}
/** Sends what can be stopped. @throws ApiProblem `stopped` */
const stoppable = (
  send: (signal: AbortSignal) => Promise<Response>,
  { stops, asks = false }: { stops: boolean; asks?: boolean },
): Promise<Response> =>
  keptInSight(async (signal) => {
    try {
      return await send(signal)
    } catch (error) {
      if (signal.aborted) throw new ApiProblem(asks ? { ...STOPPED, detail: 'Stopped.' } : STOPPED)
      throw error instanceof ApiProblem ? error : new ApiProblem(OFFLINE)
    }
  }, stops)
/** Sends a file or a question, now or not at all. */
const sendAtOnce = (url: string, init: RequestInit, asks = false): Promise<Response> =>
  stoppable((signal) => sendNow(url, { ...init, signal }), { stops: true, asks })
const sendInSight = (change: QueuedChange): Promise<Response> =>
  stoppable((signal) => sendOrQueue(change, signal), { stops: false })

/**
 * One request that may change something. A change that finds no connection is kept and sent, in
 * order, as soon as there is one: the promise settles then. @throws ApiProblem
 */
export async function call<T>(method: Method, path: string, options: CallOptions = {}): Promise<T> {
  const headers = headersOf(method, options)
  const url = `/api/v1${path}`
  const { bytes, asks } = options
  const body = options.body === undefined ? null : JSON.stringify(options.body)
  const init = { method, headers, body: bytes ?? body }
  if (path.startsWith('/session')) return answerOf<T>(await sendNow(url, init))
  if (bytes || asks) return answerOf<T>(await sendAtOnce(url, init, asks))
  const change = { method, path: url, headers, body }
  try {
    return await answerOf<T>(await sendInSight(change))
  } catch (error) {
    const { code, detail } = error instanceof ApiProblem ? error.problem : { code: '', detail: '' }
    if (code !== 'other-client' || !(await onDoubt(detail))) throw error
    return answerOf<T>(
      await sendInSight({ ...change, headers: { ...headers, [CONFIRM_HEADER]: 'yes' } }),
    )
  }
}

/** Asks something, now or not at all; `signal` ends it. @throws ApiProblem */
export const get = async <T>(path: string, signal?: AbortSignal): Promise<T> =>
  taken<T>(await ask(path, askAlone, signal))
const askAlone = async (path: string, signal?: AbortSignal): Promise<Said> =>
  saidBy(await sendNow(`/api/v1${path}`, { method: 'GET', ...(signal && { signal }) }))

export const post = <T>(path: string, body: unknown = {}, more: CallOptions = {}) =>
  call<T>('POST', path, { body, ...more })
export const put = <T>(path: string, body: unknown, more: CallOptions = {}) =>
  call<T>('PUT', path, { body, ...more })
export const patch = <T>(path: string, body: unknown, more: CallOptions = {}) =>
  call<T>('PATCH', path, { body, ...more })
export const remove = <T = object>(path: string) => call<T>('DELETE', path)

/** The sentence to show for any error. */
export const sentence = (error: unknown): string =>
  error instanceof ApiProblem
    ? error.problem.detail
    : error instanceof Error
      ? error.message
      : String(error)
