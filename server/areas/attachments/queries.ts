import type { Attachment } from '#contract/tasks.ts'
import type { Engine } from '../../engine/services.ts'

interface Raw extends Omit<Attachment, 'by' | 'task'> {
  personId: number | null
  person: string | null
  taskId: number | null
  title: string | null
}

/** Files and links that meet a condition over `a`, newest first. */
export function attachmentsOf(
  engine: Engine,
  where: string,
  args: readonly unknown[],
): Attachment[] {
  const rows = engine.db
    .prepare(
      `select a.id, a.name, a.url, a.type, a.size, a.at, a.personId, w.name as person, a.taskId, t.title from attachments a
       left join people w on w.id = a.personId left join tasks t on t.id = a.taskId where ${where} order by a.at desc, a.id desc limit 1000`,
    )
    .all(...args) as Raw[]
  return rows.map(({ personId, person, taskId, title, ...row }) => ({
    ...row,
    by: personId === null ? null : { id: personId, name: person! },
    task: taskId === null ? null : { id: taskId, title: title! },
  }))
}
