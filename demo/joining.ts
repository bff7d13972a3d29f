import type { IsoDate } from '#core/brands.ts'
import { statesOf } from '#server/areas/states/queries.ts'
import { needContext, patchTask } from '#server/areas/tasks/write.ts'
import type { Writer } from '#server/engine/journal.ts'
import type { KeptFiles } from './files.ts'
import { projectCalled, statesIn } from './queries.ts'
import type { Scene } from './scene.ts'

/** Taking on a clinic: states of its own, milestones, what is said about it. */

const DAY = 86_400_000
const OWN_NAMES: Readonly<Record<string, string>> = {
  waiting: 'With the clinic',
  'in-review': 'Owner to approve',
}

function giveStates({ engine }: Scene, project: number, write: Writer): void {
  const { reader } = engine
  const setId = write.insert('stateSets', { name: 'Taking on a clinic' })
  const own = new Map(
    statesOf(reader, 1).map(({ kind, name }, position) => [
      kind,
      write.insert('states', {
        ...{ setId, kind, position, name: OWN_NAMES[kind] ?? name },
        colour: kind === 'waiting' ? 'clay' : null,
        only: kind === 'dropped' ? 'manager' : 'anyone',
      }),
    ]),
  )
  write.update('projects', project, {
    stateSetId: setId,
    description:
      '<p>Hollin Street comes to us from a firm that closes at the end of the quarter. ' +
      '<strong>Payroll must not miss a month.</strong></p>',
  })
  for (const task of statesIn.all(reader, { project }))
    patchTask(engine, write, needContext(engine, task.id), { stateId: own.get(task.state)! })
}

function setMilestones({ who, on }: Scene, projectId: number, write: Writer): void {
  const mile = (name: string, date: IsoDate, owner: string, doneAt: number | null = null) =>
    write.insert('milestones', { projectId, name, date, ownerId: who(owner), doneAt })
  mile('Letter of engagement signed', on(-6), 'Runa', write.at - 4 * DAY)
  mile('First payroll under us', on(6), 'Piers')
  mile('Books opened', on(12), 'Marisol')
}

function talk({ who }: Scene, projectId: number, write: Writer): void {
  const authorId = who('Runa')
  write.insert('posts', {
    ...{ projectId, authorId, at: write.at - 5 * DAY },
    body: '<p>Met the two partners. They want one person to ring, and that is Joss.</p>',
  })
  write.insert('posts', {
    ...{ projectId, authorId, health: 'watch', at: write.at - DAY },
    body:
      '<p>The old firm has not sent the payroll history. ' +
      'Without it by Friday the first payroll is tight.</p>',
  })
  write.update('projects', projectId, {
    health: 'watch',
    healthReason: 'The payroll history is still with the old firm.',
  })
}

function addLetter({ who }: Scene, projectId: number, files: KeptFiles, write: Writer): void {
  write.insert('attachments', {
    ...{ projectId, ...files('Letter of engagement.pdf') },
    ...{ personId: who('Runa'), at: write.at - 5 * DAY },
  })
}

export function joinClinic(scene: Scene, files: KeptFiles, write: Writer): void {
  const project = projectCalled.get(scene.engine.reader, { name: 'Hollin Street, joining' })?.id
  if (project === undefined) return
  giveStates(scene, project, write)
  setMilestones(scene, project, write)
  talk(scene, project, write)
  addLetter(scene, project, files, write)
}
