import type Joi from 'joi'
import type { Engine } from '../engine/services.ts'
import type { Viewer } from '../engine/viewer.ts'

export interface Request<Body = unknown, Query = Record<string, string>> {
  readonly engine: Engine
  readonly viewer: Viewer
  /** Whole-number parameters of the path. */
  readonly params: Readonly<Record<string, number>>
  readonly query: Query
  readonly body: Body
  /** The version the client saw, from If-Match. */
  readonly seen: number | null
}

/**
 * One address of the API: what it takes, checked before it is handled. Handlers answer what becomes
 * the
 * body; undefined answers 204. With `raw`, the body is bytes.
 */
export interface Route {
  readonly method: 'get' | 'post' | 'put' | 'patch' | 'delete'
  readonly path: string
  readonly about: string
  readonly body?: Joi.Schema
  readonly query?: Joi.ObjectSchema
  readonly raw?: { readonly limit: number }
  readonly status?: number
  readonly handle: (request: Request<never, never>) => unknown
}

/** A route with its types; the schema of the body is what makes the type true. */
export function route<Body = undefined, Query = object>(
  def: Omit<Route, 'handle'> & { handle: (request: Request<Body, Query>) => unknown },
): Route {
  return def
}
