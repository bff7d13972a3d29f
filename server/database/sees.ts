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

/**
 * The projects that are not for everybody inside and yet seen whole by somebody: each way to see one
 * begins at an index of its own.
 */
const placesOpened = ({ inside, me }: Looker): SQL =>
  sql`(select "place"."id" from ${teamMembers} "own"
      join ${projects} "place" on "place"."audience" <> 'firm' and "place"."audience" = 'team'
        and "place"."teamId" = "own"."teamId"
      where "own"."personId" = ${me} and ${inside}
    union select "place"."id" from ${projects} "place" where "place"."leadId" = ${me}
    union select "own"."projectId" from ${shares} "own"
      where "own"."personId" = ${me} and "own"."projectId" is not null and "own"."phaseId" is null
    union select "place"."id" from ${shares} "own"
      join ${projects} "place" on "place"."clientId" = "own"."clientId"
      where "own"."personId" = ${me} and "place"."audience" <> 'named')`
/** Those that somebody of the firm does not see: found by an index of what is apart. */
const placesHidden = (looker: Looker): SQL =>
  sql`(select "place"."id" from ${projects} "place" where "place"."audience" <> 'firm'
    and "place"."id" not in ${placesOpened(looker)})`
/** The tasks of a phase that is shared with somebody. */
const inPhases = (me: number): SQL =>
  sql`select "spot"."id" from ${tasks} "spot" where "spot"."phaseId" in ${phasesFor(me)}`

/** The projects that somebody of the firm does not see, for a question made ready. */
export const hiddenFrom = (sight: Sight): SQL<number> =>
  sql<number>`(select count(*) from ${placesHidden(sight)})`
/** How many projects there are, and how many of them somebody of the firm does not see. */
export const hiddenShare = ({ me }: Sight): SQL<[all: number, hidden: number]> =>
  sql`select (select count(*) from ${projects}),
    (select count(*) from ${placesHidden({ inside: 1, me })})`

/**
 * The same of the tasks of one composed question, where the sight is known. Where little is hidden
 * from somebody, that is left out, but for what they are on; where most is, it is begun at what they
 * see, as for guests: either way few are looked at in vain.
 */
export function seenBy({ all, inside, me }: Sight, hides: 'nothing' | 'little' | 'most'): SQL {
  if (all || hides === 'nothing') return sql`1`
  const looker = { inside: inside ? 1 : 0, me }
  const mine = sql`select "on"."taskId" from ${taskAssignees} "on"`
  const spots = sql`select "spot"."id" from ${tasks} "spot"`
  if (hides === 'little')
    return sql`(${tasks.projectId} is null or ${tasks.projectId} not in ${placesHidden(looker)}
      or ${tasks.id} in (${mine} join ${tasks} "spot" on "spot"."id" = "on"."taskId"
        where "on"."personId" = ${me} and "spot"."projectId" in ${placesHidden(looker)}
        union ${inPhases(me)}))`
  return sql`${tasks.id} in (
    ${mine} where "on"."personId" = ${me}
    union ${spots} where "spot"."projectId" in ${placesOpened(looker)}
    union ${spots} where ${looker.inside} and "spot"."projectId" in
      (select "place"."id" from ${projects} "place" where "place"."audience" = 'firm')
    union ${inPhases(me)}
    union ${spots} where "spot"."projectId" is null
      and (${looker.inside} or "spot"."clientId" in ${clientsFor(me)}))`
}
