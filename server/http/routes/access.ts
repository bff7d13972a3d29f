import * as shapes from '#contract/access.ts'
import {
  clientShares,
  setAudience,
  shareClient,
  sharedSheet,
  shareProject,
  unshareClient,
  unshareProject,
} from '../../areas/access/service.ts'
import {
  answerAsk,
  editTeam,
  joinTeam,
  leaveTeam,
  listTeams,
  makeTeam,
  removeTeam,
} from '../../areas/access/teams.ts'
import { whatSees, whoSeesProject, whoSeesTask } from '../../areas/access/who.ts'
import { read, write, type Route } from '../route.ts'

/** Who sees what: teams, who projects are for, what is shared, and why somebody sees something. */
export const ACCESS: readonly Route[] = [
  read({
    path: '/projects/:id/shares',
    about: 'Who a project is for, and with whom it is shared',
    handle: ({ engine, viewer, param }) => sharedSheet(engine, viewer, param('id')),
  }),
  write('put', {
    path: '/projects/:id/audience',
    about: 'Say who a project is for',
    body: shapes.audienceBody,
    handle: ({ engine, viewer, param, body }) => setAudience(engine, viewer, param('id'), body),
  }),
  write('post', {
    path: '/projects/:id/shares',
    about: 'Share a project, or a phase of it, with people',
    body: shapes.shareBody,
    status: 201,
    handle: ({ engine, viewer, param, body }) => shareProject(engine, viewer, param('id'), body),
  }),
  write('delete', {
    path: '/projects/:id/shares/:share',
    about: 'Take back what is shared of a project',
    handle: ({ engine, viewer, param }) =>
      unshareProject(engine, viewer, param('id'), param('share')),
  }),
  read({
    path: '/clients/:id/shares',
    who: 'managers',
    about: 'With whom all that is done for a client is shared',
    handle: ({ engine, viewer, param }) => clientShares(engine, viewer, param('id')),
  }),
  write('post', {
    path: '/clients/:id/shares',
    who: 'managers',
    about: 'Share all that is done for a client with people',
    body: shapes.shareBody,
    status: 201,
    handle: ({ engine, viewer, param, body }) => shareClient(engine, viewer, param('id'), body),
  }),
  write('delete', {
    path: '/clients/:id/shares/:given',
    who: 'managers',
    about: 'Take back what is shared of a client',
    handle: ({ engine, viewer, param }) =>
      unshareClient(engine, viewer, param('id'), param('given')),
  }),
  read({
    path: '/projects/:id/seen-by',
    about: 'Who sees a project, and why',
    handle: ({ engine, viewer, param }) => whoSeesProject(engine, viewer, param('id')),
  }),
  read({
    path: '/tasks/:id/seen-by',
    about: 'Who sees a task, and why',
    handle: ({ engine, viewer, param }) => whoSeesTask(engine, viewer, param('id')),
  }),
  read({
    path: '/people/:id/sees',
    who: 'managers',
    about: 'What somebody sees, and why',
    handle: ({ engine, viewer, param }) => whatSees(engine, viewer, param('id')),
  }),
  read({
    path: '/teams',
    about: 'The teams that one may know of',
    handle: ({ engine, viewer }) => listTeams(engine, viewer),
  }),
  write('post', {
    path: '/teams',
    who: 'managers',
    about: 'Make a team',
    body: shapes.newTeam,
    status: 201,
    handle: ({ engine, viewer, body }) => makeTeam(engine, viewer, body),
  }),
  write('patch', {
    path: '/teams/:id',
    who: 'managers',
    about: 'Change a team, or who is in it',
    body: shapes.teamPatch,
    handle: ({ engine, viewer, param, body }) => editTeam(engine, viewer, param('id'), body),
  }),
  write('delete', {
    path: '/teams/:id',
    who: 'managers',
    about: 'Remove a team',
    handle: ({ engine, viewer, param }) => removeTeam(engine, viewer, param('id')),
  }),
  write('put', {
    path: '/teams/:id/me',
    about: 'Join a team, or ask to',
    handle: ({ engine, viewer, param }) => joinTeam(engine, viewer, param('id')),
  }),
  write('delete', {
    path: '/teams/:id/me',
    about: 'Leave a team, or ask no more',
    handle: ({ engine, viewer, param }) => leaveTeam(engine, viewer, param('id')),
  }),
  write('post', {
    path: '/teams/:id/answer',
    about: 'Let in whoever asked, or not',
    body: shapes.answerBody,
    handle: ({ engine, viewer, param, body }) => answerAsk(engine, viewer, param('id'), body),
  }),
]
