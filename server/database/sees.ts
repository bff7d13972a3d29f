import { sql, type SQL, type SQLWrapper } from 'drizzle-orm'
import type { Sight } from './sight.ts'
import { projects, shares, taskAssignees, tasks } from './tables/work.ts'
import { teamMembers } from './tables/people.ts'

/** What docs/access.md says of seeing, as SQL; core/access/reach.ts says it with the reasons. */

/** A sight as a question takes it: marks, or values as SQLite has them. */
interface Looker {
  readonly inside: boolean | number
  readonly me: number
}

/** Whether the whole of a project is seen; it stands in the question as `"place"`. */
const wholePlace = ({ inside, me }: Looker): SQL =>
  sql`((${inside} and ("place"."audience" = 'firm' or ("place"."audience" = 'team' and exists
      (select 1 from ${teamMembers} "own" where "own"."personId" = ${me}
        and "own"."teamId" = "place"."teamId"))))
    or "place"."leadId" is ${me}
    or exists (select 1 from ${shares} "own" where "own"."personId" = ${me}
      and "own"."projectId" = "place"."id" and "own"."phaseId" is null)
    or ("place"."audience" <> 'named' and exists (select 1 from ${shares} "own"
      where "own"."personId" = ${me} and "own"."clientId" = "place"."clientId")))`
const isOn = (me: number, taskId: SQLWrapper): SQL =>
  sql`exists (select 1 from ${taskAssignees} "on" where "on"."taskId" = ${taskId}
    and "on"."personId" = ${me})`
const phasesFor = (me: number): SQL =>
  sql`(select "own"."phaseId" from ${shares} "own" where "own"."personId" = ${me}
    and "own"."phaseId" is not null)`
const clientsFor = (me: number): SQL =>
  sql`(select "own"."clientId" from ${shares} "own" where "own"."personId" = ${me}
    and "own"."clientId" is not null)`

/** Whether all of a project is seen: what is said in it, its milestones, files and figures. */
export const seesWhole = (sight: Sight, projectId: SQLWrapper): SQL<boolean> =>
  sql`(${sight.all} or exists (select 1 from ${projects} "place"
    where "place"."id" = ${projectId} and ${wholePlace(sight)}))`

/** Tasks are seen by who is on them, or sees where they stand; for questions made ready. */
export const seesTask = (sight: Sight, taskId: SQLWrapper): SQL<boolean> =>
  sql`(${sight.all} or ${isOn(sight.me, taskId)} or exists (select 1 from ${tasks} "spot"
    left join ${projects} "place" on "place"."id" = "spot"."projectId"
    where "spot"."id" = ${taskId} and (
      ("spot"."projectId" is null and (${sight.inside} or "spot"."clientId" in ${clientsFor(sight.me)}))
      or ("spot"."projectId" is not null and ${wholePlace(sight)})
      or "spot"."phaseId" in ${phasesFor(sight.me)})))`

/** Projects are seen, if only in part, by who sees a task or a phase of them. */
export const seesProject = (sight: Sight, projectId: SQLWrapper): SQL<boolean> =>
  sql`(${seesWhole(sight, projectId)}
    or exists (select 1 from ${shares} "own" where "own"."personId" = ${sight.me}
      and "own"."projectId" = ${projectId})
    or exists (select 1 from ${taskAssignees} "on" join ${tasks} "spot" on "spot"."id" = "on"."taskId"
      where "on"."personId" = ${sight.me} and "spot"."projectId" = ${projectId}))`

/**
 * An entry of the journal is seen by who sees what it is about; of what is gone, the project it was
 * in. Who is in which team, and what clients are shared, is for managers.
 */
export const seesEntry = (sight: Sight, entry: EntryColumns): SQL<boolean> =>
  sql`(${sight.all} or case
    when ${entry.itemKind} = 'task' and exists
      (select 1 from ${tasks} "there" where "there"."id" = ${entry.itemId})
      then ${seesTask(sight, entry.itemId)}
    when ${entry.projectId} is not null then ${seesWhole(sight, entry.projectId)}
    when ${entry.entity} in ('teams', 'teamMembers', 'teamAsks', 'shares') then 0
    else ${sight.inside} end)`
interface EntryColumns {
  readonly entity: SQLWrapper
  readonly itemKind: SQLWrapper
  readonly itemId: SQLWrapper
  readonly projectId: SQLWrapper
}

/** The projects that somebody sees all of, for questions that begin at what is theirs. */
const wholePlaces = (sight: Looker): SQL =>
  sql`(select "place"."id" from ${projects} "place" where ${wholePlace(sight)})`
/** Those that somebody of the firm does not see: few, and found by an index of their own. */
const placesApart = (sight: Looker): SQL =>
  sql`(select "place"."id" from ${projects} "place" where "place"."audience" <> 'firm'
    and not ${wholePlace(sight)})`

/**
 * The same of the tasks of one composed question, where the sight is known: what members do not see
 * is left out, what guests see is begun at.
 */
export function seenBy({ all, inside, me }: Sight): SQL {
  if (all) return sql`1`
  const looker = { inside: inside ? 1 : 0, me }
  if (inside)
    return sql`(${tasks.projectId} is null or ${tasks.projectId} not in ${placesApart(looker)}
      or ${tasks.phaseId} in ${phasesFor(me)} or ${isOn(me, tasks.id)})`
  return sql`${tasks.id} in (
    select "on"."taskId" from ${taskAssignees} "on" where "on"."personId" = ${me}
    union select "spot"."id" from ${tasks} "spot" where "spot"."projectId" in ${wholePlaces(looker)}
    union select "spot"."id" from ${tasks} "spot" where "spot"."phaseId" in ${phasesFor(me)}
    union select "spot"."id" from ${tasks} "spot" where "spot"."projectId" is null
      and "spot"."clientId" in ${clientsFor(me)})`
}
