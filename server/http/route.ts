import Joi from 'joi'
import { refuse } from '#core/refusal.ts'
import type { Changed } from '../engine/journal.ts'
import type { Large } from '../engine/portions.ts'
import type { Engine } from '../engine/services.ts'
import type { Scope } from '#contract/words.ts'
import type { Viewer } from '../engine/viewer.ts'

/** A request as it reaches a route: who asks and its body are checked, its query is not yet. */
export interface Request {
  readonly engine: Engine
  readonly viewer: Viewer
  /** Whole-number parameters of the path. */
  readonly params: Readonly<Record<string, number>>
  readonly query: unknown
  /** The body, which has passed its schema; or its bytes. */
  readonly body: unknown
  /** The version the client saw, from If-Match. */
  readonly seen: number | null
}

/** A request whose query and body have passed their schemas. */
export interface Asked<Body, Query> extends Omit<Request, 'query' | 'body' | 'params'> {
  /** A number of the path, by its name. */
  readonly param: (name: string) => number
  readonly query: Query
  readonly body: Body
}

/** Who may call an address at all; what they may do there is for the service to say. */
export type Who = 'everybody' | 'members' | 'managers' | 'owners'

/**
 * What takes long is answered on a thread of its own, where nobody waits for it: `read` for
 * questions, `work` for files and long reckoning. What is answered there writes nothing.
 */
export type Apart = 'read' | 'work'

/** One address of the API: what it takes, and what answers. */
export interface Route {
  readonly method: 'get' | 'post' | 'put' | 'patch' | 'delete'
  readonly path: string
  readonly about: string
  readonly who: Who
  readonly apart?: Apart
  readonly body?: Joi.Schema
  readonly query?: Joi.Schema
  /** The body is bytes, so many at most. */
  readonly raw?: { readonly limit: number }
  /** The status of what was done; 200 where it is not said, 204 where nothing is answered. */
  readonly status?: number
  /** Answers a request whose query and body have been checked. */
  readonly handle: (ask: Asked<never, never>) => unknown
  /** Checks a request and answers it; `change` is what it wrote, to be taken back by. */
  readonly answer: (request: Request) => Answered
}

/** What a request did; or what it wants to do, where that may touch very much. */
export type Answered = Changed<unknown> | Promise<Changed<unknown>> | Large<unknown>

interface Definition<Body, Query> {
  readonly path: string
  readonly about: string
  /** Members, where it is not said. */
  readonly who?: Who
  readonly apart?: Apart
  readonly query?: Joi.Schema<Query>
  readonly body?: Joi.Schema<Body>
  readonly raw?: { readonly limit: number }
  readonly status?: number
}

/** As many faults as are told of one request. */
const MOST_FAULTS = 100

/**
 * A value that has passed its schema. `whole` looks on after the first fault, so that all of them
 * can be told: up to a hundred, and not of what is very large.
 * @throws Joi.ValidationError that names every place
 */
export function checked<T>(
  schema: Joi.Schema<T>,
  value: unknown,
  { convert = false, whole = true } = {},
): T {
  const first = schema.validate(value, { abortEarly: true, convert })
  if (!first.error) return first.value
  const { error } = whole ? schema.validate(value, { abortEarly: false, convert }) : first
  const { message, details, _original } = error ?? first.error
  throw new Joi.ValidationError(message, details.slice(0, MOST_FAULTS), _original)
}

/** What is taken where a route has no schema: it asks for nothing. */
const NOTHING = Joi.any()

function asked<Body, Query>(
  { query }: Definition<Body, Query>,
  request: Request,
): Asked<Body, Query> {
  const { engine, viewer, params, seen, body } = request
  return {
    engine,
    viewer,
    seen,
    param: (name) => params[name] ?? refuse('not-found', `There is no ${name} in this address.`),
    query: checked(query ?? NOTHING, request.query, { convert: true }),
    // Whoever calls has had it checked.
    body: checked(NOTHING, body),
  }
}

/** An address that only tells. */
export const read = <Query = undefined>(
  def: Omit<Definition<undefined, Query>, 'body' | 'raw' | 'status'> & {
    readonly handle: (ask: Asked<undefined, Query>) => unknown
  },
): Route => ({
  who: 'members',
  ...def,
  method: 'get',
  answer: async (request) => ({ result: await def.handle(asked(def, request)), change: null }),
})

/** What a request that writes nothing answers, though it is sent by POST. */
export const unchanged = <T>(result: T): Changed<T> => ({ result, change: null })

/** An address that may change something: its handler says which change it made. */
export const write = <Body = undefined, Query = undefined>(
  method: Exclude<Route['method'], 'get'>,
  def: Definition<Body, Query> & {
    readonly handle: (ask: Asked<Body, Query>) => Answered
  },
): Route => ({
  who: 'members',
  ...def,
  method,
  answer: (request) => def.handle(asked(def, request)),
})

/** An address that takes bytes. */
export const upload = <Query = undefined>(
  def: Omit<Definition<Buffer, Query>, 'body'> & {
    readonly raw: { readonly limit: number }
    readonly handle: (ask: Asked<Buffer, Query>) => Answered
  },
): Route => ({
  who: 'members',
  ...def,
  method: 'post',
  answer: (request) => def.handle(asked(def, request)),
})

/** What a token needs to call a route. What is answered apart only tells, however it is asked. */
export function scopeOf({ who, method, apart }: Route): Scope {
  if (who === 'managers' || who === 'owners') return 'manage'
  return method === 'get' || apart ? 'read' : 'write'
}

/** A route as the API's description and the threads name it. */
export const nameOf = ({ method, path }: Pick<Route, 'method' | 'path'>): string =>
  `${method} ${path}`
