import type { Filling } from '#contract/clockwork.ts'
import type { Who } from '#contract/rules.ts'
import type { Engine } from '../../engine/services.ts'

export const personName = (engine: Engine, id: number): string | null =>
  (
    engine.db.prepare('select name from people where id = ?').get(id) as
      { name: string } | undefined
  )?.name ?? null

export const isActive = (engine: Engine, id: number): boolean =>
  engine.db.prepare('select 1 from people where id = ? and active = 1').get(id) !== undefined

/**
 * The active member of a team with the least open estimated work (30 minutes where none is
 * estimated); null for an empty team.
 */
export function leastLoaded(engine: Engine, teamId: number): number | null {
  const found = engine.db
    .prepare(
      `select m.personId as id from teamMembers m join people w on w.id = m.personId and w.active = 1 where m.teamId = ?
       order by (select coalesce(sum(coalesce(t.estimate, 30)), 0) from taskAssignees a join tasks t on t.id = a.taskId and t.closedAt is null and t.archivedAt is null where a.personId = m.personId), m.personId limit 1`,
    )
    .get(teamId) as { id: number } | undefined
  return found?.id ?? null
}

/** The person a filling stands for, or null when there is nobody active behind it. */
export function fill(engine: Engine, filling: Filling | undefined): number | null {
  if (!filling) return null
  if ('team' in filling) return leastLoaded(engine, filling.team)
  return isActive(engine, filling.person) ? filling.person : null
}

/** Who an action of a rule is about, for one task; people who left are named apart. */
export function resolveWho(
  engine: Engine,
  who: Who,
  taskId: number,
  ownerId: number | null,
): { people: number[]; left: string[] } {
  const ids = ((): (number | null)[] => {
    switch (who.is) {
      case 'assignees':
        return (
          engine.db.prepare('select personId from taskAssignees where taskId = ?').all(taskId) as {
            personId: number
          }[]
        ).map((a) => a.personId)
      case 'lead':
        return [
          (
            engine.db
              .prepare(
                'select p.leadId from tasks t join projects p on p.id = t.projectId where t.id = ?',
              )
              .get(taskId) as { leadId: number | null } | undefined
          )?.leadId ?? null,
        ]
      case 'owner':
        return [ownerId]
      case 'person':
        return [who.id]
      case 'team':
        return [leastLoaded(engine, who.id)]
    }
  })().filter((id): id is number => id !== null)
  return {
    people: ids.filter((id) => isActive(engine, id)),
    left: ids
      .filter((id) => !isActive(engine, id))
      .map((id) => personName(engine, id) ?? `person ${id}`),
  }
}
