import type { Problem } from '#contract/common.ts'

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

/** One request; every `fetch` of the interface is here. @throws ApiProblem */
export async function call<T>(method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE', path: string, options: CallOptions = {}): Promise<T> {
  const headers: Record<string, string> = {}
  if (options.body !== undefined) headers['Content-Type'] = 'application/json'
  if (options.bytes) headers['Content-Type'] = 'text/csv'
  if (options.seen !== undefined) headers['If-Match'] = `"${options.seen}"`
  if (options.once) headers['Idempotency-Key'] = options.once
  const body = options.bytes ?? (options.body === undefined ? undefined : JSON.stringify(options.body))
  let response: Response
  try {
    response = await fetch(`/api/v1${path}`, { method, headers, ...(body !== undefined && { body }) })
  } catch {
    throw new ApiProblem(OFFLINE)
  }
  if (response.ok) return (response.status === 204 ? undefined : await response.json()) as T
  let problem: Problem
  try {
    problem = (await response.json()) as Problem
  } catch {
    problem = { ...OFFLINE, status: response.status }
  }
  if (problem.code === 'not-signed-in') onSignedOut()
  throw new ApiProblem(problem)
}

export const get = <T>(path: string) => call<T>('GET', path)
export const post = <T>(path: string, body: unknown = {}, more: CallOptions = {}) => call<T>('POST', path, { body, ...more })
export const put = <T>(path: string, body: unknown, more: CallOptions = {}) => call<T>('PUT', path, { body, ...more })
export const patch = <T>(path: string, body: unknown, more: CallOptions = {}) => call<T>('PATCH', path, { body, ...more })
export const remove = <T>(path: string) => call<T>('DELETE', path)

/** The sentence to show for any error. */
export const sentence = (error: unknown): string => (error instanceof ApiProblem ? error.problem.detail : error instanceof Error ? error.message : String(error))
