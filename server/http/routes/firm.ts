import {
  bringBody,
  clientPatch,
  clientsAs,
  clientStatesBody,
  mergeClientBody,
  newClients,
} from '#contract/clients.ts'
import * as firm from '#contract/firm.ts'
import * as shapes from '#contract/people.ts'
import { bringClients, exportClients, readClients } from '../../areas/clients/files.ts'
import { mergeClient } from '../../areas/clients/merge.ts'
import { clientPage } from '../../areas/clients/page.ts'
import { editClient, makeClients } from '../../areas/clients/service.ts'
import { listClients, saveClientStates } from '../../areas/clients/states.ts'
import { readHolidays } from '../../areas/firm/days-file.ts'
import { enterHolidays, listHolidays, removeHoliday } from '../../areas/firm/days-off.ts'
import { dropMail, editFirm, firmSheet, moveFirm, setMail } from '../../areas/firm/settings.ts'
import { invite, inviteAgain } from '../../areas/people/invite.ts'
import { dropFactorOf } from '../../areas/people/second-factor.ts'
import { handOver, leave } from '../../areas/people/leave.ts'
import { endTokenOf } from '../../areas/people/tokens.ts'
import { addTimeOff, personPage, removeTimeOff } from '../../areas/people/page.ts'
import { editPerson, listPeople } from '../../areas/people/service.ts'
import { Download } from '../download.ts'
import { read, unchanged, upload, write, type Route } from '../route.ts'

/** Who belongs to the firm, and whom it works for. */
export const FIRM: readonly Route[] = [
  read({
    path: '/firm',
    who: 'managers',
    about: 'What the firm is, and how it is reached',
    handle: ({ engine, viewer }) => firmSheet(engine, viewer),
  }),
  write('patch', {
    path: '/firm',
    who: 'managers',
    about: 'Change what the firm is',
    body: firm.firmPatch,
    handle: ({ engine, viewer, body }) => editFirm(engine, viewer, body),
  }),
  write('put', {
    path: '/firm/place',
    who: 'managers',
    about: 'Say where the firm is; its holidays come with it',
    body: firm.placeBody,
    handle: ({ engine, viewer, body }) => moveFirm(engine, viewer, body),
  }),
  read({
    path: '/firm/holidays',
    who: 'managers',
    about: 'The firm’s holidays from this year on',
    handle: ({ engine, viewer }) => listHolidays(engine, viewer),
  }),
  write('post', {
    path: '/firm/holidays',
    who: 'managers',
    about: 'Enter holidays, whole days or halves; what stood on those days gives way',
    body: firm.holidaysBody,
    status: 201,
    handle: ({ engine, viewer, body }) => enterHolidays(engine, viewer, body),
  }),
  write('delete', {
    path: '/firm/holidays/:holiday',
    who: 'managers',
    about: 'Take a holiday out: the firm works on it',
    handle: ({ engine, viewer, param }) => removeHoliday(engine, viewer, param('holiday')),
  }),
  upload({
    path: '/firm/holidays/read',
    who: 'managers',
    about: 'Read holidays out of an iCalendar file, to look at before they are entered',
    raw: { limit: 4 * 1024 * 1024 },
    apart: 'work',
    handle: ({ engine, viewer, body }) => unchanged(readHolidays(engine, viewer, body)),
  }),
  write('put', {
    path: '/firm/mail',
    who: 'owners',
    about: 'Name the mail server',
    body: firm.mailBody,
    handle: ({ engine, viewer, body }) => setMail(engine, viewer, body),
  }),
  write('delete', {
    path: '/firm/mail',
    who: 'owners',
    about: 'Take the mail server out',
    handle: ({ engine, viewer }) => dropMail(engine, viewer),
  }),
  read({
    path: '/people',
    who: 'managers',
    about: 'Everybody, with their addresses and whether they are in',
    handle: ({ engine, viewer }) => listPeople(engine, viewer),
  }),
  write('post', {
    path: '/people',
    who: 'managers',
    about: 'Invite people',
    body: shapes.inviteBody,
    status: 201,
    handle: ({ engine, viewer, body }) => invite(engine, viewer, body),
  }),
  write('patch', {
    path: '/people/:id',
    who: 'managers',
    about: 'Change what somebody is, or say that they left',
    body: shapes.personPatch,
    handle: ({ engine, viewer, param, body }) => editPerson(engine, viewer, param('id'), body),
  }),
  read({
    path: '/people/:id',
    who: 'members',
    about:
      'A person’s page: hours, time off, manager, stand-in; one’s own, or anybody’s as a manager',
    handle: ({ engine, viewer, param }) => personPage(engine, viewer, param('id')),
  }),
  read({
    path: '/people/:id/hand-over',
    who: 'managers',
    about: 'What somebody holds that others would have to look after if they left',
    handle: ({ engine, viewer, param }) => handOver(engine, viewer, param('id')),
  }),
  write('post', {
    path: '/people/:id/leave',
    who: 'managers',
    about: 'Say that somebody left, and hand over what they held, as one change',
    body: shapes.leaveBody,
    handle: ({ engine, viewer, param, body }) => leave(engine, viewer, param('id'), body),
  }),
  write('post', {
    path: '/people/:id/time-off',
    who: 'members',
    about: 'Enter time off: one’s own, or anybody’s as a manager',
    body: shapes.timeOffBody,
    status: 201,
    handle: ({ engine, viewer, param, body }) => addTimeOff(engine, viewer, param('id'), body),
  }),
  write('delete', {
    path: '/people/:id/time-off/:off',
    who: 'members',
    about: 'Take time off out again',
    handle: ({ engine, viewer, param }) => removeTimeOff(engine, viewer, param('id'), param('off')),
  }),
  write('delete', {
    path: '/people/:id/second-factor',
    who: 'managers',
    about: 'Take off the second device of somebody who has lost it',
    handle: ({ engine, viewer, param }) => dropFactorOf(engine, viewer, param('id')),
  }),
  write('delete', {
    path: '/people/:id/tokens/:token',
    who: 'managers',
    about: 'End a token of somebody',
    handle: ({ engine, viewer, param }) => endTokenOf(engine, viewer, param('id'), param('token')),
  }),
  write('post', {
    path: '/people/:id/invite',
    who: 'managers',
    about: 'Invite somebody once more, in place of the link they had',
    body: shapes.againBody,
    handle: ({ engine, viewer, param, body }) =>
      inviteAgain(engine, viewer, param('id'), body.address),
  }),
  read({
    path: '/clients',
    about: 'Clients by name, with where each stands, and the states they can stand in',
    apart: 'read',
    handle: ({ engine, viewer }) => listClients(engine, viewer),
  }),
  write('put', {
    path: '/client-states',
    who: 'managers',
    about: 'Save the states that clients can stand in',
    body: clientStatesBody,
    handle: ({ engine, viewer, body }) => saveClientStates(engine, viewer, body),
  }),
  write('post', {
    path: '/clients',
    who: 'managers',
    about: 'Make clients',
    body: newClients,
    status: 201,
    handle: ({ engine, viewer, body }) => makeClients(engine, viewer, body.clients),
  }),
  read({
    path: '/clients/export',
    about: 'Clients with their contacts, as CSV or vCards',
    query: clientsAs,
    apart: 'work',
    handle: ({ engine, viewer, query }) => {
      const { name, type, bytes } = exportClients(engine, viewer, query.format)
      return new Download(name, type, bytes)
    },
  }),
  upload({
    path: '/clients/read',
    who: 'managers',
    about: 'Read clients out of a CSV, a workbook or vCards, to look at before they are brought in',
    raw: { limit: 4 * 1024 * 1024 },
    apart: 'work',
    handle: async ({ engine, viewer, body }) => unchanged(await readClients(engine, viewer, body)),
  }),
  write('post', {
    path: '/clients/bring',
    who: 'managers',
    about: 'Bring in clients with their contacts, as one change',
    body: bringBody,
    status: 201,
    handle: ({ engine, viewer, body }) => bringClients(engine, viewer, body.clients),
  }),
  read({
    path: '/clients/:id',
    about: 'A client’s page: what is done for it, its contacts, who looks after it',
    apart: 'read',
    handle: ({ engine, viewer, param }) => clientPage(engine, viewer, param('id')),
  }),
  write('post', {
    path: '/clients/:id/merge',
    who: 'managers',
    about: 'Put a client into another that is the same',
    body: mergeClientBody,
    handle: ({ engine, viewer, param, body }) =>
      mergeClient(engine, viewer, param('id'), body.into),
  }),
  write('patch', {
    path: '/clients/:id',
    about: 'Change a client, as a manager or as who looks after it',
    body: clientPatch,
    handle: ({ engine, viewer, param, body }) => editClient(engine, viewer, param('id'), body),
  }),
]
