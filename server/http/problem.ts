import type Koa from 'koa'
import Joi from 'joi'
import { Refusal } from '#core/refusal.ts'
import type { Problem } from '#contract/common.ts'
import { Clash } from '../areas/tasks/clash.ts'

const STATUS: Readonly<Record<string, [number, string]>> = {
  'not-found': [404, 'Not found'],
  forbidden: [403, 'Not allowed'],
  'not-signed-in': [401, 'Not signed in'],
  'wrong-password': [401, 'Not signed in'],
  'changed-since': [412, 'Changed in the meantime'],
  'too-many': [429, 'Too many attempts'],
  'cross-site': [403, 'Not allowed from there'],
  'too-large': [413, 'Too large'],
  'wrong-type': [415, 'Wrong content type'],
}

/** Any error as an RFC 9457 problem; faults of our own say nothing of their inside. */
export function problemOf(error: unknown): Problem {
  if (error instanceof Refusal) {
    const [status, title] = STATUS[error.code] ?? [422, 'Cannot be done like this']
    return {
      type: 'about:blank',
      title,
      status,
      detail: error.message,
      code: error.code,
      ...(error.place !== undefined && { place: error.place }),
    }
  }
  if (error instanceof Clash)
    return {
      type: 'about:blank',
      title: 'Changed in the meantime',
      status: 412,
      detail: error.message,
      code: 'changed-since',
      mine: error.mine,
      theirs: error.theirs,
    }
  if (error instanceof Joi.ValidationError) {
    const errors = error.details.map((d) => ({
      place: d.path.join('.'),
      detail: d.message.replaceAll('"', ''),
    }))
    return {
      type: 'about:blank',
      title: 'Not understood',
      status: 400,
      detail: `${errors[0]!.detail}.`,
      code: 'bad-request',
      place: errors[0]!.place,
      errors,
    }
  }
  const status = error instanceof Error && 'status' in error ? error.status : undefined
  if (typeof status === 'number' && status >= 400 && status < 500) {
    const text = error instanceof Error ? error.message : 'The request could not be read.'
    return {
      type: 'about:blank',
      title: 'Not understood',
      status,
      detail: status === 413 ? 'What was sent is too large.' : text,
      code: status === 413 ? 'too-large' : 'bad-request',
    }
  }
  return {
    type: 'about:blank',
    title: 'Something went wrong',
    status: 500,
    detail: 'Fernwick failed at this. It is written in the server’s log; nothing was saved.',
    code: 'internal',
  }
}

/** Answers every error of what lies below as problem details. */
export const problems: Koa.Middleware = async (ctx, next) => {
  try {
    await next()
    if (ctx.status === 404 && ctx.body === undefined && ctx.path.startsWith('/api/'))
      throw new Refusal('not-found', `There is nothing at ${ctx.path}.`)
  } catch (error) {
    const problem = problemOf(error)
    if (problem.status >= 500) ctx.app.emit('error', error, ctx)
    ctx.status = problem.status
    ctx.body = problem
    ctx.type = 'application/problem+json'
    if (problem.code === 'too-many') ctx.set('Retry-After', '300')
  }
}
