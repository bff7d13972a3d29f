import type { ClientId } from '#core/brands.ts'
import { addDays, localStamp } from '#core/calendar/dates.ts'
import type { Makes, Round, RoundCell, RoundDate } from '#contract/series.ts'
import type { Engine } from '../../engine/services.ts'
import { needMember, sightOf, type Viewer } from '../../engine/viewer.ts'
import { allClients } from '../people/queries.ts'
import { templateNames } from '../templates/queries.ts'
import { askedDays, comingOf, firstOf, grouped, readAll, type Read } from './coming.ts'
import { allSeries, dealtBetween, type Dealt, type SeriesRecord } from './queries.ts'
import { pastDate } from './went.ts'

/** The round: clients and what repeats for them, over some days. */

/** As many days as a round is over. */
const MOST_DAYS = 366

/** What work of a kind is called: its template, or its title without what is filled in. */
const titleOf = (title: string): string =>
  title
    .replace(/\{[^}]*\}/g, ' ')
    .replace(/\s+/g, ' ')
    .replace(/^[\s,:–-]+|[\s,:–-]+$/g, '') || title

/** The column that what a series makes stands in: work of one template, or of one title. */
function columnOf(makes: Makes, templates: ReadonlyMap<number, string>) {
  if (makes.kind === 'project')
    return { key: `p${makes.templateId}`, name: templates.get(makes.templateId) ?? 'Projects' }
  const name = titleOf(makes.title)
  return { key: `t${name.toLowerCase()}`, name }
}

type Days = ReturnType<typeof askedDays>

const dealtDate = (engine: Engine, row: SeriesRecord, dealt: Dealt): RoundDate => {
  const { at: _, went, ...rest } = pastDate(engine, dealt)
  return { ...rest, series: row.id, stand: went, byHand: false }
}
/** What a series has still to come in these days. */
function* expected(
  engine: Engine,
  row: SeriesRecord,
  { from, to, read }: Days & { read: Read },
): Generator<RoundDate> {
  if (!row.on || row.endedAt !== null) return
  for (const { scheduled, date, byHand } of comingOf(engine, row, read, from)) {
    const day = localStamp(date).date
    if (day > to) return
    if (day >= from)
      yield {
        ...{ series: row.id, scheduled, date, byHand, stand: 'expected' },
        ...{ lateBy: 0, why: '', project: null, task: null },
      }
  }
}

type Named = { readonly id: number; readonly name: string } | null
interface Shown {
  readonly client: Named
  readonly cells: Map<string, Filled>
}
type Filled = RoundCell & { readonly dates: RoundDate[] }

/** Two cells of one client and kind of work, as one. */
function together(a: Filled | undefined, b: Filled): Filled {
  if (!a) return b
  const next = [a.next, b.next].filter((date) => date !== null).sort()[0] ?? null
  return { ...b, series: [...a.series, ...b.series], dates: [...a.dates, ...b.dates], next }
}
/** What one series has in these days. */
function cellOf(
  engine: Engine,
  row: SeriesRecord,
  of: Days & { read: Read; dealt: readonly Dealt[]; column: string },
): Filled {
  const dates = [
    ...of.dealt.map((one) => dealtDate(engine, row, one)),
    ...expected(engine, row, of),
  ]
  const goesOn = dates.length === 0 && row.on && row.endedAt === null
  return {
    column: of.column,
    series: [{ id: row.id, name: row.name, on: row.on }],
    dates,
    next: goesOn ? (firstOf(comingOf(engine, row, of.read))?.date ?? null) : null,
  }
}
/** What became of dates in these days, by series. */
const dealtIn = (engine: Engine, viewer: Viewer, { from, to }: Days) =>
  grouped(
    dealtBetween
      .all(engine.reader, {
        ...{ first: from, after: addDays(to, 1) },
        ...{ today: engine.firm.today(), sight: sightOf(viewer) },
      })
      .map((one) => ({ ...one, seriesId: one.occurrence.seriesId })),
  )

/** What became of the dates of a series, by whom it was for: its own client, or those of events. */
function byClient(client: ClientId | null, dealt: readonly Dealt[]): Map<number, Dealt[]> {
  const found = new Map<number, Dealt[]>([[client ?? 0, []]])
  for (const one of dealt) {
    const id = client ?? one.occurrence.clientId ?? 0
    const own = found.get(id)
    if (own) own.push(one)
    else found.set(id, [one])
  }
  return found
}

/** How every client's repeated work stands over some days. Its cost is that of what is shown. */
export function round(engine: Engine, viewer: Viewer, asked: { from: string; to: string }): Round {
  needMember(viewer, 'see the round')
  const days = askedDays(asked, MOST_DAYS)
  const read = readAll(engine)
  const dealt = dealtIn(engine, viewer, days)
  const names = templateNames.all(engine.reader)
  const templates = new Map(names.map(({ id, name }) => [Number(id), name]))
  const columns = new Map<string, { key: string; name: string; count: number }>()
  const rows = new Map<number, Shown>()
  const clients = new Map(allClients.all(engine.reader).map((one) => [Number(one.id), one]))
  for (const { series: row, client } of allSeries.all(engine.reader)) {
    if (row.archivedAt !== null) continue
    const column = columnOf(row.makes, templates)
    columns.set(column.key, { ...column, count: (columns.get(column.key)?.count ?? 0) + 1 })
    for (const [id, own] of byClient(client?.id ?? null, dealt.get(row.id) ?? [])) {
      const of = { ...days, read: read(row), dealt: own, column: column.key }
      const cell = cellOf(engine, row, of)
      const shown = rows.get(id) ?? { client: clients.get(id) ?? null, cells: new Map() }
      rows.set(id, shown)
      shown.cells.set(column.key, together(shown.cells.get(column.key), cell))
    }
  }
  return {
    columns: [...columns.values()]
      .sort((a, b) => b.count - a.count || a.name.localeCompare(b.name))
      .map(({ key, name }) => ({ key, name })),
    rows: [...rows.values()]
      .sort((a, b) => byName(a.client, b.client))
      .map(({ client, cells }) => ({
        client: client && { id: client.id, name: client.name },
        cells: [...cells.values()].map((cell) => ({ ...cell, dates: cell.dates.sort(byDate) })),
      })),
  }
}
const byDate = (a: RoundDate, b: RoundDate): number =>
  a.date < b.date ? -1 : a.date > b.date ? 1 : 0
/** What is done for nobody stands last. */
const byName = (a: Named, b: Named): number =>
  a && b ? a.name.localeCompare(b.name) : a ? -1 : b ? 1 : 0
