import type { Problem } from '#contract/common.ts'
import { sendOrQueue } from './offline-queue.ts'

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
}

let onSignedOut: () => void = () => {}
/** Called when a request finds the session gone. */
export const whenSignedOut = (then: () => void): void => void (onSignedOut = then)

const changes = new WeakMap<object, number>()
/** The change of the journal that an answer tells of: what takes it back whole. */
export const changeOf = (answer: unknown): number | null =>
  answer !== null && typeof answer === 'object' ? (changes.get(answer) ?? null) : null

async function answerOf<T>(response: Response): Promise<T> {
  if (response.ok) {
    const answer = (response.status === 204 ? {} : await response.json()) as T
    const change = Number(response.headers.get('Fernwick-Change'))
    if (change && answer !== null && typeof answer === 'object') changes.set(answer, change)
    return answer
  }
  let problem: Problem
  try {
    problem = (await response.json()) as Problem
  } catch {
    problem = { ...OFFLINE, status: response.status }
  }
  if (problem.code === 'not-signed-in') onSignedOut()
  throw new ApiProblem(problem)
}

/**
 * One request. A change that finds no connection is kept and sent, in order, as soon as there is
 * one: the promise settles then. @throws ApiProblem
 */
export async function call<T>(
  method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE',
  path: string,
  options: CallOptions = {},
): Promise<T> {
  const headers: Record<string, string> = {}
  if (options.body !== undefined) headers['Content-Type'] = 'application/json'
  if (options.bytes) headers['Content-Type'] = options.bytes.type || 'application/octet-stream'
  if (options.seen !== undefined) headers['If-Match'] = `"${options.seen}"`
  // Sent twice because an answer was lost, a creation must still happen once.
  if (method === 'POST' && !options.bytes)
    headers['Idempotency-Key'] = options.once ?? crypto.randomUUID()
  const body =
    options.bytes ?? (options.body === undefined ? undefined : JSON.stringify(options.body))
  const send = () =>
    fetch(`/api/v1${path}`, { method, headers, ...(body !== undefined && { body }) })
  if (method === 'GET' || options.bytes || path.startsWith('/session')) {
    let response: Response
    try {
      response = await send()
    } catch {
      throw new ApiProblem(OFFLINE)
    }
    return answerOf<T>(response)
  }
  return answerOf<T>(
    await sendOrQueue({
      method,
      path: `/api/v1${path}`,
      headers,
      body: typeof body === 'string' ? body : null,
    }),
  )
}

export const get = <T>(path: string) => call<T>('GET', path)
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
