import type { IsoDate } from '#core/brands.ts'
import { holidayOn, workingMinutes } from '#core/calendar/calendar.ts'
import { addDays } from '#core/calendar/dates.ts'
import { dueGroup } from '#core/query/due-groups.ts'
import { spread, type Effort } from '#core/load/spread.ts'
import { plural } from '#core/text/speak.ts'
import type { TaskRow } from '#contract/tasks.ts'
import type { LooseEnd, RibbonDay, TodayGroup, TodayView, Waiting } from '#contract/views.ts'
import type { Engine } from '../../engine/services.ts'
import { isGuest, mayStructure, type Viewer } from '../../engine/viewer.ts'
import { ASSIGNED_TO, selectTasks } from '../tasks/queries.ts'
import { expectedEfforts } from './expected.ts'

function waiting(engine: Engine, viewer: Viewer): Waiting[] {
  if (isGuest(viewer)) return []
  const reviews = engine.db
    .prepare(
      `select t.id, t.title, t.version, coalesce((select max(j.at) from journal j where j.taskId = t.id and j.entity = 'tasks'), t.createdAt) as at,
       (select group_concat(w.name, ' and ') from taskAssignees a join people w on w.id = a.personId where a.taskId = t.id) as who
       from tasks t left join projects p on p.id = t.projectId where t.state = 'in-review' and t.closedAt is null and t.archivedAt is null and (p.leadId = @me or (p.leadId is null and t.creatorId = @me)) order by at limit 20`,
    )
    .all({ me: viewer.id }) as {
    id: number
    title: string
    version: number
    at: number
    who: string | null
  }[]
  const escalated = engine.db
    .prepare(
      "select n.id as noticeId, n.body, n.at, t.id, t.title, t.version from notices n join tasks t on t.id = n.taskId and t.closedAt is null and t.archivedAt is null where n.personId = ? and n.kind = 'escalation' and n.readAt is null order by n.id desc limit 20",
    )
    .all(viewer.id) as {
    noticeId: number
    body: string
    at: number
    id: number
    title: string
    version: number
  }[]
  return [
    ...reviews.map((r): Waiting => ({
      kind: 'review',
      text: `${r.who ?? 'Someone'} finished “${r.title}” and asks you to check it.`,
      at: r.at,
      task: { id: r.id, title: r.title, version: r.version },
      noticeId: null,
    })),
    ...escalated.map((e): Waiting => ({
      kind: 'escalation',
      text: e.body,
      at: e.at,
      task: { id: e.id, title: e.title, version: e.version },
      noticeId: e.noticeId,
    })),
  ]
}

const WEEK = 7 * 86_400_000

/**
 * What lacks a date or an owner, and what the clockwork could not do; managers see the firm's,
 * members their own.
 */
function looseEnds(engine: Engine, viewer: Viewer): LooseEnd[] {
  if (isGuest(viewer)) return []
  const { db, clock } = engine
  const all = mayStructure(viewer)
  const mine = all
    ? '@me is not null'
    : '(t.creatorId = @me or exists (select 1 from taskAssignees a where a.taskId = t.id and a.personId = @me))'
  const tasks = (where: string) =>
    db
      .prepare(
        `select t.id, t.title from tasks t left join projects p on p.id = t.projectId where t.closedAt is null and t.archivedAt is null and ${mine} and ${where} order by t.id limit 50`,
      )
      .all({ me: viewer.id }) as { id: number; title: string }[]
  const out: LooseEnd[] = []
  const undated = tasks('t.due is null')
  if (undated.length)
    out.push({
      kind: 'no-date',
      text: undated.length === 1 ? '1 task has no date' : `${undated.length} tasks have no date`,
      count: undated.length,
      tasks: undated,
      link: null,
    })
  const NOBODY = 'not exists (select 1 from taskAssignees a where a.taskId = t.id)'
  const ownerless = tasks(`t.role is null and ${NOBODY}`)
  if (ownerless.length)
    out.push({
      kind: 'no-owner',
      text:
        ownerless.length === 1 ? '1 task has no owner' : `${ownerless.length} tasks have no owner`,
      count: ownerless.length,
      tasks: ownerless,
      link: null,
    })
  const unfilled = db
    .prepare(
      `select t.role, p.id, p.name, count(*) as n from tasks t join projects p on p.id = t.projectId where t.closedAt is null and t.archivedAt is null and t.role is not null and ${mine} and ${NOBODY} group by p.id, t.role order by p.id limit 20`,
    )
    .all({ me: viewer.id }) as { role: string; id: number; name: string; n: number }[]
  for (const u of unfilled)
    out.push({
      kind: 'unfilled',
      text: `${u.role} is unfilled in ${u.name}: ${plural(u.n, 'task')}`,
      count: u.n,
      tasks: [],
      link: `/work/${u.id}`,
    })
  if (!all) return out
  for (const r of db
    .prepare('select id, name, pausedBecause from rules where pausedBecause is not null')
    .all() as { id: number; name: string; pausedBecause: string }[])
    out.push({
      kind: 'rule-paused',
      text: `Rule “${r.name}” paused itself`,
      count: 1,
      tasks: [],
      link: `/clockwork/rules/${r.id}`,
    })
  for (const r of db
    .prepare(
      "select r.id, r.name, count(distinct n.taskId) as n from runs n join rules r on r.id = n.ruleId where n.outcome = 'skipped' and n.at > ? group by r.id",
    )
    .all(clock.now() - WEEK) as { id: number; name: string; n: number }[])
    out.push({
      kind: 'skipped',
      text: `Rule “${r.name}” skipped ${plural(r.n, 'task')} this week`,
      count: r.n,
      tasks: [],
      link: `/clockwork/log?rule=${r.id}&outcome=skipped`,
    })
  const { n } = db
    .prepare(
      "select count(*) as n from outbox where state = 'failed' or (state = 'waiting' and attempts > 0)",
    )
    .get() as { n: number }
  if (n)
    out.push({
      kind: 'mail-failed',
      text: `${plural(n, 'mail')} could not be sent yet`,
      count: n,
      tasks: [],
      link: '/notices/mail',
    })
  return out
}

export function todayView(engine: Engine, viewer: Viewer): TodayView {
  const { firm, db } = engine
  const today = firm.today()
  const groups: Record<TodayGroup, TaskRow[]> = {
    slipped: [],
    today: [],
    tomorrow: [],
    week: [],
    'next-week': [],
    later: [],
    'no-date': [],
  }
  for (const task of selectTasks(engine, viewer, `t.closedAt is null and ${ASSIGNED_TO}`, [
    viewer.id,
  ]))
    groups[dueGroup(task.due, task.late, today)].push(task)
  const { n } = db
    .prepare(
      "select count(*) as n from tasks t join taskAssignees a on a.taskId = t.id and a.personId = ? where t.state = 'done' and t.closedAt >= ?",
    )
    .get(viewer.id, engine.clock.now() - 86_400_000) as { n: number }
  return {
    today,
    capacity: workingMinutes(firm.calendarOf(viewer.id), today),
    groups,
    doneToday: n,
    waiting: waiting(engine, viewer),
    loose: looseEnds(engine, viewer),
  }
}

export const RIBBON_DAYS = 15

/** Fifteen days of a person: what is due, how full each day is, and what kind of day it is. */
export function ribbon(engine: Engine, viewer: Viewer, from: IsoDate): RibbonDay[] {
  const { firm, db } = engine
  const today = firm.today()
  const own = firm.calendarOf(viewer.id)
  const last = addDays(from, RIBBON_DAYS - 1)
  const open = db
    .prepare(
      'select t.due, t.start, coalesce(t.estimate, 0) as minutes from tasks t join taskAssignees a on a.taskId = t.id and a.personId = ? where t.closedAt is null and t.archivedAt is null and t.due is not null',
    )
    .all(viewer.id) as Effort[]
  const booked = spread(open, own, today)
  const expected = isGuest(viewer)
    ? new Map<IsoDate, number>()
    : spread(expectedEfforts(engine, viewer.id, last), own, today)
  const due = new Map<string, number>()
  for (const { due: day } of open) due.set(day, (due.get(day) ?? 0) + 1)
  return Array.from({ length: RIBBON_DAYS }, (_, i) => {
    const date = addDays(from, i)
    const holiday = holidayOn(own, date)
    const capacity = workingMinutes(own, date)
    return {
      date,
      due: due.get(date) ?? 0,
      late: date < today ? (due.get(date) ?? 0) : 0,
      booked: Math.round(booked.get(date) ?? 0),
      expected: Math.round(expected.get(date) ?? 0),
      capacity,
      rest: holiday ?? (capacity === 0 ? 'not a working day' : null),
    }
  })
}
