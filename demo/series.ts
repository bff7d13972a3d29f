import type { IsoDate } from '#core/brands.ts'
import { addDays } from '#core/calendar/dates.ts'
import type { Filling } from '#contract/clockwork.ts'
import type { Makes, SeriesBody } from '#contract/series.ts'
import { person, type Scene } from './scene.ts'

/** The series that make what comes back: books, payroll, VAT, rotas, claims, reviews. */

const project = (
  { who, template: called }: Scene,
  template: string,
  client: string,
  lead: string,
  name: string,
  roles: Record<string, Filling>,
  of: 'month' | 'quarter' = 'month',
  which: 'before' | 'same' = 'before',
): Makes => ({
  kind: 'project',
  templateId: called(template),
  clientId: who(client),
  leadId: who(lead),
  roles,
  name,
  period: { of, which },
})
const task = (
  { who }: Scene,
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

const forClinics = (scene: Scene, first: IsoDate): SeriesBody[] => [
  ...BOOKS.map(([client, keeper, reviewer]): SeriesBody => ({
    name: `Books, ${client}`,
    leadDays: 13,
    ways: { carries: ['description', 'fields', 'files'] },
    schedule: { start: addDays(first, -5), rule: { workday: 5, of: 'month' } },
    makes: project(
      scene,
      'Month-end books',
      client,
      'Marisol',
      '{client}, books for {period: MMMM yyyy}',
      {
        bookkeeper: person(scene, keeper),
        reviewer: person(scene, reviewer),
        'payroll-lead': person(scene, 'Devika'),
      },
    ),
  })),
  ...PAYROLL.map(([client, lead, second]): SeriesBody => ({
    name: `Payroll, ${client}`,
    leadDays: 8,
    schedule: { start: first, rule: { workday: -4, of: 'month' } },
    makes: project(
      scene,
      'Monthly payroll',
      client,
      lead,
      '{client}, payroll {period: MMMM}',
      { 'payroll-lead': person(scene, lead), 'second-pair-of-eyes': person(scene, second) },
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
      scene,
      'VAT return',
      client,
      'Marisol',
      '{client}, VAT for {period: Q yyyy}',
      { bookkeeper: person(scene, 'Tobias'), reviewer: person(scene, 'Marisol') },
      'quarter',
    ),
  })),
]

const everyWeek = (scene: Scene, first: IsoDate): SeriesBody[] => [
  {
    name: 'Supplier payment run',
    leadDays: 3,
    schedule: { start: `${first}T15:00`, rule: 'FREQ=MONTHLY;BYDAY=2FR,-1FR', roll: 'preceding' },
    makes: task(scene, 'Supplier payment run', null, ['Marisol', 'Imogen'], 60, 'week', [
      'Statements matched',
      'Limits checked',
      'File released',
    ]),
  },
  {
    name: 'Weekly rota, Larkmoor',
    leadDays: 4,
    // A rota of a week that is over helps nobody.
    ways: { catchUp: 'latest' },
    schedule: { start: `${first}T12:00`, rule: 'FREQ=WEEKLY;BYDAY=TU' },
    makes: task(scene, 'Publish rota for week {period: ww}', 'Larkmoor', ['Runa'], 45),
  },
  {
    name: 'Weekly rota, Mossgate',
    leadDays: 4,
    // A rota of a week that is over helps nobody.
    ways: { catchUp: 'latest' },
    schedule: { start: `${first}T12:00`, rule: 'FREQ=WEEKLY;BYDAY=TU' },
    makes: task(scene, 'Publish rota for week {period: ww}', 'Mossgate', ['Joss'], 45),
  },
  {
    name: 'Insurance claims batch',
    leadDays: 1,
    schedule: { start: first, rule: 'FREQ=WEEKLY;BYDAY=MO,TH', roll: 'following' },
    makes: task(scene, 'Send insurance claims batch', 'Greywether', ['Beatriz'], 50),
  },
]

const seldom = (scene: Scene, first: IsoDate): SeriesBody[] => [
  {
    name: 'Register check, Greywether',
    leadDays: 3,
    schedule: { start: first, rule: 'FREQ=WEEKLY;INTERVAL=4;BYDAY=WE', roll: 'following' },
    makes: project(
      scene,
      'Controlled-drugs register check',
      'Greywether',
      'Nadia',
      '{client}, register check {date: d MMMM}',
      { checker: person(scene, 'Osei'), reviewer: person(scene, 'Nadia') },
    ),
  },
  {
    name: 'Capacity and lateness review',
    leadDays: 1,
    schedule: { start: `${first}T10:30`, rule: 'FREQ=WEEKLY;BYDAY=MO', roll: 'following' },
    makes: task(scene, 'Review capacity and what slipped', null, ['Imogen'], 45, 'week', [
      'Past-due list',
      'Load next fortnight',
      'Loose ends',
    ]),
  },
  {
    name: 'Rates review',
    leadDays: 10,
    schedule: {
      start: `${scene.today.slice(0, 4)}-01-04`,
      rule: 'FREQ=YEARLY;BYMONTH=1,7;BYDAY=MO;BYSETPOS=1',
      roll: 'following',
    },
    makes: task(scene, 'Review rates and allowances', null, ['Imogen', 'Casper'], 180, 'month'),
  },
]

/** All series, begun on the first day of the firm's history. */
export const demoSeries = (scene: Scene, first: IsoDate): SeriesBody[] => [
  ...forClinics(scene, first),
  ...everyWeek(scene, first),
  ...seldom(scene, first),
]
