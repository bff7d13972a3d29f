import Joi from 'joi'
import { id, line, switchBody } from '#contract/common.ts'
import { JOURNAL_KINDS } from '#contract/journal.ts'
import { viewBody } from '#contract/query.ts'
import { listChanges, type ChangeFilter } from '../../areas/journal/changes.ts'
import { undoChange } from '../../areas/journal/undo.ts'
import { find, findFirst } from '../../areas/search/service.ts'
import { listViews, makeView, pinView, removeView, saveView } from '../../areas/views/service.ts'
import { read, write, type Route } from '../route.ts'

/** Saved views, what is found by words, and the journal. */
export const VIEWS: readonly Route[] = [
  read({
    path: '/views',
    about: 'Saved views',
    handle: ({ engine, viewer }) => listViews(engine, viewer),
  }),
  write('post', {
    path: '/views',
    about: 'Save a view',
    body: viewBody,
    status: 201,
    handle: ({ engine, viewer, body }) => makeView(engine, viewer, body),
  }),
  write('put', {
    path: '/views/:id',
    about: 'Change a saved view',
    body: viewBody,
    handle: ({ engine, viewer, param, body, seen }) =>
      saveView(engine, viewer, param('id'), { body, seen }),
  }),
  write('delete', {
    path: '/views/:id',
    about: 'Remove a saved view',
    handle: ({ engine, viewer, param }) => removeView(engine, viewer, param('id')),
  }),
  write('post', {
    path: '/views/:id/pin',
    about: 'Keep a view at hand',
    body: switchBody,
    handle: ({ engine, viewer, param, body }) => pinView(engine, viewer, param('id'), body.on),
  }),

  read<{ words: string }>({
    path: '/find',
    who: 'everybody',
    about: 'Find by words or number',
    query: Joi.object({ words: line(200).required() }),
    apart: 'read',
    handle: ({ engine, viewer, query }) => find(engine, viewer, query.words),
  }),
  read<{ words: string }>({
    path: '/find/first',
    who: 'everybody',
    about:
      'The newest tasks with some words in their titles: what a search as one types shows first',
    query: Joi.object({ words: line(200).required() }),
    handle: ({ engine, viewer, query }) => findFirst(engine, viewer, query.words),
  }),
  read<ChangeFilter>({
    path: '/changes',
    about: 'The journal, change by change, newest first',
    query: Joi.object({
      projectId: id,
      personId: id,
      clientId: id,
      itself: Joi.boolean(),
      kind: Joi.valid(...JOURNAL_KINDS),
      before: id,
    }),
    apart: 'read',
    handle: ({ engine, viewer, query }) => listChanges(engine, viewer, query),
  }),
  write('post', {
    path: '/changes/:id/undo',
    about: 'Take a change back: what still stands of it',
    handle: ({ engine, viewer, param }) => undoChange(engine, viewer, param('id')),
  }),
]
