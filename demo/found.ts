import type { IsoDate } from '#core/brands.ts'
import { addDays } from '#core/calendar/dates.ts'
import { ENGINE, type Writer } from '#server/engine/journal.ts'
import type { Engine } from '#server/engine/services.ts'
import { publicHolidays, type NamedDay, type Place } from '#server/areas/firm/holidays.ts'
import { insertTemplate } from '#server/areas/templates/service.ts'
import { address, CLIENTS, CONTRACTORS, FULL, LINES, MEMBERS } from './people.ts'
import { setScene, type Scene } from './scene.ts'
import { demoTemplates } from './templates.ts'

/** Founding the firm: its hours and holidays, clients, people in teams, templates. */

export const ZONE = 'Europe/London'
const HOME: Place = { country: 'GB', region: 'ENG' }

interface Known {
  readonly ids: Map<string, number>
  readonly teams: Map<string, number>
  readonly templates: Map<string, number>
}

function foundFirm(write: Writer, holidays: readonly NamedDay[]): void {
  write.insert('firm', {
    id: 1,
    name: 'Quillhaven',
    zone: ZONE,
    week: ['MO', 'TU', 'WE', 'TH', 'FR'],
    hours: FULL,
    demo: true,
    ...{ ...HOME, currency: 'GBP' },
  })
  for (const day of holidays) write.insert('holidays', day)
}

function hireMembers(write: Writer, { ids, teams }: Known, passwordHash: string): void {
  for (const { name, title, access, hours = null, team } of MEMBERS) {
    const email = address(name)
    const personId = write.insert('people', { name, email, title, access, hours, passwordHash })
    ids.set(name, personId)
    if (!team) continue
    if (!teams.has(team)) teams.set(team, write.insert('teams', { name: team }))
    write.insert('teamMembers', { teamId: teams.get(team)!, personId })
  }
}

/** Where a client's mail goes. */
const host = (short: string): string => `${short.toLowerCase().replace(/[^a-z]/g, '')}.example`

function inviteGuests(write: Writer, { ids }: Known, passwordHash: string): void {
  for (const { name, title } of CONTRACTORS) {
    const email = address(name, 'contractor.example')
    ids.set(
      name,
      write.insert('people', { name, email, title, access: 'contractor', passwordHash }),
    )
  }
  for (const { contact: name, short } of CLIENTS) {
    const email = address(name, host(short))
    const guest = { name, email, title: `Practice manager, ${short}`, passwordHash }
    ids.set(name, write.insert('people', { ...guest, access: 'client', clientId: ids.get(short)! }))
  }
}

/** Founds the firm; everybody has the same password. */
export async function found(engine: Engine, today: IsoDate, passwordHash: string): Promise<Scene> {
  const year = Number(today.slice(0, 4))
  const holidays = await publicHolidays(HOME, [year - 1, year, year + 1])
  const known: Known = { ids: new Map(), teams: new Map(), templates: new Map() }
  const scene = setScene(engine, today, known)
  engine.journal.change(ENGINE, (write) => {
    foundFirm(write, holidays)
    for (const { name, short, tier, phone = '', notes = '' } of CLIENTS) {
      const email = `office@${host(short)}`
      known.ids.set(short, write.insert('clients', { name, short, tier, phone, notes, email }))
    }
    hireMembers(write, known, passwordHash)
    for (const [name, manager, standIn] of LINES)
      write.update('people', known.ids.get(name)!, {
        managerId: known.ids.get(manager)!,
        ...(standIn !== undefined && { standInId: known.ids.get(standIn)! }),
      })
    for (const { short, lead, usual = {} } of CLIENTS) {
      const clientId = known.ids.get(short)!
      if (lead) write.update('clients', clientId, { leadId: known.ids.get(lead)! })
      for (const [role, name] of Object.entries(usual))
        write.insert('clientRoles', { clientId, role, personId: known.ids.get(name)! })
    }
    inviteGuests(write, known, passwordHash)
    for (const t of demoTemplates()) known.templates.set(t.name, insertTemplate(write, t))
    const away = (from: number, to: number, person: string, reason: string) =>
      write.insert('timeOff', {
        personId: scene.who(person),
        firstDay: addDays(today, from),
        lastDay: addDays(today, to),
        reason,
      })
    away(4, 8, 'Tobias', 'on leave')
    away(16, 18, 'Nadia', 'training')
    away(-30, -24, 'Piers', 'on leave')
    away(-1, 1, 'Osei', 'on leave')
    write.insert('timeOff', {
      ...{ personId: scene.who('Runa'), firstDay: addDays(today, 2), lastDay: addDays(today, 2) },
      ...{ minutes: 120, reason: 'at the dentist' },
    })
  })
  return scene
}
