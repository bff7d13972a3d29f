import * as shapes from '#contract/series.ts'
import { switchBody } from '#contract/common.ts'
import {
  archiveSeries,
  bringSeries,
  copySeries,
  makeSeries,
  removeSeries,
  saveSeries,
  switchSeries,
} from '../../areas/series/service.ts'
import { seriesAudits } from '../../areas/series/audit.ts'
import { readSeries } from '../../areas/series/calendar-file.ts'
import { decideDates } from '../../areas/series/decide.ts'
import { moveMade, movedDates } from '../../areas/series/moved.ts'
import { round } from '../../areas/series/round.ts'
import { expectedWork } from '../../areas/series/expected.ts'
import { seriesCalendar } from '../../areas/series/export.ts'
import { listSeries, nextDates, seriesSheet } from '../../areas/series/sheet.ts'
import { Download } from '../download.ts'
import { read, unchanged, upload, write, type Route } from '../route.ts'

/** Series, and the dates of schedules. */
export const SERIES: readonly Route[] = [
  read({
    path: '/series',
    about: 'Series, each with its next date',
    apart: 'read',
    handle: ({ engine, viewer }) => listSeries(engine, viewer),
  }),
  write('post', {
    path: '/series',
    who: 'managers',
    about: 'Make a series',
    body: shapes.seriesBody,
    status: 201,
    handle: ({ engine, viewer, body }) => makeSeries(engine, viewer, body),
  }),
  write('post', {
    path: '/series/dates',
    about: 'The next twelve dates of a schedule',
    body: shapes.datesBody,
    apart: 'work',
    handle: ({ engine, viewer, body }) => unchanged(nextDates(engine, viewer, body)),
  }),
  upload({
    path: '/series/read',
    who: 'managers',
    about: 'Read recurring events of an iCalendar file, to look at before they are brought in',
    raw: { limit: 4 * 1024 * 1024 },
    apart: 'work',
    handle: ({ engine, viewer, body }) => unchanged(readSeries(engine, viewer, body)),
  }),
  write('post', {
    path: '/series/bring',
    who: 'managers',
    about: 'Bring in series, as one change',
    body: shapes.bringBody,
    status: 201,
    handle: ({ engine, viewer, body }) => bringSeries(engine, viewer, body),
  }),
  write('post', {
    path: '/series/decide',
    who: 'managers',
    about: 'Make dates of series now, leave them out, move them or put them back',
    body: shapes.decideBody,
    handle: ({ engine, viewer, body }) => decideDates(engine, viewer, body),
  }),
  read({
    path: '/series/export',
    about: 'Series as an iCalendar file',
    apart: 'work',
    handle: ({ engine, viewer }) =>
      new Download('series.ics', 'text/calendar; charset=utf-8', seriesCalendar(engine, viewer)),
  }),
  read({
    path: '/series/moved',
    about: 'What was made for days that other holidays would move',
    apart: 'read',
    handle: ({ engine, viewer }) => movedDates(engine, viewer),
  }),
  write('post', {
    path: '/series/moved',
    who: 'managers',
    about: 'Move what was made to where it would lie now',
    body: shapes.datesOfBody,
    handle: ({ engine, viewer, body }) => moveMade(engine, viewer, body),
  }),
  read({
    path: '/series/round',
    about: 'How every client’s repeated work stands over some days',
    query: shapes.roundQuery,
    apart: 'read',
    handle: ({ engine, viewer, query }) => round(engine, viewer, query),
  }),
  read({
    path: '/series/expected',
    who: 'everybody',
    about: 'Work that series will make on some days',
    query: shapes.expectedQuery,
    apart: 'read',
    handle: ({ engine, viewer, query }) => expectedWork(engine, viewer, query),
  }),
  read({
    path: '/series/audits',
    about: 'What the look over all series found, night by night',
    handle: ({ engine, viewer }) => seriesAudits(engine, viewer),
  }),
  read({
    path: '/series/:id',
    about: 'One series',
    handle: ({ engine, viewer, param }) => seriesSheet(engine, viewer, param('id')),
  }),
  write('put', {
    path: '/series/:id',
    who: 'managers',
    about: 'Save a series',
    body: shapes.seriesBody,
    handle: ({ engine, viewer, param, body, seen }) =>
      saveSeries(engine, viewer, param('id'), { body, seen }),
  }),
  write('post', {
    path: '/series/:id/copy',
    who: 'managers',
    about: 'Make another of a series, paused',
    status: 201,
    handle: ({ engine, viewer, param }) => copySeries(engine, viewer, param('id')),
  }),
  write('post', {
    path: '/series/:id/archive',
    who: 'managers',
    about: 'Put a series aside, paused, or back',
    body: switchBody,
    handle: ({ engine, viewer, param, body }) =>
      archiveSeries(engine, viewer, param('id'), body.on),
  }),
  write('delete', {
    path: '/series/:id',
    who: 'managers',
    about: 'Remove a series that has made nothing',
    handle: ({ engine, viewer, param }) => removeSeries(engine, viewer, param('id')),
  }),
  write('post', {
    path: '/series/:id/switch',
    who: 'managers',
    about: 'Pause or resume a series',
    body: switchBody,
    handle: ({ engine, viewer, param, body }) => switchSeries(engine, viewer, param('id'), body.on),
  }),
]
