import type { DateWays, Ways } from '#contract/desks.ts'
import type { Engine } from '../../engine/services.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { personById } from './queries.ts'

const NO_WAYS: Ways = { zone: null, first: null, clock: null, theme: null, quiet: null }

/** How somebody is told of dates and moments: as they like it, else as the firm does. */
export interface Told extends DateWays {
  /** In which zone moments are told; dates of work are the firm's, as everybody's. */
  readonly zone: string
  /** What they said themselves; null where as the firm, or the device. */
  readonly own: Ways
}
export function waysOf({ reader, firm }: Engine, viewer: Viewer): Told {
  const own = { ...NO_WAYS, ...personById.get(reader, { id: viewer.id })?.ways }
  const { first, clock } = firm.dates()
  return {
    ...{ own, zone: own.zone ?? firm.zone() },
    ...{ first: own.first ?? first, clock: own.clock ?? clock },
  }
}
