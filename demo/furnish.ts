import { homeOf } from '#server/areas/tasks/queries.ts'
import { setTags } from '#server/areas/tasks/links.ts'
import { setFields } from '#server/areas/tasks/values.ts'
import { insertTask, needContext, patchTask } from '#server/areas/tasks/write.ts'
import type { Writer } from '#server/engine/journal.ts'
import type { KeptFiles } from './files.ts'
import { joinClinic } from './joining.ts'
import { CLIENTS } from './people.ts'
import { makeParts } from './parts.ts'
import { aboutMoney, aboutRecords, aboutRegisters, oldestClosed, openTask } from './queries.ts'
import { by, type Scene } from './scene.ts'
import { keepViews } from './views.ts'

/** What people have added by hand over the weeks: tags, fields, subtasks, files, views, talk. */

const TAGS = [
  ['records missing', 'ochre'],
  ['with the bank', 'dusk'],
  ['controlled drugs', 'rose'],
  ['year end', 'heather'],
  ['client asked', 'teal'],
  ['quick', 'moss'],
] as const

/** Standing work for every clinic beside what series make. */
const ROUND: readonly (readonly [string, string, number, number])[] = [
  ['File the insurance renewals', 'Beatriz', 7, 25],
  ['Update the staff contact sheet', 'Joss', 9, 15],
  ['Check the cold-chain log', 'Osei', 12, 30],
  ['Send the monthly numbers', 'Marisol', 14, 40],
  ['Renew the waste contract', 'Teo', 16, 35],
  ['Agree the Christmas opening hours', 'Runa', 5, 20],
  ['Match the card-terminal fees', 'Wendel', 18, 30],
  ['Review overtime against the rota', 'Piers', 11, 25],
  ['Order register books', 'Nadia', 20, 15],
  ['Ask for the stocktake date', 'Teo', 22, 10],
  ['Check supplier price changes', 'Wendel', 24, 35],
  ['Confirm holiday balances', 'Devika', 26, 30],
  ['Write to the practice about VAT on food', 'Tobias', 28, 30],
]

/** The tags and fields that the firm has made for itself. */
export interface Own {
  readonly tags: Readonly<Record<string, number>>
  readonly fields: Readonly<Record<'records' | 'amount' | 'reference' | 'witness', number>>
}

const makeTags = (write: Writer): Own['tags'] =>
  Object.fromEntries(TAGS.map(([name, colour]) => [name, write.insert('tags', { name, colour })]))

const makeFields = (write: Writer): Own['fields'] => ({
  records: write.insert('fields', {
    name: 'Records',
    kind: 'choice',
    options: {
      choices: [
        { key: 'asked', name: 'Asked for', colour: 'ochre' },
        { key: 'part', name: 'Partly here', colour: 'dusk' },
        { key: 'here', name: 'All here', colour: 'fern' },
      ],
    },
    position: 0,
  }),
  amount: write.insert('fields', {
    name: 'Amount',
    kind: 'money',
    options: { currency: 'GBP' },
    position: 1,
  }),
  reference: write.insert('fields', { name: 'Reference', kind: 'text', position: 2 }),
  witness: write.insert('fields', {
    name: 'Witness',
    kind: 'person',
    position: 3,
    hidden: true,
  }),
})

/** The round of every clinic, a little of it each week. */
function noteRound({ engine, who, on }: Scene, write: Writer): void {
  const clients = CLIENTS.filter((c) => c.short !== 'Dunmarrow')
  for (const [c, client] of clients.entries())
    for (const [r, [title, person, days, estimate]] of ROUND.entries())
      insertTask(engine, write, {
        title,
        clientId: who(client.short),
        assignees: [who(person)],
        due: on(days + ((c * 5 + r * 3) % 14)),
        estimate,
        creatorId: who('Imogen'),
      })
}

const MARKED: readonly (readonly [title: string, ...tags: string[]])[] = [
  ['Chase missing supplier statements', 'records missing', 'client asked'],
  ['Answer the insurer’s query on the claim batch', 'client asked'],
  ['Check the payment limits at the bank', 'with the bank'],
  ['Compare card-terminal fees', 'with the bank', 'quick'],
  ['Prepare the quarterly numbers for Casper', 'year end'],
]
const find = ({ engine }: Scene, title: string) =>
  openTask.get(engine.reader, { title, client: null })?.id

function markTasks(scene: Scene, { tags }: Own, write: Writer): void {
  const mark = (id: number | undefined, names: readonly string[]) =>
    id !== undefined &&
    setTags(
      scene.engine,
      write,
      id,
      names.map((name) => tags[name]!),
    )
  for (const [title, ...names] of MARKED) mark(find(scene, title), names)
  for (const { id } of aboutRegisters.all(scene.engine.reader)) mark(id, ['controlled drugs'])
}

function fillFields({ engine }: Scene, { fields }: Own, write: Writer): void {
  const { reader } = engine
  const fill = (
    task: { id: number; projectId: number | null },
    values: Record<string, string | number>,
  ) => {
    const home = task.projectId ? (homeOf.get(reader, { id: task.projectId }) ?? null) : null
    setFields(engine, write, { taskId: task.id, home }, values)
  }
  for (const [i, task] of aboutMoney.all(reader).entries())
    fill(task, { [fields.amount]: 12_500 + ((i * 7_919) % 90_000) })
  for (const [i, task] of aboutRecords.all(reader).entries())
    fill(task, {
      [fields.records]: ['asked', 'part', 'here'][i % 3]!,
      ...(i % 4 === 0 && { [fields.reference]: `QH-${2_300 + i * 7}` }),
    })
}

/** What is long finished is out of the way; a task noted twice became one. */
function tidyUp(scene: Scene, write: Writer): void {
  const { engine, who, on } = scene
  for (const { id } of oldestClosed.all(engine.reader))
    write.update('projects', id, { archivedAt: write.at })
  const kept = find(scene, 'Renew the clinic insurance schedule')
  const twice = insertTask(engine, write, {
    title: 'Insurance schedule, Copperbeck',
    clientId: who('Copperbeck'),
    assignees: [who('Imogen')],
    due: on(8),
    creatorId: who('Imogen'),
  })
  if (kept !== undefined)
    patchTask(engine, write, needContext(engine, twice), { archived: true, mergedInto: kept })
}

export function furnish(scene: Scene, files: KeptFiles): void {
  const as = <T>(name: string, work: (write: Writer) => T): T =>
    scene.engine.journal.change(by(scene, name), work).result
  const own = as('Imogen', (write): Own => ({ tags: makeTags(write), fields: makeFields(write) }))
  as('Imogen', (write) => noteRound(scene, write))
  as('Marisol', (write) => {
    markTasks(scene, own, write)
    fillFields(scene, own, write)
  })
  as('Imogen', (write) => makeParts(scene, { own, files }, write))
  as('Runa', (write) => joinClinic(scene, files, write))
  as('Imogen', (write) => tidyUp(scene, write))
  as('Imogen', (write) => keepViews(scene, own, write))
}
