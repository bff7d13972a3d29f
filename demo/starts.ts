import type { Filling } from '#contract/clockwork.ts'
import type { IsoDate } from '#core/brands.ts'
import { addDays } from '#core/calendar/dates.ts'
import { projectSteps } from '#server/areas/templates/start.ts'
import { drained } from '#server/engine/portions.ts'
import { MEMBERS } from './people.ts'
import { by, person, type Scene } from './scene.ts'

/** Projects that people start by hand, in calendar days from today. */
interface Start {
  readonly template: string
  readonly client: string
  readonly lead: string
  readonly name: string
  readonly begins: number
  readonly anchor: number
  /** Who fills each role: a person, or a team. */
  readonly roles: Readonly<Record<string, string>>
}

const STARTS: readonly Start[] = [
  {
    template: 'New clinic joining',
    client: 'Hollin Street',
    lead: 'Runa',
    name: 'Hollin Street, joining',
    begins: -16,
    anchor: -16,
    roles: {
      'account-lead': 'Runa',
      bookkeeper: 'Wendel',
      'payroll-lead': 'Piers',
    },
  },
  {
    template: 'Clinic leaving',
    client: 'Dunmarrow',
    lead: 'Runa',
    name: 'Dunmarrow, leaving',
    begins: -15,
    anchor: 16,
    roles: {
      'account-lead': 'Runa',
      'payroll-lead': 'Piers',
      bookkeeper: 'Accounts',
    },
  },
  {
    template: 'Yearly equipment calibration',
    client: 'Tarn & Teasel',
    lead: 'Nadia',
    name: 'Tarn & Teasel, yearly calibration',
    begins: -20,
    anchor: 11,
    roles: {
      'compliance-lead': 'Imogen',
      engineer: 'Corrie Engineering',
    },
  },
  {
    template: 'Inspection readiness',
    client: 'Wrenfield',
    lead: 'Nadia',
    name: 'Wrenfield, inspection',
    begins: -24,
    anchor: 18,
    roles: { 'compliance-lead': 'Nadia', 'practice-support': 'Teo' },
  },
  {
    template: 'Inspection readiness',
    client: 'Penhollow',
    lead: 'Nadia',
    name: 'Penhollow, inspection',
    begins: -28,
    anchor: 2,
    roles: {
      'compliance-lead': 'Osei',
      'practice-support': 'Beatriz',
    },
  },
  {
    template: 'Yearly equipment calibration',
    client: 'Copperbeck',
    lead: 'Nadia',
    name: 'Copperbeck, yearly calibration',
    begins: -12,
    anchor: 24,
    roles: {
      'compliance-lead': 'Osei',
      engineer: 'Corrie Engineering',
    },
  },
]

const filling = (scene: Scene, name: string): Filling =>
  MEMBERS.some(({ team }) => team === name) ? { team: scene.team(name) } : person(scene, name)

/** What is started on a day. */
export const startsOn = (scene: Scene, day: IsoDate): readonly Start[] =>
  STARTS.filter(({ begins }) => addDays(scene.today, begins) === day)

export function startProjects(scene: Scene, starts: readonly Start[]): void {
  const { engine, today, who, template } = scene
  for (const start of starts)
    engine.journal.change(by(scene, start.lead), (write) =>
      drained(
        projectSteps(engine, write, template(start.template), {
          name: start.name,
          clientId: who(start.client),
          leadId: who(start.lead),
          anchor: addDays(today, start.anchor),
          roles: Object.fromEntries(
            Object.entries(start.roles).map(([role, name]) => [role, filling(scene, name)]),
          ),
          creatorId: who(start.lead),
        }),
      ),
    )
}
