import type { IsoDate, LocalTime } from '#core/brands.ts'
import { isWorkingDay } from '#core/calendar/calendar.ts'
import { addDays, toInstant, toLocal } from '#core/calendar/dates.ts'
import type { Database } from '#server/database/open.ts'
import { handClock } from '#server/engine/clock.ts'
import { assemble } from '#server/assembly.ts'
import type { FileStore } from '#server/engine/files.ts'
import { ENGINE } from '#server/engine/journal.ts'
import { insertSeries } from '#server/areas/series/service.ts'
import { hashPassword } from '#server/http/sessions.ts'
import { keepFiles } from './files.ts'
import { found, ZONE } from './found.ts'
import { furnish } from './furnish.ts'
import { handWork } from './hand-work.ts'
import { PASSWORD } from './people.ts'
import { noticesBefore, waitingBefore } from './queries.ts'
import { makeRules } from './rules.ts'
import { shareOut } from './sharing.ts'
import { by, type Scene } from './scene.ts'
import { describeClients } from './clients.ts'
import { setStanding } from './standing.ts'
import { demoSeries } from './series.ts'
import { startProjects, startsOn } from './starts.ts'
import { colleagues, meanTo } from './workday.ts'

const WEEKS_BACK = 10
const DAY = 86_400_000
const at = (day: IsoDate, time: string) => toInstant(day, time as LocalTime, ZONE)

function setUp(scene: Scene, first: IsoDate): void {
  const { engine, who } = scene
  engine.journal.change(by(scene, 'Imogen'), (write) => {
    for (const body of demoSeries(scene, first)) insertSeries(engine, write, body, who('Imogen'))
    makeRules(scene, write)
  })
}

/** What was mailed in the past weeks went out then; the last day's still goes, by the stand-in. */
function tidyPost({ engine: { journal, reader } }: Scene, now: number): void {
  journal.change(ENGINE, (write) => {
    for (const mail of waitingBefore.all(reader, { at: now - DAY }))
      write.update('outbox', mail.id, { state: 'sent', attempts: 1, sentAt: mail.createdAt })
    for (const notice of noticesBefore.all(reader, { at: now - 2 * DAY }))
      write.update('notices', notice.id, { readAt: notice.at + 3_600_000 })
  })
}

/**
 * Makes Quillhaven in an empty database, with ten weeks of history up to `now`: the real engine
 * runs through them day by day while seeded colleagues do their work, mostly on time.
 */
export async function makeDemoFirm(db: Database, now: number, files?: FileStore): Promise<void> {
  const today = toLocal(now, ZONE).date
  const first = addDays(today, -7 * WEEKS_BACK)
  const clock = handClock(at(first, '08:00'))
  const { engine, runner } = assemble(db, clock, { ...(files && { files }) })
  // One salt for all: these are demo passwords, printed in the README, and hashing is slow by
  // design.
  const scene = await found(engine, today, hashPassword(PASSWORD))
  setUp(scene, first)
  const { work, putOff } = colleagues(scene)
  for (let day = first; day <= today; day = addDays(day, 1)) {
    const starts = startsOn(scene, day)
    if (starts.length) clock.set(at(day, '09:30'))
    startProjects(scene, starts)
    const evening = Math.min(at(day, '16:50'), now)
    if (evening < clock.now()) break
    runner.runUntil(evening)
    if (day === today && now < at(day, '16:50')) break
    if (isWorkingDay(engine.firm.calendar(), day)) work(day)
    meanTo(scene, day, putOff)
    runner.tick()
  }
  clock.set(now)
  handWork(scene)
  furnish(scene, await keepFiles(engine.files))
  shareOut(scene)
  setStanding(scene)
  describeClients(scene)
  runner.tick()
  tidyPost(scene, now)
}
