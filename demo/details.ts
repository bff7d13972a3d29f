import { homeOf } from '#server/areas/tasks/queries.ts'
import { setFields as setFieldsOf } from '#server/areas/tasks/values.ts'
import { setFollowers, setTags } from '#server/areas/tasks/links.ts'
import type { IsoDate } from '#core/brands.ts'
import { addWorkingDays } from '#core/calendar/calendar.ts'
import type { Clause, ViewDefinition } from '#contract/query.ts'
import type { Writer } from '#server/engine/journal.ts'
import type { Engine } from '#server/engine/services.ts'
import { statesOf } from '#server/areas/states/queries.ts'
import { insertTask, needContext, patchTask } from '#server/areas/tasks/write.ts'
import { barsPng, pagePdf } from './files.ts'
import {
  aboutMoney,
  aboutRecords,
  aboutRegisters,
  oldestClosed,
  openTask,
  projectCalled,
  statesIn,
} from './queries.ts'

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

/**
 * What people have added by hand over the weeks: tags, fields, subtasks, files, views, milestones,
 * updates.
 */
export function furnish(
  engine: Engine,
  who: (name: string) => number,
  clients: readonly string[],
): void {
  const { reader, journal, firm, files } = engine
  const today = firm.today()
  const on = (n: number): IsoDate => addWorkingDays(firm.calendar(), today, n, 'following')
  const as = (name: string) => ({ kind: 'person' as const, id: who(name) })
  const find = (title: string, client?: string) =>
    openTask.get(reader, { title, client: client === undefined ? null : who(client) })?.id
  const project = (name: string) => projectCalled.get(reader, { name })?.id
  const setFields = (
    write: Writer,
    task: { id: number; projectId: number | null },
    values: Record<string, string | number>,
  ) => {
    const home = task.projectId ? (homeOf.get(reader, { id: task.projectId }) ?? null) : null
    setFieldsOf(engine, write, { taskId: task.id, home }, values)
  }

  const { tags, fields } = journal.change(as('Imogen'), (write) => ({
    tags: Object.fromEntries(
      TAGS.map(([name, colour]) => [name, write.insert('tags', { name, colour })]),
    ) as Record<string, number>,
    fields: {
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
    },
  })).result

  // The round of every clinic, a little of it each week.
  journal.change(as('Imogen'), (write) => {
    clients.forEach((client, c) =>
      ROUND.forEach(([title, person, days, estimate], r) => {
        insertTask(engine, write, {
          title,
          clientId: who(client),
          assignees: [who(person)],
          due: on(days + ((c * 5 + r * 3) % 14)),
          estimate,
          creatorId: who('Imogen'),
        })
      }),
    )
  })

  const tag = (write: Writer, id: number | undefined, ...names: string[]) =>
    id !== undefined &&
    setTags(
      engine,
      write,
      id,
      names.map((n) => tags[n]!),
    )
  journal.change(as('Marisol'), (write) => {
    tag(write, find('Chase missing supplier statements'), 'records missing', 'client asked')
    tag(write, find('Answer the insurer’s query on the claim batch'), 'client asked')
    tag(write, find('Check the payment limits at the bank'), 'with the bank')
    tag(write, find('Compare card-terminal fees'), 'with the bank', 'quick')
    tag(write, find('Prepare the quarterly numbers for Casper'), 'year end')
    for (const { id } of aboutRegisters.all(reader)) tag(write, id, 'controlled drugs')
    const money = aboutMoney.all(reader)
    money.forEach((task, i) =>
      setFields(write, task, { [fields.amount]: 12_500 + ((i * 7_919) % 90_000) }),
    )
    const asked = aboutRecords.all(reader)
    asked.forEach((task, i) =>
      setFields(write, task, {
        [fields.records]: ['asked', 'part', 'here'][i % 3]!,
        ...(i % 4 === 0 && { [fields.reference]: `QH-${2_300 + i * 7}` }),
      }),
    )
  })

  // One piece of work with parts, whose dates and state follow them.
  journal.change(as('Imogen'), (write) => {
    const top = insertTask(engine, write, {
      title: 'Move Copperbeck to one supplier account',
      clientId: who('Copperbeck'),
      assignees: [who('Imogen')],
      datesFollow: true,
      stateFollows: true,
      creatorId: who('Imogen'),
      tags: [tags['client asked']!],
      followers: [who('Casper')],
      description:
        '<p>Three sites order from the same wholesaler under three accounts, and nobody sees ' +
        'the total.</p><ul><li>One account, three delivery addresses</li><li>Statements to ' +
        'us, not to the sites</li></ul><p>Done when <strong>one December statement</strong> ' +
        'covers all three.</p>',
    })
    const part = (
      title: string,
      people: string[],
      due: number,
      estimate: number,
      more: object = {},
    ) =>
      insertTask(engine, write, {
        title,
        parentId: top,
        clientId: who('Copperbeck'),
        assignees: people.map(who),
        start: on(due - 2),
        due: on(due),
        estimate,
        creatorId: who('Imogen'),
        ...more,
      })
    part('List what each site owes', ['Wendel'], 1, 60, { state: 'done' })
    const ask = part('Ask the wholesaler for one account', ['Imogen'], 3, 30, {
      state: 'under-way',
    })
    const count = part('Count what is on the shelves', ['Joss', 'Teo'], 6, 240, {
      doneBy: 'all',
      estimates: { [who('Joss')]: 120, [who('Teo')]: 120 },
    })
    insertTask(engine, write, {
      title: 'Book the out-of-hours fridge',
      parentId: count,
      clientId: who('Copperbeck'),
      assignees: [who('Teo')],
      due: on(4),
      estimate: 15,
      creatorId: who('Imogen'),
    })
    part('Close the old accounts', ['Wendel'], 10, 45)
    write.insert('comments', {
      taskId: ask,
      authorId: who('Imogen'),
      at: write.at - 3_600_000,
      body:
        `<p><span class="mention" data-person="${who('Wendel')}">@Wendel Ashgrove</span> can ` +
        `you send me the three account numbers?</p>`,
    })
    const file = (taskId: number, name: string, type: string, bytes: Buffer) =>
      write.insert('attachments', {
        taskId,
        name,
        type,
        size: bytes.length,
        digest: files.put(bytes),
        personId: who('Imogen'),
        at: write.at - 3_000_000,
      })
    file(top, 'Orders by site, October.png', 'image/png', barsPng([42, 31, 57, 38, 61, 29, 48, 66]))
    file(
      top,
      'Terms of the wholesaler.pdf',
      'application/pdf',
      pagePdf([
        'Terms of supply',
        'One account for several sites: yes, on request.',
        'Statements: monthly, to one address.',
      ]),
    )
    file(
      ask,
      'accounts.csv',
      'text/csv',
      Buffer.from('Site,Account\r\nCopper Lane,88120\r\nBeck Side,88214\r\nHill Top,90417\r\n'),
    )
    write.insert('attachments', {
      taskId: top,
      name: 'Wholesaler, trade desk',
      url: 'https://wholesaler.example/trade',
      personId: who('Imogen'),
      at: write.at - 2_000_000,
    })
    setFollowers(engine, write, ask, [who('Wendel'), who('Marisol')])
  })

  // Taking on a clinic: states of its own, milestones, what is said about it.
  const joining = project('Hollin Street, joining')
  if (joining !== undefined)
    journal.change(as('Runa'), (write) => {
      const set = write.insert('stateSets', { name: 'Taking on a clinic' })
      const own = new Map(
        statesOf(reader, 1).map((s, position) => [
          s.kind,
          write.insert('states', {
            setId: set,
            name:
              s.kind === 'waiting'
                ? 'With the clinic'
                : s.kind === 'in-review'
                  ? 'Owner to approve'
                  : s.name,
            kind: s.kind,
            colour: s.kind === 'waiting' ? 'clay' : null,
            only: s.kind === 'dropped' ? 'manager' : 'anyone',
            position,
          }),
        ]),
      )
      write.update('projects', joining, {
        stateSetId: set,
        description:
          '<p>Hollin Street comes to us from a firm that closes at the end of the quarter. ' +
          '<strong>Payroll must not miss a month.</strong></p>',
      })
      for (const task of statesIn.all(reader, { project: joining }))
        patchTask(engine, write, needContext(engine, task.id), { stateId: own.get(task.state)! })
      const mile = (name: string, date: IsoDate, owner: string, done = false) =>
        write.insert('milestones', {
          projectId: joining,
          name,
          date,
          ownerId: who(owner),
          doneAt: done ? write.at - 4 * 86_400_000 : null,
        })
      mile('Letter of engagement signed', on(-6), 'Runa', true)
      mile('First payroll under us', on(6), 'Piers')
      mile('Books opened', on(12), 'Marisol')
      write.insert('posts', {
        projectId: joining,
        authorId: who('Runa'),
        at: write.at - 5 * 86_400_000,
        body: '<p>Met the two partners. They want one person to ring, and that is Joss.</p>',
      })
      write.insert('posts', {
        projectId: joining,
        authorId: who('Runa'),
        health: 'watch',
        at: write.at - 86_400_000,
        body: '<p>The old firm has not sent the payroll history. Without it by Friday the first payroll is tight.</p>',
      })
      write.update('projects', joining, {
        health: 'watch',
        healthReason: 'The payroll history is still with the old firm.',
      })
      const bytes = pagePdf([
        'Letter of engagement',
        'Hollin Street Vets and Quillhaven',
        'Signed by both partners.',
      ])
      write.insert('attachments', {
        projectId: joining,
        name: 'Letter of engagement.pdf',
        type: 'application/pdf',
        size: bytes.length,
        digest: files.put(bytes),
        personId: who('Runa'),
        at: write.at - 5 * 86_400_000,
      })
    })

  // What is long finished is out of the way; a task noted twice became one.
  journal.change(as('Imogen'), (write) => {
    const old = oldestClosed.all(reader)
    for (const { id } of old) write.update('projects', id, { archivedAt: write.at })
    const kept = find('Renew the clinic insurance schedule')
    const twice = insertTask(engine, write, {
      title: 'Insurance schedule, Copperbeck',
      clientId: who('Copperbeck'),
      assignees: [who('Imogen')],
      due: on(8),
      creatorId: who('Imogen'),
    })
    if (kept !== undefined)
      patchTask(engine, write, needContext(engine, twice), { archived: true, mergedInto: kept })
  })

  // Views that people keep.
  const view = (part: Partial<ViewDefinition>, ...of: Clause[]): ViewDefinition => ({
    kind: 'list',
    scope: { of: 'firm' },
    filter: { match: 'all', of: [{ field: 'open', op: 'is', value: true }, ...of] },
    sort: [],
    group: 'due',
    columns: ['client', 'assignee', 'due', 'estimate', 'tag'].map((field) => ({
      field,
      width: field === 'tag' ? 150 : 110,
    })),
    colour: null,
    tree: true,
    step: 'month',
    ...part,
  })
  journal.change(as('Imogen'), (write) => {
    const keep = (name: string, shared: boolean, definition: ViewDefinition, pin: boolean) => {
      const id = write.insert('views', {
        name,
        ownerId: who('Imogen'),
        shared,
        definition,
      })
      if (pin) write.insert('viewPins', { personId: who('Imogen'), viewId: id })
    }
    keep(
      'Records we wait for',
      true,
      view(
        {
          group: `field:${fields.records}`,
          colour: `field:${fields.records}`,
          columns: [
            { field: 'client', width: 110 },
            { field: 'assignee', width: 120 },
            { field: 'due', width: 110 },
            { field: `field:${fields.reference}`, width: 110 },
            { field: `field:${fields.amount}`, width: 100 },
          ],
        },
        { field: `field:${fields.records}`, op: 'filled' },
      ),
      true,
    )
    keep(
      'Slipped, by person',
      true,
      view({ group: 'assignee', colour: 'priority' }, { field: 'late', op: 'is', value: true }),
      true,
    )
    keep(
      'The next five weeks',
      false,
      view(
        { kind: 'timeline', group: 'assignee', colour: 'client', step: 'week' },
        { field: 'due', op: 'before', value: { days: 25, working: true } },
      ),
      true,
    )
    keep(
      'Waiting longer than a week',
      true,
      view(
        { group: 'client' },
        { field: 'kind', op: 'in', value: ['waiting'] },
        { field: 'entered', op: 'before', value: { days: -5, working: true } },
      ),
      false,
    )
  })
}
