import { and, desc, eq, or, type SQL } from 'drizzle-orm'
import { union } from 'drizzle-orm/sqlite-core'
import type { ClientId, ProjectId, TaskId } from '#core/brands.ts'
import type { Attachment } from '#contract/tasks.ts'
import { most, ready, type Reader } from '../../database/query.ts'
import { seesTask, seesWhole } from '../../database/sees.ts'
import type { Sight } from '../../database/sight.ts'
import { attachments, people, projects, tasks } from '../../database/tables/index.ts'

const shown = {
  id: attachments.id,
  name: attachments.name,
  url: attachments.url,
  type: attachments.type,
  size: attachments.size,
  onBoard: attachments.onBoard,
  at: attachments.at,
  by: { id: people.id, name: people.name },
  task: { id: tasks.id, title: tasks.title },
}
/** Files are seen by who sees what they are filed with. */
const seesFile = (sight: Sight): SQL | undefined =>
  or(seesTask(sight, attachments.taskId), seesWhole(sight, attachments.projectId))

const onTask = ready((orm, a: { task: TaskId; sight: Sight }) =>
  orm
    .select(shown)
    .from(attachments)
    .leftJoin(people, eq(people.id, attachments.personId))
    .leftJoin(tasks, eq(tasks.id, attachments.taskId))
    .where(and(eq(attachments.taskId, a.task), seesFile(a.sight)))
    .orderBy(desc(attachments.at), desc(attachments.id)),
)
/** As many files of a project as are shown at once. */
const MOST = 1_000
/** What is filed with a project, and on its tasks: two look-ups, each by its index. */
const inProject = ready((orm, a: { project: ProjectId; sight: Sight }) => {
  const own = orm
    .select({ id: attachments.id })
    .from(attachments)
    .where(and(eq(attachments.projectId, a.project), seesWhole(a.sight, attachments.projectId)))
  const onTasks = orm
    .select({ id: attachments.id })
    .from(tasks)
    .innerJoin(attachments, eq(attachments.taskId, tasks.id))
    .where(and(eq(tasks.projectId, a.project), seesTask(a.sight, tasks.id)))
  const both = union(own, onTasks).as('both')
  return orm
    .select(shown)
    .from(both)
    .innerJoin(attachments, eq(attachments.id, both.id))
    .leftJoin(people, eq(people.id, attachments.personId))
    .leftJoin(tasks, eq(tasks.id, attachments.taskId))
    .orderBy(desc(attachments.at), desc(attachments.id))
    .limit(most(MOST))
})
/** As many files of a client as are shown. */
const FEW = 12
/** What was filed last of a client: with its projects, on their tasks, and on its own tasks. */
const ofClient = ready((orm, a: { client: ClientId; sight: Sight }) => {
  const file = { id: attachments.id }
  const withProjects = orm
    .select(file)
    .from(projects)
    .innerJoin(attachments, eq(attachments.projectId, projects.id))
    .where(eq(projects.clientId, a.client))
  const inProjects = orm
    .select(file)
    .from(projects)
    .innerJoin(tasks, eq(tasks.projectId, projects.id))
    .innerJoin(attachments, eq(attachments.taskId, tasks.id))
    .where(eq(projects.clientId, a.client))
  const onOwn = orm
    .select(file)
    .from(tasks)
    .innerJoin(attachments, eq(attachments.taskId, tasks.id))
    .where(eq(tasks.clientId, a.client))
  const all = union(withProjects, inProjects, onOwn).as('all')
  return orm
    .select(shown)
    .from(all)
    .innerJoin(attachments, eq(attachments.id, all.id))
    .leftJoin(people, eq(people.id, attachments.personId))
    .leftJoin(tasks, eq(tasks.id, attachments.taskId))
    .where(seesFile(a.sight))
    .orderBy(desc(attachments.at), desc(attachments.id))
    .limit(most(FEW))
})
const byId = ready((orm, a: { id: number; sight: Sight }) =>
  orm
    .select(shown)
    .from(attachments)
    .leftJoin(people, eq(people.id, attachments.personId))
    .leftJoin(tasks, eq(tasks.id, attachments.taskId))
    .where(and(eq(attachments.id, a.id), seesFile(a.sight))),
)
/** A file as it is kept, for who may see it. */
export const fileOf = ready((orm, a: { id: number; sight: Sight }) =>
  orm
    .select()
    .from(attachments)
    .where(and(eq(attachments.id, a.id), seesFile(a.sight))),
)

export const attachmentsOfTask = (reader: Reader, sight: Sight, task: TaskId): Attachment[] =>
  onTask.all(reader, { task, sight })
export const attachmentsIn = (reader: Reader, sight: Sight, project: ProjectId): Attachment[] =>
  inProject.all(reader, { project, sight })
export const attachmentsFor = (reader: Reader, sight: Sight, client: ClientId): Attachment[] =>
  ofClient.all(reader, { client, sight })
export const attachment = (reader: Reader, sight: Sight, id: number): Attachment | undefined =>
  byId.get(reader, { id, sight })
