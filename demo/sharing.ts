import { insertTask } from '#server/areas/tasks/write.ts'
import type { Writer } from '#server/engine/journal.ts'
import { runningFor } from './queries.ts'
import { by, type Scene } from './scene.ts'

/** Who sees what beside the usual: a closed team, work for it and for those named, what guests share. */

type Tasks = readonly (readonly [title: string, person: string, days: number, minutes: number])[]

const PAY: Tasks = [
  ['Collect what the market pays', 'Devika', 6, 120],
  ['Draft the bands for next year', 'Imogen', 11, 180],
  ['Agree the bands with Casper', 'Imogen', 15, 60],
  ['Write to everybody about their pay', 'Devika', 21, 150],
]
const LEASE: Tasks = [
  ['Read the landlord’s terms', 'Casper', 4, 90],
  ['Reckon what a smaller office would cost', 'Marisol', 9, 120],
  ['Answer the landlord', 'Casper', 13, 45],
]

function fill({ engine, who, on }: Scene, write: Writer, projectId: number, tasks: Tasks): void {
  for (const [position, [title, person, days, estimate]] of tasks.entries())
    insertTask(engine, write, {
      ...{ title, projectId, estimate, position: position + 1, due: on(days) },
      ...{ assignees: [who(person)], creatorId: who('Casper') },
    })
}

/** Pay is nobody’s business but a few people’s: a team that others do not know of, and its project. */
function reviewPay(scene: Scene, write: Writer): void {
  const { who, on } = scene
  const teamId = write.insert('teams', { name: 'Pay review', kind: 'closed' })
  for (const name of ['Imogen', 'Casper', 'Devika'])
    write.insert('teamMembers', { teamId, personId: who(name) })
  const project = write.insert('projects', {
    ...{ name: 'Pay review, next year', audience: 'team', teamId, anchor: on(21) },
    ...{ leadId: who('Imogen'), createdAt: write.at },
  })
  fill(scene, write, project, PAY)
}

export function shareOut(scene: Scene): void {
  const { engine, who, on, team } = scene
  engine.journal.change(by(scene, 'Casper'), (write) => {
    write.update('teams', team('Payroll'), { kind: 'ask' })
    write.update('teams', team('Compliance'), { kind: 'ask' })
    write.insert('teamAsks', {
      ...{ teamId: team('Payroll'), personId: who('Wendel'), at: write.at },
    })
    reviewPay(scene, write)
    const lease = write.insert('projects', {
      ...{ name: 'Office lease', audience: 'named', anchor: on(13) },
      ...{ leadId: who('Casper'), createdAt: write.at },
    })
    fill(scene, write, lease, LEASE)
    write.insert('shares', { projectId: lease, personId: who('Marisol'), may: 'edit' })
    // The practice manager follows what is done for the practice, and may ask.
    write.insert('shares', {
      ...{ clientId: who('Mossgate'), personId: who('Hester Lune'), may: 'comment' },
    })
    const [calibration] = runningFor.all(engine.reader, { client: who('Copperbeck') })
    if (calibration)
      write.insert('shares', {
        ...{ projectId: calibration.id, personId: who('Corrie'), may: 'view' },
      })
  })
}
