import type { LocalStamp } from '#core/brands.ts'
import { localStamp } from '#core/calendar/dates.ts'
import { identityOf } from '#core/recurrence/coming.ts'
import { isByDates } from '#core/recurrence/course.ts'
import { occurrences } from '#core/recurrence/schedule.ts'
import { Refusal } from '#core/refusal.ts'
import type { DateOf, Decided, MovedDate } from '#contract/series.ts'
import type { Large } from '../../engine/portions.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, needMember, needStructure, sightOf, type Viewer } from '../../engine/viewer.ts'
import { needProject } from '../projects/sheet.ts'
import { needSight } from '../tasks/service.ts'
import { isOver } from './coming.ts'
import { moveBefore } from './make.ts'
import { dealtBetween, seriesById, type Dealt, type SeriesRecord } from './queries.ts'

/**
 * Other holidays or working days move what was not made yet, and leave what was: here is what of it
 * would lie elsewhere now, and is moved where somebody says so.
 */

/** Further ahead than anything is made. */
const LAST = '9999-12-31'

/** Where a date of a schedule falls by the working days as they are now. */
function fallsNow({ firm }: Engine, row: SeriesRecord, scheduled: LocalStamp): LocalStamp | null {
  const { schedule } = row
  if (!isByDates(schedule)) return null
  const identity = identityOf(schedule)
  const key = identity(scheduled)
  const from = typeof schedule.rule === 'string' ? scheduled : key
  for (const one of occurrences(schedule, firm.calendar(), localStamp(from).date)) {
    const own = identity(one.scheduled)
    if (own === key) return one.date
    if (own > key) return null
  }
  return null
}

/** Where one that was made would lie now, if that is elsewhere; what was moved by hand stays. */
function elsewhere(engine: Engine, dealt: Dealt): LocalStamp | null {
  const { occurrence, task } = dealt
  const { scheduled, date, state, seriesId } = occurrence
  if (state !== 'made' || !dealt.there || isOver(dealt)) return null
  // Its date was changed since: it is no longer where the series put it.
  if (task && task.due !== localStamp(date).date) return null
  const row = seriesById.get(engine.reader, { id: seriesId })?.series
  const now = row ? fallsNow(engine, row, scheduled) : null
  return now === null || now === date ? null : now
}
const madeAhead = (engine: Engine, viewer: Viewer): Dealt[] =>
  dealtBetween.all(engine.reader, {
    ...{ first: engine.firm.today(), after: LAST },
    ...{ today: engine.firm.today(), sight: sightOf(viewer) },
  })

/** What was made for days that are not what they were, as far as somebody sees it. */
export function movedDates(engine: Engine, viewer: Viewer): MovedDate[] {
  needMember(viewer, 'see what other holidays would move')
  return madeAhead(engine, viewer).flatMap((dealt): MovedDate[] => {
    const { occurrence, task, project } = dealt
    const to = elsewhere(engine, dealt)
    if (to === null) return []
    return [
      {
        ...{ series: occurrence.seriesId, scheduled: occurrence.scheduled },
        ...{ date: occurrence.date, to },
        task: task && { id: task.id, title: task.title },
        project: project && { id: project.id, name: project.name },
      },
    ]
  })
}

/** Moves what was made to where it would lie now, with all of it that is open: one change, one undo. */
export function moveMade(
  engine: Engine,
  viewer: Viewer,
  { dates }: { readonly dates: readonly DateOf[] },
): Large<Decided> {
  needStructure(viewer, 'move what series made')
  const wanted = new Set(dates.map(({ series, scheduled }) => `${series} ${scheduled}`))
  const found = madeAhead(engine, viewer).filter(({ occurrence }) =>
    wanted.has(`${occurrence.seriesId} ${occurrence.scheduled}`),
  )
  return engine.journal.large({
    actor: actorOf(viewer),
    size: found.length * 20,
    *work(write) {
      const left: string[] = []
      let done = 0
      for (const dealt of found) {
        const to = elsewhere(engine, dealt)
        if (to === null) continue
        try {
          if (dealt.task) needSight(engine, viewer, dealt.task.id)
          if (dealt.project) needProject(engine, viewer, dealt.project.id)
        } catch (error) {
          if (!(error instanceof Refusal)) throw error
          left.push(error.message)
          continue
        }
        yield* moveBefore(engine, write, dealt, to)
        write.update('occurrences', dealt.occurrence.id, { date: to })
        done++
        yield
      }
      return { done, left }
    },
  })
}
