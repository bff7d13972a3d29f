import Joi from 'joi'
import { Refusal } from '#core/refusal.ts'
import { labelAt } from '#contract/labels.ts'
import type { Problem } from '#contract/common.ts'
import { isBusy, isFull } from '../database/faults.ts'
import { sayFault } from './wording.ts'
import { Clash } from '../areas/tasks/clash.ts'

const STATUS: Readonly<Record<string, [number, string]>> = {
  'not-found': [404, 'Not found'],
  forbidden: [403, 'Not allowed'],
  'not-signed-in': [401, 'Not signed in'],
  'wrong-password': [401, 'Not signed in'],
  'bad-token': [401, 'Not signed in'],
  'no-scope': [403, 'Not allowed by this token'],
  'code-needed': [401, 'Not signed in'],
  'wrong-code': [401, 'Not signed in'],
  'codes-demanded': [403, 'Not allowed yet'],
  'changed-since': [412, 'Changed in the meantime'],
  'already-begun': [409, 'Begun already'],
  'wrong-key': [403, 'Not allowed from there'],
  'being-changed': [409, 'Being changed'],
  'other-person': [409, 'Somebody else’s'],
  stopped: [409, 'Stopped'],
  'too-many': [429, 'Too many attempts'],
  'cross-site': [403, 'Not allowed from there'],
  'too-large': [413, 'Too large'],
  'bad-request': [400, 'Not understood'],
  'too-long': [431, 'Too long'],
  'too-slow': [408, 'Too slow'],
  'wrong-method': [405, 'Not taken there'],
  'wrong-type': [415, 'Wrong content type'],
  'too-deep': [400, 'Not understood'],
  busy: [503, 'Busy at the moment'],
  'no-room': [507, 'No room left'],
}

function ofRefusal({ code, message, place }: Refusal): Problem {
  const [status, title] = STATUS[code] ?? [422, 'Cannot be done like this']
  // The core names the place as it stands in what was sent; people know it by its label.
  const named = place !== undefined && message.startsWith(`${place}: `)
  const detail = named
    ? `${labelAt(place.split('.'))}: ${message.slice(place.length + 2)}`
    : message
  const problem = { type: 'about:blank', title, status, detail, code }
  return place === undefined ? problem : { ...problem, place }
}

const ofClash = ({ message, mine, theirs }: Clash): Problem => ({
  type: 'about:blank',
  title: 'Changed in the meantime',
  status: 412,
  detail: message,
  code: 'changed-since',
  mine,
  theirs,
})

function ofValidation({ details }: Joi.ValidationError): Problem {
  const errors = details.map((d) => ({
    place: d.path.join('.'),
    detail: sayFault(d),
  }))
  return {
    type: 'about:blank',
    title: 'Not understood',
    status: 400,
    detail: errors[0]!.detail,
    code: 'bad-request',
    place: errors[0]!.place,
    errors,
  }
}

/** What the packages that read requests throw carries a status of the client's own fault. */
function ofReading(error: Error, status: number): Problem {
  const large = status === 413
  return {
    type: 'about:blank',
    title: 'Not understood',
    status,
    detail: large ? 'What was sent is too large.' : error.message,
    code: large ? 'too-large' : 'bad-request',
  }
}

/** Faults of the machine, said to whoever was in the middle of something. */
function ofMachine(error: unknown): Problem | null {
  if (isBusy(error))
    return ofRefusal(
      new Refusal('busy', 'Another program is using the database. Nothing was saved; try again.'),
    )
  if (isFull(error))
    return ofRefusal(
      new Refusal('no-room', 'The server’s disk is full. Nothing was saved; make room there.'),
    )
  return null
}

/** Any error as an RFC 9457 problem; faults of our own say nothing of their inside. */
export function problemOf(error: unknown): Problem {
  const machine = ofMachine(error)
  if (machine) return machine
  if (error instanceof Refusal) return ofRefusal(error)
  if (error instanceof Clash) return ofClash(error)
  if (error instanceof Joi.ValidationError) return ofValidation(error)
  if (error instanceof Error && 'status' in error) {
    const { status } = error
    if (typeof status === 'number' && status >= 400 && status < 500) return ofReading(error, status)
  }
  return {
    type: 'about:blank',
    title: 'Something went wrong',
    status: 500,
    detail: 'Fernwick failed at this. It is written in the server’s log; nothing was saved.',
    code: 'internal',
  }
}
