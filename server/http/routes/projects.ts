import { resumeProject, resuming } from '../../areas/projects/resume.ts'
import Joi from 'joi'
import { idList, id, line } from '#contract/common.ts'
import * as shapes from '#contract/projects.ts'
import { cloneProject, joinProjects, splitProject } from '../../areas/projects/copy.ts'
import { editMilestone, makeMilestone, removeMilestone } from '../../areas/projects/milestones.ts'
import { addPost, editPost } from '../../areas/projects/posts.ts'
import { editProject, makeProject, savePhases } from '../../areas/projects/service.ts'
import {
  closedProjects,
  listPhases,
  listProjects,
  projectSheet,
} from '../../areas/projects/sheet.ts'
import { read, write, type Route } from '../route.ts'

/** Projects: their phases, milestones and what is said about them. */
export const PROJECTS: readonly Route[] = [
  read<{ ids?: string }>({
    path: '/projects',
    who: 'everybody',
    about: 'Projects that run, or some of them',
    apart: 'read',
    query: Joi.object({ ids: idList }),
    handle: ({ engine, viewer, query }) =>
      listProjects(engine, viewer, query.ids?.split(',').map(Number)),
  }),
  read<{ part: 'finished' | 'archived'; cursor?: string; words?: string }>({
    path: '/projects/closed',
    who: 'everybody',
    about: 'Projects that are finished or archived, in pages, newest first',
    query: Joi.object({
      part: Joi.valid('finished', 'archived').required(),
      cursor: line(40),
      words: line(120),
    }),
    handle: ({ engine, viewer, query }) => closedProjects(engine, viewer, query),
  }),
  read<{ project?: number }>({
    path: '/phases',
    who: 'everybody',
    about: 'Phases to choose from: of one project, or of all that run',
    query: Joi.object({ project: id }),
    handle: ({ engine, viewer, query }) => listPhases(engine, viewer, query.project),
  }),
  write('post', {
    path: '/projects',
    about: 'Make a project',
    body: shapes.newProject,
    status: 201,
    handle: ({ engine, viewer, body }) => makeProject(engine, viewer, body),
  }),
  read({
    path: '/projects/:id',
    who: 'everybody',
    about: 'One project',
    handle: ({ engine, viewer, param }) => projectSheet(engine, viewer, param('id')),
  }),
  write('patch', {
    path: '/projects/:id',
    about: 'Change a project',
    body: shapes.projectPatch,
    handle: ({ engine, viewer, param, body: patch, seen }) =>
      editProject(engine, viewer, param('id'), { patch, seen }),
  }),
  write('put', {
    path: '/projects/:id/phases',
    about: 'Save the phases',
    body: shapes.phasesBody,
    handle: ({ engine, viewer, param, body }) => savePhases(engine, viewer, param('id'), body),
  }),
  write('post', {
    path: '/projects/:id/milestones',
    about: 'Set a milestone',
    body: shapes.milestoneBody,
    status: 201,
    handle: ({ engine, viewer, param, body }) => makeMilestone(engine, viewer, param('id'), body),
  }),
  write('patch', {
    path: '/projects/:id/milestones/:milestone',
    about: 'Change a milestone',
    body: shapes.milestonePatch,
    handle: ({ engine, viewer, param, body }) =>
      editMilestone(engine, viewer, { project: param('id'), id: param('milestone') }, body),
  }),
  write('delete', {
    path: '/projects/:id/milestones/:milestone',
    about: 'Remove a milestone',
    handle: ({ engine, viewer, param }) =>
      removeMilestone(engine, viewer, { project: param('id'), id: param('milestone') }),
  }),
  write('post', {
    path: '/projects/:id/posts',
    who: 'everybody',
    about: 'Write about a project',
    body: shapes.postBody,
    status: 201,
    handle: ({ engine, viewer, param, body }) => addPost(engine, viewer, param('id'), body),
  }),
  write('put', {
    path: '/projects/:id/posts/:post',
    who: 'everybody',
    about: 'Reword a post',
    body: shapes.postEdit,
    handle: ({ engine, viewer, param, body }) =>
      editPost(engine, viewer, { project: param('id'), id: param('post') }, body.body),
  }),
  read({
    path: '/projects/:id/resume',
    about: 'What resuming a project that is on hold would move',
    handle: ({ engine, viewer, param }) => resuming(engine, viewer, param('id')),
  }),
  write('post', {
    path: '/projects/:id/resume',
    about: 'Resume a project that is on hold, with its dates shifted or not',
    body: shapes.resumeBody,
    handle: ({ engine, viewer, param, body }) => resumeProject(engine, viewer, param('id'), body),
  }),
  write('post', {
    path: '/projects/:id/copy',
    about: 'Copy a project',
    body: shapes.cloneBody,
    status: 201,
    handle: ({ engine, viewer, param, body }) => cloneProject(engine, viewer, param('id'), body),
  }),
  write('post', {
    path: '/projects/:id/split',
    about: 'Make a project of some of its tasks',
    body: shapes.splitBody,
    status: 201,
    handle: ({ engine, viewer, param, body }) => splitProject(engine, viewer, param('id'), body),
  }),
  write('post', {
    path: '/projects/:id/merge',
    about: 'Merge a project into another',
    body: shapes.joinBody,
    handle: ({ engine, viewer, param, body }) =>
      joinProjects(engine, viewer, param('id'), body.into),
  }),
]
