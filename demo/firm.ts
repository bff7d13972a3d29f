import { insertProject } from '#server/areas/templates/start.ts'
import Holidays from 'date-holidays'
import type { IsoDate } from '#core/brands.ts'
import { addWorkingDays, isWorkingDay } from '#core/calendar/calendar.ts'
import { addDays, isoDate, toInstant, toLocal } from '#core/calendar/dates.ts'
import type { LocalTime } from '#core/brands.ts'
import type { Filling, Makes, SeriesBody } from '#contract/clockwork.ts'
import type { RuleDefinition } from '#contract/rules.ts'
import type { Database } from '#server/database/open.ts'
import { handClock } from '#server/engine/clock.ts'
import { createEngine } from '#server/engine/engine.ts'
import type { FileStore } from '#server/engine/files.ts'
import { ENGINE, type Writer } from '#server/engine/journal.ts'
import { createRunner } from '#server/engine/runner.ts'
import { insertRule } from '#server/areas/rules/service.ts'
import { insertSeries } from '#server/areas/series/service.ts'
import { insertTask, needContext, patchTask } from '#server/areas/tasks/write.ts'
import { insertTemplate } from '#server/areas/templates/service.ts'
import { hashPassword } from '#server/http/sessions.ts'
import { furnish } from './details.ts'
import {
  dueBy,
  dueWithin,
  noticesBefore,
  stillOpenIn,
  untickedOf,
  waitingBefore,
} from './queries.ts'
import { address, CLIENTS, CONTRACTORS, FULL, MEMBERS, PASSWORD } from './people.ts'
import { demoTemplates } from './templates.ts'

const ZONE = 'Europe/London'
const WEEKS_BACK = 10

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

/** Bank holidays of England around a year, named, substitutes included. */
export function englishHolidays(year: number): { date: IsoDate; name: string }[] {
  const source = new Holidays('GB', 'ENG')
  return [year - 1, year, year + 1].flatMap((y) =>
    source
      .getHolidays(y)
      .filter((h) => h.type === 'public')
      .map((h) => ({
        date: isoDate(h.date.slice(0, 10)),
        name: h.name.replace(/ \(substitute day\)/, ' (substitute)'),
      })),
  )
}

const ladder = (team: number, manager: number): RuleDefinition => ({
  trigger: 'late',
  conditions: {
    match: 'all',
    of: [
      { field: 'state', op: 'is-not', value: 'in-review' },
      {
        match: 'any',
        of: [
          { field: 'priority', op: 'in', value: ['high', 'urgent'] },
          { field: 'client tier', op: 'in', value: ['gold', 'silver'] },
        ],
      },
    ],
  },
  rungs: [
    {
      key: 'r1',
      delay: { days: 1, unit: 'working', time: '09:00' },
      actions: [
        {
          kind: 'remind',
          who: { is: 'assignees' },
          daily: true,
          text: '{task} for {client} is {days late} late',
        },
      ],
    },
    {
      key: 'r2',
      delay: { days: 3, unit: 'working', time: '09:00' },
      actions: [
        {
          kind: 'tell',
          who: { is: 'lead' },
          mail: true,
          text: '{task} for {client} is {days late} late',
        },
      ],
    },
    {
      key: 'r3',
      delay: { days: 5, unit: 'working', time: '09:00' },
      actions: [
        { kind: 'assign', who: { is: 'team', id: team } },
        { kind: 'set-priority', to: 'urgent' },
      ],
    },
    {
      key: 'r4',
      delay: { days: 7, unit: 'working', time: '09:00' },
      actions: [
        {
          kind: 'tell',
          who: { is: 'person', id: manager },
          mail: true,
          text: '{task} for {client} has slipped {days late}',
        },
        {
          kind: 'make-task',
          title: 'Call the practice manager about {task}',
          who: { is: 'person', id: manager },
        },
      ],
    },
  ],
})

/**
 * Makes Quillhaven in an empty database, with ten weeks of history up to `now`: the real engine
 * runs through them day by day while seeded colleagues do their work, mostly on time.
 */
export async function makeDemoFirm(db: Database, now: number, files?: FileStore): Promise<void> {
  const today = toLocal(now, ZONE).date
  const first = addDays(today, -7 * WEEKS_BACK)
  const at = (day: IsoDate, time: string) => toInstant(day, time as LocalTime, ZONE)
  const clock = handClock(at(first, '08:00'))
  const engine = createEngine(db, clock, undefined, files)
  const { journal, firm, reader } = engine
  const runner = createRunner(engine)
  const random = seeded(Number(today.replaceAll('-', '')))
  // One salt for all: these are demo passwords, printed in the README, and hashing is slow by
  // design.
  const passwordHash = await hashPassword(PASSWORD)
  const ids = new Map<string, number>()
  const who = (name: string): number =>
    ids.get(name) ?? [...ids].find(([n]) => n.startsWith(name))![1]
  const teams = new Map<string, number>()
  const templates = new Map<string, number>()
  const stubborn = new Set<number>()

  journal.change(ENGINE, (write) => {
    write.insert('firm', {
      id: 1,
      name: 'Quillhaven',
      zone: ZONE,
      week: ['MO', 'TU', 'WE', 'TH', 'FR'],
      hours: FULL,
      demo: true,
    })
    for (const h of englishHolidays(+today.slice(0, 4))) write.insert('holidays', h)
    for (const c of CLIENTS)
      ids.set(c.short, write.insert('clients', { name: c.name, short: c.short, tier: c.tier }))
    for (const m of MEMBERS) {
      ids.set(
        m.name,
        write.insert('people', {
          name: m.name,
          email: address(m.name),
          title: m.title,
          access: m.access,
          hours: m.hours ?? null,
          passwordHash,
        }),
      )
      if (!m.team) continue
      if (!teams.has(m.team)) teams.set(m.team, write.insert('teams', { name: m.team }))
      write.insert('teamMembers', { teamId: teams.get(m.team)!, personId: who(m.name) })
    }
    for (const g of CONTRACTORS)
      ids.set(
        g.name,
        write.insert('people', {
          name: g.name,
          email: address(g.name, 'contractor.example'),
          title: g.title,
          access: 'contractor',
          passwordHash,
        }),
      )
    for (const c of CLIENTS)
      ids.set(
        c.contact,
        write.insert('people', {
          name: c.contact,
          email: address(c.contact, `${c.short.toLowerCase().replace(/[^a-z]/g, '')}.example`),
          title: `Practice manager, ${c.short}`,
          access: 'client',
          clientId: who(c.short),
          passwordHash,
        }),
      )
    for (const t of demoTemplates()) templates.set(t.name, insertTemplate(write, t))
    const days = (from: number, to: number, person: string, reason: string) =>
      write.insert('timeOff', {
        personId: who(person),
        firstDay: addDays(today, from),
        lastDay: addDays(today, to),
        reason,
      })
    days(4, 8, 'Tobias', 'on leave')
    days(16, 18, 'Nadia', 'training')
    days(-30, -24, 'Piers', 'on leave')
  })

  const person = (name: string): Filling => ({ person: who(name) })
  const team = (name: string): Filling => ({ team: teams.get(name)! })
  const project = (
    template: string,
    client: string,
    lead: string,
    name: string,
    roles: Record<string, Filling>,
    of: 'month' | 'quarter' = 'month',
    which: 'before' | 'same' = 'before',
  ): Makes => ({
    kind: 'project',
    templateId: templates.get(template)!,
    clientId: who(client),
    leadId: who(lead),
    roles,
    name,
    period: { of, which },
  })
  const task = (
    title: string,
    client: string | null,
    people: string[],
    estimate: number,
    period: 'week' | 'month' = 'week',
    checklist: string[] = [],
  ): Makes => ({
    kind: 'task',
    title,
    description: '',
    clientId: client === null ? null : who(client),
    projectId: null,
    assignees: people.map(who),
    estimate,
    checklist,
    period: { of: period, which: 'after' },
  })

  const BOOKS = [
    ['Mossgate', 'Tobias', 'Marisol'],
    ['Larkmoor', 'Wendel', 'Marisol'],
    ['Penhollow', 'Tobias', 'Marisol'],
    ['Greywether', 'Marisol', 'Imogen'],
    ['Copperbeck', 'Pell & Dray', 'Marisol'],
    ['Saltreed', 'Wendel', 'Marisol'],
    ['Tarn & Teasel', 'Tobias', 'Marisol'],
    ['Wrenfield', 'Pell & Dray', 'Imogen'],
  ] as const
  const PAYROLL = [
    ['Mossgate', 'Devika', 'Piers'],
    ['Larkmoor', 'Devika', 'Imogen'],
    ['Copperbeck', 'Piers', 'Devika'],
    ['Greywether', 'Piers', 'Devika'],
    ['Penhollow', 'Devika', 'Piers'],
    ['Saltreed', 'Piers', 'Devika'],
    ['Tarn & Teasel', 'Devika', 'Piers'],
    ['Wrenfield', 'Piers', 'Imogen'],
  ] as const
  const list: SeriesBody[] = [
    ...BOOKS.map(([client, keeper, reviewer]): SeriesBody => ({
      name: `Books, ${client}`,
      leadDays: 13,
      schedule: { start: addDays(first, -5), rule: { workday: 5, of: 'month' } },
      makes: project(
        'Month-end books',
        client,
        'Marisol',
        '{client}, books for {period: MMMM yyyy}',
        {
          bookkeeper: person(keeper),
          reviewer: person(reviewer),
          'payroll-lead': person('Devika'),
        },
      ),
    })),
    ...PAYROLL.map(([client, lead, second]): SeriesBody => ({
      name: `Payroll, ${client}`,
      leadDays: 8,
      schedule: { start: first, rule: { workday: -4, of: 'month' } },
      makes: project(
        'Monthly payroll',
        client,
        lead,
        '{client}, payroll {period: MMMM}',
        { 'payroll-lead': person(lead), 'second-pair-of-eyes': person(second) },
        'month',
        'same',
      ),
    })),
    ...(['Mossgate', 'Greywether'] as const).map((client): SeriesBody => ({
      name: `VAT, ${client}`,
      leadDays: 11,
      schedule: {
        start: `${first.slice(0, 8)}07`,
        rule: 'FREQ=MONTHLY;INTERVAL=3;BYMONTHDAY=7',
        roll: 'preceding',
      },
      makes: project(
        'VAT return',
        client,
        'Marisol',
        '{client}, VAT for {period: Q yyyy}',
        { bookkeeper: person('Tobias'), reviewer: person('Marisol') },
        'quarter',
      ),
    })),
    {
      name: 'Supplier payment run',
      leadDays: 3,
      schedule: { start: `${first}T15:00`, rule: 'FREQ=MONTHLY;BYDAY=2FR,-1FR', roll: 'preceding' },
      makes: task('Supplier payment run', null, ['Marisol', 'Imogen'], 60, 'week', [
        'Statements matched',
        'Limits checked',
        'File released',
      ]),
    },
    {
      name: 'Weekly rota, Larkmoor',
      leadDays: 4,
      schedule: { start: `${first}T12:00`, rule: 'FREQ=WEEKLY;BYDAY=TU' },
      makes: task('Publish rota for week {period: ww}', 'Larkmoor', ['Runa'], 45),
    },
    {
      name: 'Weekly rota, Mossgate',
      leadDays: 4,
      schedule: { start: `${first}T12:00`, rule: 'FREQ=WEEKLY;BYDAY=TU' },
      makes: task('Publish rota for week {period: ww}', 'Mossgate', ['Joss'], 45),
    },
    {
      name: 'Insurance claims batch',
      leadDays: 1,
      schedule: { start: first, rule: 'FREQ=WEEKLY;BYDAY=MO,TH', roll: 'following' },
      makes: task('Send insurance claims batch', 'Greywether', ['Beatriz'], 50),
    },
    {
      name: 'Register check, Greywether',
      leadDays: 3,
      schedule: { start: first, rule: 'FREQ=WEEKLY;INTERVAL=4;BYDAY=WE', roll: 'following' },
      makes: project(
        'Controlled-drugs register check',
        'Greywether',
        'Nadia',
        '{client}, register check {date: d MMMM}',
        { checker: person('Osei'), reviewer: person('Nadia') },
      ),
    },
    {
      name: 'Capacity and lateness review',
      leadDays: 1,
      schedule: { start: `${first}T10:30`, rule: 'FREQ=WEEKLY;BYDAY=MO', roll: 'following' },
      makes: task('Review capacity and what slipped', null, ['Imogen'], 45, 'week', [
        'Past-due list',
        'Load next fortnight',
        'Loose ends',
      ]),
    },
    {
      name: 'Rates review',
      leadDays: 10,
      schedule: {
        start: `${today.slice(0, 4)}-01-04`,
        rule: 'FREQ=YEARLY;BYMONTH=1,7;BYDAY=MO;BYSETPOS=1',
        roll: 'following',
      },
      makes: task('Review rates and allowances', null, ['Imogen', 'Casper'], 180, 'month'),
    },
  ]
  journal.change({ kind: 'person', id: who('Imogen') }, (write) => {
    for (const body of list) insertSeries(engine, write, body, who('Imogen'))
    insertRule(
      engine,
      write,
      {
        name: 'Late client records',
        ownerId: who('Imogen'),
        definition: ladder(teams.get('Accounts')!, who('Imogen')),
      },
      true,
    )
    insertRule(
      engine,
      write,
      {
        name: 'Bronze clients, gently',
        ownerId: who('Runa'),
        definition: {
          trigger: 'late',
          conditions: { match: 'all', of: [{ field: 'client tier', op: 'is', value: 'bronze' }] },
          rungs: [
            {
              key: 'r1',
              delay: { days: 2, unit: 'working', time: '10:00' },
              actions: [
                {
                  kind: 'remind',
                  who: { is: 'assignees' },
                  daily: false,
                  text: '{task} for {client} was due {due: d MMMM}',
                },
              ],
            },
          ],
        },
      },
      false,
    )
  })

  const starts: [number, string, string, string, string, number, Record<string, Filling>][] = [
    [
      -16,
      'New clinic joining',
      'Hollin Street',
      'Runa',
      'Hollin Street, joining',
      -16,
      {
        'account-lead': person('Runa'),
        bookkeeper: person('Wendel'),
        'payroll-lead': person('Piers'),
      },
    ],
    [
      -15,
      'Clinic leaving',
      'Dunmarrow',
      'Runa',
      'Dunmarrow, leaving',
      16,
      {
        'account-lead': person('Runa'),
        'payroll-lead': person('Piers'),
        bookkeeper: team('Accounts'),
      },
    ],
    [
      -20,
      'Yearly equipment calibration',
      'Tarn & Teasel',
      'Nadia',
      'Tarn & Teasel, yearly calibration',
      11,
      { 'compliance-lead': person('Imogen'), engineer: person('Corrie Engineering') },
    ],
    [
      -24,
      'Inspection readiness',
      'Wrenfield',
      'Nadia',
      'Wrenfield, inspection',
      18,
      { 'compliance-lead': person('Nadia'), 'practice-support': person('Teo') },
    ],
    [
      -28,
      'Inspection readiness',
      'Penhollow',
      'Nadia',
      'Penhollow, inspection',
      2,
      { 'compliance-lead': person('Osei'), 'practice-support': person('Beatriz') },
    ],
    [
      -12,
      'Yearly equipment calibration',
      'Copperbeck',
      'Nadia',
      'Copperbeck, yearly calibration',
      24,
      { 'compliance-lead': person('Osei'), engineer: person('Corrie Engineering') },
    ],
  ]

  for (let day = first; day <= today; day = addDays(day, 1)) {
    for (const [begin, template, client, lead, name, anchor, roles] of starts)
      if (addDays(today, begin) === day) {
        clock.set(at(day, '09:30'))
        journal.change({ kind: 'person', id: who(lead) }, (write) =>
          insertProject(engine, write, templates.get(template)!, {
            name,
            clientId: who(client),
            leadId: who(lead),
            anchor: addDays(today, anchor),
            roles,
            creatorId: who(lead),
          }),
        )
      }
    const evening = Math.min(at(day, '16:50'), now)
    for (let next = runner.nextAt(); next !== null && next <= evening; next = runner.nextAt()) {
      clock.set(Math.max(clock.now(), next))
      runner.tick()
    }
    if (evening < clock.now() || (day === today && now < at(day, '16:50'))) break
    clock.set(evening)
    if (isWorkingDay(firm.calendar(), day)) workDay(day)
    // Two pieces that Imogen has been meaning to do: one well up the ladder, one on its first rung.
    for (const [back, title, client, minutes] of [
      [8, 'Chase missing supplier statements', 'Larkmoor', 30],
      [5, 'Reconcile card takings by hand', 'Penhollow', 90],
    ] as const)
      if (addWorkingDays(firm.calendar(), today, -back, 'following') === day)
        journal.change({ kind: 'person', id: who('Imogen') }, (write) => {
          const id = insertTask(engine, write, {
            title,
            clientId: who(client),
            assignees: [who('Imogen'), ...(back === 5 ? [who('Tobias')] : [])],
            due: addWorkingDays(firm.calendar(), today, -(back === 8 ? 4 : 1), 'following'),
            estimate: minutes,
            state: back === 8 ? 'waiting' : 'under-way',
            creatorId: who('Imogen'),
          })
          stubborn.add(id)
        })
  }
  clock.set(now)
  handWork()
  furnish(
    engine,
    who,
    CLIENTS.filter((c) => c.short !== 'Dunmarrow').map((c) => c.short),
  )
  runner.tick()
  // What was mailed in the past weeks went out then; the last day's still goes, through the
  // stand-in.
  journal.change(ENGINE, (write) => {
    const before = now - 86_400_000
    for (const mail of waitingBefore.all(reader, { at: before }))
      write.update('outbox', mail.id, { state: 'sent', attempts: 1, sentAt: mail.createdAt })
    for (const notice of noticesBefore.all(reader, { at: now - 2 * 86_400_000 }))
      write.update('notices', notice.id, { readAt: notice.at + 3_600_000 })
  })

  /**
   * Colleagues at work: most tasks are done on their day, some late, a few not at all for a while.
   */
  function workDay(day: IsoDate): void {
    const open = dueBy.all(reader, { day: addWorkingDays(firm.calendar(), day, 2) })
    for (const each of open) {
      if (each.due === null || each.person === null || stubborn.has(each.id)) continue
      const draw = seeded(each.id * 7919 + Number(today.slice(8)))()
      const slip =
        draw < 0.74 ? 0 : draw < 0.85 ? 1 : draw < 0.91 ? 2 : draw < 0.95 ? 4 : draw < 0.98 ? 8 : 14
      const doneOn = addWorkingDays(firm.calendar(), each.due, slip, 'following')
      const actor = { kind: 'person' as const, id: each.person }
      if (doneOn <= day)
        journal.change(actor, (write) => {
          for (const item of untickedOf.all(reader, { task: each.id }))
            write.update('checklistItems', item.id, { done: true })
          patchTask(engine, write, needContext(engine, each.id), { state: 'done' })
          closeIfDone(write, each.id)
        })
      else if (each.state === 'not-started' && random() < 0.45)
        journal.change(actor, (write) =>
          patchTask(engine, write, needContext(engine, each.id), {
            state: random() < 0.22 ? 'waiting' : 'under-way',
          }),
        )
    }
  }

  function closeIfDone(write: Writer, taskId: number): void {
    const { projectId: project } = needContext(engine, taskId).task
    if (project !== null && !stillOpenIn.get(reader, { project }))
      write.update('projects', project, { closedAt: write.at })
  }

  /** Odds and ends of the present day that no series makes. */
  function handWork(): void {
    const cal = firm.calendar()
    const on = (n: number) => addWorkingDays(cal, today, n, 'following')
    journal.change({ kind: 'person', id: who('Imogen') }, (write) => {
      const add = (
        title: string,
        client: string | null,
        people: string[],
        due: IsoDate | null,
        time: string | null,
        estimate: number | null,
        more: object = {},
      ) =>
        insertTask(engine, write, {
          title,
          clientId: client === null ? null : who(client),
          assignees: people.map(who),
          due,
          dueTime: time,
          estimate,
          creatorId: who('Imogen'),
          ...more,
        })
      add(
        'Call the new clinic about opening balances',
        'Hollin Street',
        ['Imogen'],
        on(0),
        null,
        30,
      )
      add(
        'Answer the insurer’s query on the claim batch',
        'Greywether',
        ['Imogen', 'Beatriz'],
        on(0),
        '15:00',
        30,
        { state: 'waiting' },
      )
      add('Check the payment limits at the bank', null, ['Imogen'], on(0), '17:00', 20, {
        checklist: ['Current limit', 'Second signatory'],
      })
      add('Settle who covers Tobias next week', null, ['Imogen'], on(1), null, 30, {
        priority: 'high',
      })
      add(
        'Agree the December rota with the practice',
        'Mossgate',
        ['Imogen', 'Joss'],
        on(1),
        '11:00',
        30,
      )
      add('Prepare the quarterly numbers for Casper', null, ['Imogen'], on(2), null, 120, {
        state: 'under-way',
      })
      add('Talk to Saltreed about late records', 'Saltreed', ['Imogen'], on(4), null, 45)
      add('Renew the clinic insurance schedule', 'Copperbeck', ['Imogen'], on(8), null, 60)
      add('Write down how we hand over a register', null, ['Imogen'], null, null, 90)
      add('Find a second calibration engineer', null, [], null, null, 60)
      add('Compare card-terminal fees', null, ['Marisol'], null, null, 45)
      add('Send the spare autoclave back', 'Tarn & Teasel', [], on(3), null, 30)
      add('Upload the October drugs invoices', 'Mossgate', ['Hester'], on(2), null, null)
      add('Approve the payroll figures', 'Mossgate', ['Hester'], on(1), '12:00', null)
      add('Month-end accruals, open points', 'Copperbeck', ['Pell & Dray'], on(3), null, 60)
      const review = add(
        'Rota for week 49, checked against leave',
        'Larkmoor',
        ['Devika'],
        on(0),
        null,
        30,
        { state: 'in-review' },
      )
      write.insert('comments', {
        taskId: review,
        authorId: who('Devika'),
        body: '<p>Done, with the two swaps Runa asked for. Can you check the Saturday?</p>',
        at: write.at - 7_200_000,
      })
    })
    // A day in the middle of things: some of today's work is under way, one piece waits to be
    // checked.
    const mine = dueWithin.all(reader, { state: 'not-started', from: today, to: on(2) })
    mine.forEach(({ id }, i) => {
      if (i % 4 === 0)
        journal.change({ kind: 'person', id: who('Marisol') }, (write) =>
          patchTask(engine, write, needContext(engine, id), {
            state: i % 12 === 0 ? 'in-review' : 'under-way',
          }),
        )
    })
  }
}
