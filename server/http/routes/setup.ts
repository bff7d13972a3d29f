import * as shapes from '#contract/setup.ts'
import {
  fieldList,
  hideField,
  makeField,
  makeTag,
  removeTag,
  saveField,
  saveTag,
  tagList,
} from '../../areas/fields/service.ts'
import { retention, setDates, setRetention } from '../../areas/firm/service.ts'
import {
  chooseSet,
  chooseTemplateSet,
  listSets,
  removeSet,
  saveSet,
} from '../../areas/states/service.ts'
import { read, write, type Route } from '../route.ts'

/** How tasks are set up: states, fields, tags. */
export const SETUP: readonly Route[] = [
  write('put', {
    path: '/projects/:id/states',
    who: 'managers',
    about: 'Choose the states of a project',
    body: shapes.chooseSetBody,
    handle: ({ engine, viewer, param, body }) => chooseSet(engine, viewer, param('id'), body),
  }),
  write('put', {
    path: '/templates/:id/states',
    who: 'managers',
    about: 'Choose the states that projects of a template begin with',
    body: shapes.templateSetBody,
    handle: ({ engine, viewer, param, body }) =>
      chooseTemplateSet(engine, viewer, param('id'), body.setId),
  }),
  read({
    path: '/state-sets',
    about: 'Sets of states',
    handle: ({ engine, viewer }) => listSets(engine, viewer),
  }),
  write('put', {
    path: '/state-sets/:id',
    who: 'managers',
    about: 'Save a set of states',
    body: shapes.stateSetBody,
    handle: ({ engine, viewer, param, body, seen }) =>
      saveSet(engine, viewer, param('id'), { body, seen }),
  }),
  write('delete', {
    path: '/state-sets/:id',
    who: 'managers',
    about: 'Remove a set of states that nothing uses',
    handle: ({ engine, viewer, param }) => removeSet(engine, viewer, param('id')),
  }),

  read({
    path: '/fields',
    about: 'Custom fields',
    handle: ({ engine, viewer }) => fieldList(engine, viewer),
  }),
  write('post', {
    path: '/fields',
    who: 'managers',
    about: 'Make a field',
    body: shapes.fieldBody,
    status: 201,
    handle: ({ engine, viewer, body }) => makeField(engine, viewer, body),
  }),
  write('put', {
    path: '/fields/:id',
    who: 'managers',
    about: 'Change a field',
    body: shapes.fieldBody,
    handle: ({ engine, viewer, param, body }) => saveField(engine, viewer, param('id'), body),
  }),
  write('post', {
    path: '/fields/:id/hide',
    who: 'managers',
    about: 'Hide or show a field in a project',
    body: shapes.hideBody,
    handle: ({ engine, viewer, param, body }) => hideField(engine, viewer, param('id'), body),
  }),

  read({
    path: '/tags',
    about: 'Tags',
    handle: ({ engine, viewer }) => tagList(engine, viewer),
  }),
  write('post', {
    path: '/tags',
    about: 'Make a tag',
    body: shapes.tagBody,
    status: 201,
    handle: ({ engine, viewer, body }) => makeTag(engine, viewer, body),
  }),
  write('put', {
    path: '/tags/:id',
    about: 'Change a tag',
    body: shapes.tagBody,
    handle: ({ engine, viewer, param, body }) => saveTag(engine, viewer, param('id'), body),
  }),
  write('delete', {
    path: '/tags/:id',
    who: 'managers',
    about: 'Remove a tag',
    handle: ({ engine, viewer, param }) => removeTag(engine, viewer, param('id')),
  }),

  read({
    path: '/retention',
    about: 'For how many days records are kept; null for good',
    handle: ({ engine, viewer }) => retention(engine, viewer),
  }),
  write('put', {
    path: '/retention',
    who: 'managers',
    about: 'Say for how many days records are kept; null for good',
    body: shapes.retentionBody,
    handle: ({ engine, viewer, body }) => setRetention(engine, viewer, body),
  }),
  write('put', {
    path: '/dates',
    who: 'managers',
    about: 'Say which day weeks begin on, and whether hours go to 12 or 24',
    body: shapes.datesBody,
    handle: ({ engine, viewer, body }) => setDates(engine, viewer, body),
  }),
]
