import * as shapes from '#contract/projects.ts'
import {
  chooseSetBody,
  fieldBody,
  hideBody,
  stateSetBody,
  tagBody,
  templateSetBody,
  type FieldBody,
  type StateSetBody,
  type TagBody,
} from '#contract/setup.ts'
import { allFields } from '../../areas/fields/queries.ts'
import {
  hideField,
  listTags,
  makeField,
  makeTag,
  removeTag,
  saveField,
  saveTag,
} from '../../areas/fields/service.ts'
import { listProjects, projectView } from '../../areas/projects/queries.ts'
import {
  addPost,
  cloneProject,
  editMilestone,
  editPost,
  editProject,
  joinProjects,
  makeMilestone,
  makeProject,
  removeMilestone,
  savePhases,
  splitProject,
} from '../../areas/projects/service.ts'
import {
  chooseSet,
  chooseTemplateSet,
  listSets,
  removeSet,
  saveSet,
} from '../../areas/states/service.ts'
import { needMember } from '../../engine/viewer.ts'
import { route, type Route } from '../route.ts'

/** Projects, and how their tasks are set up: states, fields, tags. */
export const PROJECTS: readonly Route[] = [
  route({
    method: 'get',
    path: '/projects',
    about: 'Projects',
    handle: ({ engine, viewer }) => listProjects(engine, viewer),
  }),
  route<shapes.NewProject>({
    method: 'post',
    path: '/projects',
    about: 'Make a project',
    body: shapes.newProject,
    status: 201,
    handle: ({ engine, viewer, body }) => makeProject(engine, viewer, body),
  }),
  route({
    method: 'get',
    path: '/projects/:id',
    about: 'One project',
    handle: ({ engine, viewer, params }) => projectView(engine, viewer, params['id']!),
  }),
  route<shapes.ProjectPatch>({
    method: 'patch',
    path: '/projects/:id',
    about: 'Change a project',
    body: shapes.projectPatch,
    handle: ({ engine, viewer, params, body, seen }) =>
      editProject(engine, viewer, params['id']!, body, seen),
  }),
  route<shapes.PhasesBody>({
    method: 'put',
    path: '/projects/:id/phases',
    about: 'Save the phases',
    body: shapes.phasesBody,
    handle: ({ engine, viewer, params, body }) => savePhases(engine, viewer, params['id']!, body),
  }),
  route<shapes.MilestoneBody>({
    method: 'post',
    path: '/projects/:id/milestones',
    about: 'Set a milestone',
    body: shapes.milestoneBody,
    status: 201,
    handle: ({ engine, viewer, params, body }) =>
      makeMilestone(engine, viewer, params['id']!, body),
  }),
  route<Partial<shapes.MilestoneBody>>({
    method: 'patch',
    path: '/projects/:id/milestones/:milestone',
    about: 'Change a milestone',
    body: shapes.milestonePatch,
    handle: ({ engine, viewer, params, body }) =>
      editMilestone(engine, viewer, params['id']!, params['milestone']!, body),
  }),
  route({
    method: 'delete',
    path: '/projects/:id/milestones/:milestone',
    about: 'Remove a milestone',
    handle: ({ engine, viewer, params }) =>
      removeMilestone(engine, viewer, params['id']!, params['milestone']!),
  }),
  route<shapes.PostBody>({
    method: 'post',
    path: '/projects/:id/posts',
    about: 'Write about a project',
    body: shapes.postBody,
    status: 201,
    handle: ({ engine, viewer, params, body }) => addPost(engine, viewer, params['id']!, body),
  }),
  route<{ body: string }>({
    method: 'put',
    path: '/projects/:id/posts/:post',
    about: 'Reword a post',
    body: shapes.postEdit,
    handle: ({ engine, viewer, params, body }) =>
      editPost(engine, viewer, params['id']!, params['post']!, body.body),
  }),
  route<shapes.CloneBody>({
    method: 'post',
    path: '/projects/:id/copy',
    about: 'Copy a project',
    body: shapes.cloneBody,
    status: 201,
    handle: ({ engine, viewer, params, body }) => cloneProject(engine, viewer, params['id']!, body),
  }),
  route<{ name: string; ids: number[] }>({
    method: 'post',
    path: '/projects/:id/split',
    about: 'Make a project of some of its tasks',
    body: shapes.splitBody,
    status: 201,
    handle: ({ engine, viewer, params, body }) => splitProject(engine, viewer, params['id']!, body),
  }),
  route<{ into: number }>({
    method: 'post',
    path: '/projects/:id/merge',
    about: 'Merge a project into another',
    body: shapes.joinBody,
    handle: ({ engine, viewer, params, body }) =>
      joinProjects(engine, viewer, params['id']!, body.into),
  }),
  route<{ setId: number; copy: boolean }>({
    method: 'put',
    path: '/projects/:id/states',
    about: 'Choose the states of a project',
    body: chooseSetBody,
    handle: ({ engine, viewer, params, body }) => chooseSet(engine, viewer, params['id']!, body),
  }),

  route<{ setId: number }>({
    method: 'put',
    path: '/templates/:id/states',
    about: 'Choose the states that projects of a template begin with',
    body: templateSetBody,
    handle: ({ engine, viewer, params, body }) =>
      chooseTemplateSet(engine, viewer, params['id']!, body.setId),
  }),
  route({
    method: 'get',
    path: '/state-sets',
    about: 'Sets of states',
    handle: ({ engine, viewer }) => listSets(engine, viewer),
  }),
  route<StateSetBody>({
    method: 'put',
    path: '/state-sets/:id',
    about: 'Save a set of states',
    body: stateSetBody,
    handle: ({ engine, viewer, params, body, seen }) =>
      saveSet(engine, viewer, params['id']!, body, seen),
  }),
  route({
    method: 'delete',
    path: '/state-sets/:id',
    about: 'Remove a set of states that nothing uses',
    handle: ({ engine, viewer, params }) => removeSet(engine, viewer, params['id']!),
  }),
  route({
    method: 'get',
    path: '/fields',
    about: 'Custom fields',
    handle: ({ engine, viewer }) => (needMember(viewer, 'see the fields'), allFields(engine.db)),
  }),
  route<FieldBody>({
    method: 'post',
    path: '/fields',
    about: 'Make a field',
    body: fieldBody,
    status: 201,
    handle: ({ engine, viewer, body }) => makeField(engine, viewer, body),
  }),
  route<FieldBody>({
    method: 'put',
    path: '/fields/:id',
    about: 'Change a field',
    body: fieldBody,
    handle: ({ engine, viewer, params, body }) => saveField(engine, viewer, params['id']!, body),
  }),
  route<{ projectId: number; hidden: boolean }>({
    method: 'post',
    path: '/fields/:id/hide',
    about: 'Hide or show a field in a project',
    body: hideBody,
    handle: ({ engine, viewer, params, body }) => hideField(engine, viewer, params['id']!, body),
  }),
  route({
    method: 'get',
    path: '/tags',
    about: 'Tags',
    handle: ({ engine, viewer }) => (needMember(viewer, 'see the tags'), listTags(engine)),
  }),
  route<TagBody>({
    method: 'post',
    path: '/tags',
    about: 'Make a tag',
    body: tagBody,
    status: 201,
    handle: ({ engine, viewer, body }) => makeTag(engine, viewer, body),
  }),
  route<TagBody>({
    method: 'put',
    path: '/tags/:id',
    about: 'Change a tag',
    body: tagBody,
    handle: ({ engine, viewer, params, body }) => saveTag(engine, viewer, params['id']!, body),
  }),
  route({
    method: 'delete',
    path: '/tags/:id',
    about: 'Remove a tag',
    handle: ({ engine, viewer, params }) => removeTag(engine, viewer, params['id']!),
  }),
]
