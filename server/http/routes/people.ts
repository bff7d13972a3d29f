import Joi from 'joi'
import type { PersonId } from '#core/brands.ts'
import { holidaysBetween } from '#core/calendar/calendar.ts'
import { isoDate } from '#core/calendar/dates.ts'
import { id, isoDay, line, shape } from '#contract/common.ts'
import { mePatch } from '#contract/people.ts'
import { editMe } from '../../areas/people/service.ts'
import { listNotices, markRead } from '../../areas/notices/service.ts'
import { directory, whoAmI } from '../../areas/people/directory.ts'
import { ribbon, todaySheet } from '../../areas/today/service.ts'
import { dropPhoto, LARGEST_PHOTO, readPhoto, setPhoto } from '../../areas/people/photo.ts'
import { Download } from '../download.ts'
import { read, upload, write, type Route } from '../route.ts'

const which = shape<{ id: number | null }>({ id: id.allow(null).required() })

/** Whoever asks: who they are, what they choose from, their day, what they were told. */
export const PEOPLE: readonly Route[] = [
  read({
    path: '/me',
    who: 'everybody',
    about: 'Who is signed in',
    handle: ({ engine, viewer }) => whoAmI(engine, viewer),
  }),
  write('patch', {
    path: '/me',
    who: 'everybody',
    about: 'Change what I am called, and how I like things written',
    body: mePatch,
    handle: ({ engine, viewer, body }) => editMe(engine, viewer, body),
  }),
  read({
    path: '/people/:id/photo',
    who: 'everybody',
    about: 'The photo of somebody; guests see their own',
    query: Joi.object({ v: line(64) }),
    handle: async ({ engine, viewer, param }) => {
      const { type, bytes } = await readPhoto(engine, viewer, param('id'))
      return new Download('photo', type, bytes, true)
    },
  }),
  upload({
    path: '/me/photo',
    who: 'everybody',
    about: 'Set my photo',
    raw: { limit: LARGEST_PHOTO },
    handle: ({ engine, viewer, body }) => setPhoto(engine, viewer, body),
  }),
  write('delete', {
    path: '/me/photo',
    who: 'everybody',
    about: 'Take my photo off',
    handle: ({ engine, viewer }) => dropPhoto(engine, viewer),
  }),
  read({
    path: '/directory',
    who: 'everybody',
    about: 'People, teams, clients and running projects to choose from',
    handle: ({ engine, viewer }) => directory(engine, viewer),
  }),
  read({
    path: '/today',
    who: 'everybody',
    about: 'What needs me',
    apart: 'read',
    handle: ({ engine, viewer }) => todaySheet(engine, viewer),
  }),
  read<{ from?: string; days?: number; person?: PersonId }>({
    path: '/ribbon',
    who: 'everybody',
    about: 'Days of load: fifteen of one’s own, or as many of whom is asked about',
    apart: 'read',
    query: Joi.object({ from: isoDay, days: Joi.number().integer().min(1).max(62), person: id }),
    handle: ({ engine, viewer, query: { from, ...whose } }) =>
      ribbon(engine, viewer, from ? isoDate(from, 'from') : engine.firm.today(), whose),
  }),
  read<{ from: string; to: string }>({
    path: '/holidays',
    who: 'everybody',
    about: 'Holidays of the firm from one day to another, both included',
    query: Joi.object({ from: isoDay.required(), to: isoDay.required() }),
    handle: ({ engine, query: { from, to } }) =>
      holidaysBetween(engine.firm.calendar(), isoDate(from, 'from'), isoDate(to, 'to')),
  }),
  read({
    path: '/notices',
    who: 'everybody',
    about: 'What Fernwick told me',
    handle: ({ engine, viewer }) => listNotices(engine, viewer),
  }),
  write('post', {
    path: '/notices/read',
    who: 'everybody',
    about: 'Mark as read',
    body: which,
    handle: ({ engine, viewer, body }) => markRead(engine, viewer, body.id),
  }),
]
