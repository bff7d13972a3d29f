import { insertTask, needContext, patchTask } from '#server/areas/tasks/write.ts'
import type { Writer } from '#server/engine/journal.ts'
import { dueWithin } from './queries.ts'
import { by, type Scene } from './scene.ts'

/** Odds and ends of the present day that no series makes. */

interface Odd {
  readonly title: string
  readonly client?: string
  readonly people?: readonly string[]
  /** In working days from today. */
  readonly due?: number
  readonly time?: string
  readonly estimate?: number
  readonly more?: object
}

const ODDS: readonly Odd[] = [
  {
    title: 'Call the new clinic about opening balances',
    client: 'Hollin Street',
    people: ['Imogen'],
    due: 0,
    estimate: 30,
  },
  {
    title: 'Answer the insurer’s query on the claim batch',
    client: 'Greywether',
    people: ['Imogen', 'Beatriz'],
    due: 0,
    time: '15:00',
    estimate: 30,
    more: { state: 'waiting' },
  },
  {
    title: 'Check the payment limits at the bank',
    people: ['Imogen'],
    due: 0,
    time: '17:00',
    estimate: 20,
    more: { checklist: ['Current limit', 'Second signatory'] },
  },
  {
    title: 'Settle who covers Tobias next week',
    people: ['Imogen'],
    due: 1,
    estimate: 30,
    more: { priority: 'high' },
  },
  {
    title: 'Agree the December rota with the practice',
    client: 'Mossgate',
    people: ['Imogen', 'Joss'],
    due: 1,
    time: '11:00',
    estimate: 30,
  },
  {
    title: 'Prepare the quarterly numbers for Casper',
    people: ['Imogen'],
    due: 2,
    estimate: 120,
    more: { state: 'under-way' },
  },
  {
    title: 'Talk to Saltreed about late records',
    client: 'Saltreed',
    people: ['Imogen'],
    due: 4,
    estimate: 45,
  },
  {
    title: 'Renew the clinic insurance schedule',
    client: 'Copperbeck',
    people: ['Imogen'],
    due: 8,
    estimate: 60,
  },
  { title: 'Write down how we hand over a register', people: ['Imogen'], estimate: 90 },
  { title: 'Find a second calibration engineer', estimate: 60 },
  { title: 'Compare card-terminal fees', people: ['Marisol'], estimate: 45 },
  { title: 'Send the spare autoclave back', client: 'Tarn & Teasel', due: 3, estimate: 30 },
  { title: 'Upload the October drugs invoices', client: 'Mossgate', people: ['Hester'], due: 2 },
  {
    title: 'Approve the payroll figures',
    client: 'Mossgate',
    people: ['Hester'],
    due: 1,
    time: '12:00',
  },
  {
    title: 'Month-end accruals, open points',
    client: 'Copperbeck',
    people: ['Pell & Dray'],
    due: 3,
    estimate: 60,
  },
]

function noteOdds({ engine, who, on }: Scene, write: Writer): void {
  const note = ({ title, client, people = [], due, time, estimate, more }: Odd): number =>
    insertTask(engine, write, {
      title,
      clientId: client === undefined ? null : who(client),
      assignees: people.map(who),
      due: due === undefined ? null : on(due),
      dueTime: time ?? null,
      estimate: estimate ?? null,
      creatorId: who('Imogen'),
      ...more,
    })
  for (const odd of ODDS) note(odd)
  const review = note({
    title: 'Rota for week 49, checked against leave',
    client: 'Larkmoor',
    people: ['Devika'],
    due: 0,
    estimate: 30,
    more: { state: 'in-review' },
  })
  write.insert('comments', {
    taskId: review,
    authorId: who('Devika'),
    body: '<p>Done, with the two swaps Runa asked for. Can you check the Saturday?</p>',
    at: write.at - 7_200_000,
  })
}

/** Some of the day's work is under way, one piece waits to be checked. */
function beginTheDay(scene: Scene): void {
  const { engine, today, on } = scene
  const mine = dueWithin.all(engine.reader, { state: 'not-started', from: today, to: on(2) })
  mine.forEach(({ id }, i) => {
    if (i % 4 === 0)
      engine.journal.change(by(scene, 'Marisol'), (write) =>
        patchTask(engine, write, needContext(engine, id), {
          state: i % 12 === 0 ? 'in-review' : 'under-way',
        }),
      )
  })
}

export function handWork(scene: Scene): void {
  scene.engine.journal.change(by(scene, 'Imogen'), (write) => noteOdds(scene, write))
  beginTheDay(scene)
}
