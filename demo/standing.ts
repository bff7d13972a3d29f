import { insertTask } from '#server/areas/tasks/write.ts'
import type { Writer } from '#server/engine/journal.ts'
import { openProjects } from './queries.ts'
import { by, type Scene } from './scene.ts'

/** What kind of work each project is; and beside those that run, one proposed and one on hold. */

const CATEGORIES: readonly (readonly [RegExp, string])[] = [
  [/books|VAT/i, 'Books'],
  [/payroll/i, 'Payroll'],
  [/joining|leaving/i, 'Coming and going'],
  [/inspection|calibration/i, 'Compliance'],
]
type Tasks = readonly (readonly [title: string, person: string, days: number])[]
const SECOND_SITE: Tasks = [
  ['Ask for the floor plan and the date', 'Runa', 12],
  ['Offer for the second site', 'Marisol', 18],
]
const RECORDS: Tasks = [
  ['List what the old records hold', 'Joss', -3],
  ['Move the records over', 'Beatriz', 4],
  ['Check ten records by hand', 'Joss', 7],
]

interface Project {
  readonly name: string
  readonly client: string
  readonly anchor: number
  /** So many days from today it was put on hold; left out: it is proposed. */
  readonly held?: number
}
function add(scene: Scene, write: Writer, project: Project, tasks: Tasks): number {
  const { engine, who, on } = scene
  const { name, client, anchor, held } = project
  const projectId = write.insert('projects', {
    ...{ name, clientId: who(client), leadId: who('Runa'), anchor: on(anchor) },
    ...{ category: 'Coming and going', createdAt: write.at },
    ...(held === undefined ? { state: 'proposed' } : { state: 'hold', heldOn: on(held) }),
  })
  for (const [position, [title, person, days]] of tasks.entries())
    insertTask(engine, write, {
      ...{ title, projectId, position: position + 1, due: on(days) },
      ...{ assignees: [who(person)], creatorId: who('Runa') },
    })
  return projectId
}

export function setStanding(scene: Scene): void {
  const { engine } = scene
  engine.journal.change(by(scene, 'Runa'), (write) => {
    for (const { id, name, version } of openProjects.all(engine.reader)) {
      const category = CATEGORIES.find(([called]) => called.test(name))?.[1]
      if (category) write.update('projects', id, { category, version: version + 1 })
    }
    const site = { name: 'Saltreed, a second site', client: 'Saltreed', anchor: 25 }
    const projectId = add(scene, write, site, SECOND_SITE)
    const fieldId = write.insert('fields', {
      ...{ of: 'project', name: 'Agreed fee', kind: 'money', position: 6 },
      options: { currency: 'GBP' },
    })
    write.insert('projectValues', { projectId, fieldId, number: 180_000 })
    const records = { name: 'Hollin Street, new records', client: 'Hollin Street', anchor: 10 }
    add(scene, write, { ...records, held: -6 }, RECORDS)
  })
}
