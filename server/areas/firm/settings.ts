import { WEEKDAYS } from '#core/calendar/calendar.ts'
import { refuse } from '#core/refusal.ts'
import type { FirmPatch, FirmSheet, MailBody } from '#contract/firm.ts'
import type { Changed } from '../../engine/journal.ts'
import { firmRow, mailRow } from '../../engine/queries.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, needStructure, type Viewer } from '../../engine/viewer.ts'
import { yearsAhead } from './begin.ts'
import { holidaysFrom } from './days-off.ts'
import { publicHolidays, type Place } from './holidays.ts'

/** What a firm says of itself: asked as it began, and changed here. */

const needFirm = ({ reader }: Engine) =>
  firmRow.get(reader) ?? refuse('not-found', 'There is no firm here yet.')
function needOwner({ access }: Viewer, what: string): void {
  if (access !== 'owner') refuse('forbidden', `Only an owner may ${what}.`)
}

export function firmSheet(engine: Engine, viewer: Viewer): FirmSheet {
  needStructure(viewer, 'see how the firm is set up')
  const { name, country, region, zone, hours, currency, address, proxies } = needFirm(engine)
  const { told, reader, firm } = engine
  const mail = mailRow.get(reader)
  return {
    ...{ name, country, region, zone, hours, currency, address, proxies },
    demandsCodes: firm.demandsCodes(),
    projectNames: firm.projectNames(),
    mail: mail
      ? {
          ...{ host: mail.host, port: mail.port, security: mail.security, user: mail.user },
          ...{ from: mail.from, hasPassword: mail.password !== '' },
        }
      : null,
    told: { ...told, address: told.address?.href ?? null },
  }
}

/** Where the server stands, and who gets in how: an owner's to say. */
const OWNERS: readonly (keyof FirmPatch)[] = ['address', 'proxies', 'demandsCodes']

/** Changes what the firm is. @throws Refusal `forbidden` */
export function editFirm(engine: Engine, viewer: Viewer, patch: FirmPatch): Changed<FirmSheet> {
  needStructure(viewer, 'change the firm')
  if (OWNERS.some((field) => patch[field] !== undefined))
    needOwner(viewer, 'say where the firm is opened and how people get in')
  needFirm(engine)
  const { hours } = patch
  const week = hours && WEEKDAYS.filter((day) => (hours[day] ?? 0) > 0)
  const { change } = engine.journal.change(actorOf(viewer), (write) =>
    write.update('firm', 1, { ...patch, ...(week && { week }) }),
  )
  return { result: firmSheet(engine, viewer), change }
}

/**
 * Says where the firm is: its holidays from today on become those of the place, but for what was
 * entered here. @throws Refusal
 */
export async function moveFirm(
  engine: Engine,
  viewer: Viewer,
  place: Place,
): Promise<Changed<FirmSheet>> {
  needStructure(viewer, 'say where the firm is')
  needFirm(engine)
  const today = engine.firm.today()
  const days = await publicHolidays(place, yearsAhead(today))
  const { change } = engine.journal.change(actorOf(viewer), (write) => {
    write.update('firm', 1, { country: place.country, region: place.region })
    const own = new Set<string>()
    for (const { id, date, own: isOwn } of holidaysFrom.all(engine.reader, { date: today }))
      if (isOwn) own.add(date)
      else write.remove('holidays', id)
    for (const day of days)
      if (day.date >= today && !own.has(day.date)) write.insert('holidays', day)
  })
  return { result: firmSheet(engine, viewer), change }
}

/** Names the mail server, in place of any there was; its password is in no journal. */
export function setMail(engine: Engine, viewer: Viewer, body: MailBody): Changed<FirmSheet> {
  needOwner(viewer, 'name the mail server')
  needFirm(engine)
  engine.journal.change(actorOf(viewer), (write) => {
    const now = mailRow.get(engine.reader)
    // A password belongs to its server: it is not handed to another one.
    const same = now?.host === body.host && now.user === body.user
    const password = body.password ?? (same ? now.password : '')
    if (now) write.remove('mailServer', now.id)
    write.insert('mailServer', { id: 1, ...body, password })
  })
  return { result: firmSheet(engine, viewer), change: null }
}
/** From now on mail goes to the stand-in again. */
export function dropMail(engine: Engine, viewer: Viewer): Changed<FirmSheet> {
  needOwner(viewer, 'take the mail server out')
  engine.journal.change(actorOf(viewer), (write) => {
    if (mailRow.get(engine.reader)) write.remove('mailServer', 1)
  })
  return { result: firmSheet(engine, viewer), change: null }
}
