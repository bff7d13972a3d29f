import type { IsoDate } from '#core/brands.ts'
import { addWorkingDays } from '#core/calendar/calendar.ts'
import { insertTask, needContext, patchTask } from '#server/areas/tasks/write.ts'
import type { Engine } from '#server/engine/services.ts'
import type { Writer } from '#server/engine/journal.ts'
import { dueBy, stillOpenIn, untickedOf } from './queries.ts'
import { by, type Scene } from './scene.ts'

/** Colleagues at work, day by day, out of a seed. */

/** A small seeded generator (mulberry32), so that the same day gives the same firm. */
function seeded(seed: number): () => number {
  let a = seed
  return () => {
    a = (a + 0x6d2b79f5) | 0
    let t = Math.imul(a ^ (a >>> 15), 1 | a)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
}

/** How many working days late a piece of work is done, most of it on its day. */
const SLIPS = [
  [0.74, 0],
  [0.85, 1],
  [0.91, 2],
  [0.95, 4],
  [0.98, 8],
  [1, 14],
] as const
const slipOf = (draw: number): number => SLIPS.find(([below]) => draw < below)![1]

function finish(engine: Engine, write: Writer, taskId: number): void {
  for (const item of untickedOf.all(engine.reader, { task: taskId }))
    write.update('checklistItems', item.id, { done: true })
  patchTask(engine, write, needContext(engine, taskId), { state: 'done' })
  const { projectId: project } = needContext(engine, taskId).task
  if (project !== null && !stillOpenIn.get(engine.reader, { project }))
    write.update('projects', project, { closedAt: write.at })
}

/**
 * Those who do a day's work. Most tasks are done on their day, some late, a few not at all for a
 * while; what somebody has been putting off is left to them.
 */
export function colleagues({ engine, today }: Scene) {
  const { journal, firm, reader } = engine
  const random = seeded(Number(today.replaceAll('-', '')))
  const putOff = new Set<number>()

  function workOn(day: IsoDate, { id, due, person, state }: Due): void {
    if (due === null || person === null || putOff.has(id)) return
    const slip = slipOf(seeded(id * 7919 + Number(today.slice(8)))())
    const actor = { kind: 'person' as const, id: person }
    if (addWorkingDays(firm.calendar(), due, slip, 'following') <= day)
      journal.change(actor, (write) => finish(engine, write, id))
    else if (state === 'not-started' && random() < 0.45)
      journal.change(actor, (write) =>
        patchTask(engine, write, needContext(engine, id), {
          state: random() < 0.22 ? 'waiting' : 'under-way',
        }),
      )
  }
  return {
    putOff,
    work(day: IsoDate): void {
      for (const task of dueBy.all(reader, { day: addWorkingDays(firm.calendar(), day, 2) }))
        workOn(day, task)
    },
  }
}
type Due = ReturnType<typeof dueBy.all>[number]

/** Two pieces that Imogen has been meaning to do: one well up the ladder, one on its first rung. */
const MEANT = [
  {
    back: 8,
    title: 'Chase missing supplier statements',
    client: 'Larkmoor',
    people: ['Imogen'],
    due: -4,
    estimate: 30,
    state: 'waiting',
  },
  {
    back: 5,
    title: 'Reconcile card takings by hand',
    client: 'Penhollow',
    people: ['Imogen', 'Tobias'],
    due: -1,
    estimate: 90,
    state: 'under-way',
  },
] as const

/** Notes what she means to do on the day she notes it; nobody else does it for her. */
export function meanTo(scene: Scene, day: IsoDate, putOff: Set<number>): void {
  const { engine, who, on } = scene
  for (const { back, title, client, people, due, estimate, state } of MEANT) {
    if (on(-back) !== day) continue
    engine.journal.change(by(scene, 'Imogen'), (write) => {
      const assignees = people.map(who)
      putOff.add(
        insertTask(engine, write, {
          ...{ title, estimate, state, assignees, due: on(due) },
          ...{ clientId: who(client), creatorId: who('Imogen') },
        }),
      )
    })
  }
}
