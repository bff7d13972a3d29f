import { sql, type SQL, type SQLWrapper } from 'drizzle-orm'
import type { Sight } from './sight.ts'
import { taskAssignees, tasks } from './tables/work.ts'

/** Guests see the tasks they are on; for questions made ready. */
export const seesTask = (sight: Sight, taskId: SQLWrapper): SQL<boolean> =>
  sql`(${sight.all} or exists (select 1 from ${taskAssignees} where ${taskAssignees.taskId} = ${taskId}
    and ${taskAssignees.personId} = ${sight.me}))`

/** Guests see the projects they are on a task of. */
export const seesProject = (sight: Sight, projectId: SQLWrapper): SQL<boolean> =>
  sql`(${sight.all} or exists (select 1 from ${taskAssignees}
    join ${tasks} "seen" on "seen"."id" = ${taskAssignees.taskId}
    where ${taskAssignees.personId} = ${sight.me} and "seen"."projectId" = ${projectId}))`

/** The same for one composed question, where the sight is known: it begins at the guest's own. */
export const seenBy = (sight: Sight, taskId: SQLWrapper): SQL =>
  sight.all
    ? sql`1`
    : sql`${taskId} in (select ${taskAssignees.taskId} from ${taskAssignees}
      where ${taskAssignees.personId} = ${sight.me})`
