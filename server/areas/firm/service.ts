import type { DateWays } from '#contract/desks.ts'
import type { Retention } from '#contract/setup.ts'
import { RECORDS } from '#contract/words.ts'
import { firmRow } from '../../engine/queries.ts'
import type { Changed } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, needMember, needStructure, type Viewer } from '../../engine/viewer.ts'

/** For how long the firm keeps its records; null for good. */
export function retention({ firm }: Engine, viewer: Viewer): Retention {
  needMember(viewer, 'see how long records are kept')
  const { journal, runs, notices, mail } = firm.retention()
  return {
    journal: journal ?? null,
    runs: runs ?? null,
    notices: notices ?? null,
    mail: mail ?? null,
  }
}

/** Sets for how long records are kept; what is older goes with the next daily sweep. */
export function setRetention(engine: Engine, viewer: Viewer, body: Retention): Changed<Retention> {
  needStructure(viewer, 'say how long records are kept')
  const kept = RECORDS.flatMap((kind) => {
    const days = body[kind]
    return days === null ? [] : [[kind, days] as const]
  })
  const { change } = engine.journal.change(actorOf(viewer), (write) => {
    if (firmRow.get(engine.reader)) write.update('firm', 1, { retention: Object.fromEntries(kept) })
  })
  return { result: retention(engine, viewer), change }
}

/** Sets how dates and times are written and picked. */
export function setDates(engine: Engine, viewer: Viewer, body: DateWays): Changed<DateWays> {
  needStructure(viewer, 'say how dates are written')
  const { change } = engine.journal.change(actorOf(viewer), (write) => {
    if (firmRow.get(engine.reader)) write.update('firm', 1, { dates: body })
  })
  return { result: engine.firm.dates(), change }
}
