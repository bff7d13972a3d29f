import Joi from 'joi'
import { refuse } from '#core/refusal.ts'
import { measured } from '#contract/common.ts'
import { isLarge } from '../engine/portions.ts'
import type { Engine } from '../engine/services.ts'
import type { Viewer } from '../engine/viewer.ts'
import { answerOf, answerOfError, type Answer } from './answer.ts'
import { checked, type Route } from './route.ts'

/** A request as it is handed to whoever answers it, here or on a thread of its own. */
export interface Call {
  readonly viewer: Viewer
  readonly params: Readonly<Record<string, number>>
  readonly query: Readonly<Record<string, unknown>>
  /** JSON as it came, or bytes. */
  readonly body: string | Uint8Array | undefined
  /** The version the client saw. */
  readonly seen: number | null
}

/** Of bodies up to so many characters every fault is told, of larger ones the first. */
const TOLD_WHOLE = 65_536

/** @throws Refusal `too-deep`, `too-large`, `bad-json` */
export function parseJson(text: string): unknown {
  // What walks through it walks as deep as it is, and as far.
  const fault = measured(text)
  if (fault === 'deep')
    refuse('too-deep', 'The body is nested too deep; take groups out of groups.')
  if (fault === 'many') refuse('too-large', 'The body has too many values; send less at a time.')
  try {
    return JSON.parse(text)
  } catch {
    return refuse('bad-json', 'The body is not JSON.')
  }
}

/** A JSON body that has passed its schema. @throws Refusal, Joi.ValidationError */
export const checkedJson = <T>(schema: Joi.Schema<T>, text: string): T =>
  checked(schema, parseJson(text), { whole: text.length <= TOLD_WHOLE })

const bodyFor = ({ body: schema }: Route, body: Call['body']): unknown => {
  if (typeof body === 'string') return schema && checkedJson(schema, body)
  return body && Buffer.from(body.buffer, body.byteOffset, body.length)
}

/** Checks a body alone; answers what is wrong with it, or null. */
export function checkCall(route: Route, text: string): Answer | null {
  try {
    checkedJson(route.body ?? Joi.any(), text)
    return null
  } catch (error) {
    return answerOfError(error)
  }
}

/** Answers a request, whatever becomes of it. */
export async function answerCall(engine: Engine, route: Route, call: Call): Promise<Answer> {
  try {
    const { viewer, params, query, seen } = call
    const body = bodyFor(route, call.body)
    const done = await route.answer({ engine, viewer, params, query, seen, body })
    // What is answered apart writes nothing, large or small.
    return answerOf(route, isLarge(done) ? done.whole() : done)
  } catch (error) {
    return answerOfError(error)
  }
}
