import Joi from 'joi'
import { line } from '#contract/common.ts'
import { queryText, type TaskQuery } from '#contract/query.ts'
import { toIcs } from '../../areas/exports/calendar.ts'
import { toCsv } from '../../areas/exports/csv.ts'
import { sheetData } from '../../areas/exports/sheet.ts'
import { toXlsx } from '../../areas/exports/xlsx.ts'
import { Download } from '../download.ts'
import { read, type Route } from '../route.ts'
import { ANYTHING } from './tasks.ts'

const XLSX = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet'

interface Wanted {
  readonly q?: TaskQuery
  readonly format: 'csv' | 'xlsx' | 'ics'
  readonly columns?: string
  readonly name?: string
}

/** What a view finds, as files. */
export const EXPORTS: readonly Route[] = [
  read<Wanted>({
    path: '/tasks/export',
    who: 'everybody',
    about: 'What a query finds, as a file: CSV, XLSX or iCalendar',
    query: Joi.object({
      q: queryText,
      format: Joi.valid('csv', 'xlsx', 'ics').required(),
      columns: Joi.string().max(2_000),
      name: line(100),
    }),
    apart: 'work',
    handle: async ({ engine, viewer, query }) => {
      const { q = ANYTHING, name = 'Work', format, columns = '' } = query
      if (format === 'ics') {
        const bytes = toIcs(engine, viewer, name, q)
        return new Download(`${name}.ics`, 'text/calendar; charset=utf-8', bytes)
      }
      const data = sheetData(engine, viewer, q, columns.split(',').filter(Boolean))
      if (format === 'csv')
        return new Download(`${name}.csv`, 'text/csv; charset=utf-8', toCsv(data))
      return new Download(`${name}.xlsx`, XLSX, await toXlsx(name, data, engine.clock.now()))
    },
  }),
]
