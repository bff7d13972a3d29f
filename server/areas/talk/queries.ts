import { eq } from 'drizzle-orm'
import type { TaskId } from '#core/brands.ts'
import { within } from '../../database/query.ts'
import { tasks } from '../../database/tables/index.ts'

export const titleOf = within((orm, a: { id: TaskId }) =>
  orm
    .select({ title: tasks.title, creatorId: tasks.creatorId, closedAt: tasks.closedAt })
    .from(tasks)
    .where(eq(tasks.id, a.id)),
)
