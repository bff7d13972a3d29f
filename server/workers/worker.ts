import { join } from 'node:path'

import Piscina, { move } from 'piscina'
import { reading, type Reading } from '../assembly.ts'
import { backUp } from '../database/backup.ts'
import { openReading } from '../database/open.ts'
import { folderFiles } from '../engine/files.ts'
import type { Answer } from '../http/answer.ts'
import { answerCall, checkCall } from '../http/calls.ts'
import { nameOf, type Route } from '../http/route.ts'
import { ROUTES } from '../http/routes/index.ts'
import { derive } from './derive.ts'
import type { Job, Outcomes, ThreadData } from './jobs.ts'

/** What runs on a thread of its own: it reads the firm's file by a connection that cannot write. */

const routes = new Map(ROUTES.map((route) => [nameOf(route), route]))
const routeOf = (name: string): Route => {
  const route = routes.get(name)
  if (!route) throw new Error(`There is no route ${name}.`)
  return route
}

let open: Reading | undefined
function firm(): Reading {
  const { data } = Piscina.workerData as ThreadData
  return (open ??= reading(
    openReading(join(data, 'fernwick.sqlite')),
    folderFiles(join(data, 'files')),
  ))
}

/** Bytes are handed over, not copied. */
function handedOver(answer: Answer): Answer {
  const { body } = answer
  if (!(body instanceof Uint8Array)) return answer
  const whole = Uint8Array.from(body)
  // What a pool takes for handing over: the buffer, and the answer that is told with it.
  const given: object = {
    [Piscina.transferableSymbol]: whole.buffer,
    [Piscina.valueSymbol]: { ...answer, body: whole },
  }
  return move(given as Uint8Array<ArrayBuffer>) as unknown as Answer
}

async function answer({ route, call, now }: Extract<Job, { kind: 'answer' }>): Promise<Answer> {
  const { engine, at } = firm()
  return handedOver(await at(now, () => answerCall(engine, routeOf(route), call)))
}

export default function run(job: Job): Promise<Outcomes[Job['kind']]> | Outcomes[Job['kind']] {
  if (job.kind === 'answer') return answer(job)
  if (job.kind === 'check') return checkCall(routeOf(job.route), job.text)
  if (job.kind === 'copy') return backUp((Piscina.workerData as ThreadData).data, job.to)
  return derive(job.password, job.hash)
}
