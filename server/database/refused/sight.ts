import { eq } from 'drizzle-orm'
import type { TaskId } from '#core/brands.ts'
import { ready } from '../query.ts'
import { people, tasks } from '../tables/index.ts'
import { seesTask } from '../sees.ts'
import type { Sight } from '../sight.ts'

// What must not compile, and beside it what must; types.test.ts reads what the compiler says of it.

/** Over items, without sight: refused. */
export const blind = ready((orm, a: { id: TaskId }) =>
  orm.select({ title: tasks.title }).from(tasks).where(eq(tasks.id, a.id)),
)
/** Items joined to something else are items: refused. */
export const joined = ready((orm, a: { id: TaskId }) =>
  orm
    .select({ name: people.name, title: tasks.title })
    .from(people)
    .innerJoin(tasks, eq(tasks.creatorId, people.id))
    .where(eq(tasks.id, a.id)),
)
/** With sight: taken. */
export const seen = ready((orm, a: { id: TaskId; sight: Sight }) =>
  orm.select({ title: tasks.title }).from(tasks).where(seesTask(a.sight, tasks.id)),
)
/** People are seen by everybody: taken. */
export const names = ready((orm) => orm.select({ name: people.name }).from(people))
