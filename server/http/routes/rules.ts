import Joi from 'joi'
import { id, line, switchBody } from '#contract/common.ts'
import {
  ruleBody,
  rulePast as rulePastBody,
  ruleSwitch,
  ruleText,
  ruleTry,
} from '#contract/rules.ts'
import { OUTCOMES } from '#contract/words.ts'
import { listRules, makeRule, ruleSheet, saveRule, switchRule } from '../../areas/rules/service.ts'
import { lateAudit } from '../../areas/rules/audit.ts'
import { listRuns, runDays, runDetail, type RunFilter } from '../../areas/rules/log.ts'
import { runAgain } from '../../areas/rules/rerun.ts'
import { rulesIn, switchIn } from '../../areas/rules/places.ts'
import { clockwork, switchClockwork } from '../../areas/rules/halt.ts'
import { lateAlready } from '../../areas/rules/late-already.ts'
import { rulePast } from '../../areas/rules/past.ts'
import type { Subject } from '../../areas/rules/subject.ts'
import { whyNot } from '../../areas/rules/why.ts'
import { fillText, tryRule } from '../../areas/rules/try.ts'
import { read, unchanged, write, type Route } from '../route.ts'

/** What a rule is asked about: one thing, and a moment in milliseconds. */
interface WhyQuery {
  readonly task?: number
  readonly project?: number
  readonly client?: number
  readonly at: number
}
const whyQuery = Joi.object<WhyQuery>({
  ...{ task: id, project: id, client: id },
  at: Joi.number().integer().min(0).required(),
}).xor('task', 'project', 'client')
function aboutOf({ task, project, client }: Omit<WhyQuery, 'at'>): Subject {
  if (task !== undefined) return { kind: 'task', id: task }
  return project === undefined
    ? { kind: 'client', id: client ?? 0 }
    : { kind: 'project', id: project }
}

/** Rules, and what rules and series did. */
export const RULES: readonly Route[] = [
  read({
    path: '/rules',
    about: 'Rules',
    handle: ({ engine, viewer }) => listRules(engine, viewer),
  }),
  write('post', {
    path: '/rules',
    who: 'managers',
    about: 'Make a rule',
    body: ruleBody,
    status: 201,
    handle: ({ engine, viewer, body }) => makeRule(engine, viewer, body),
  }),
  write('post', {
    path: '/rules/try',
    who: 'managers',
    about: 'Try a rule on one item; nothing is changed',
    body: ruleTry,
    handle: ({ engine, viewer, body }) => unchanged(tryRule(engine, viewer, body)),
  }),
  write('post', {
    path: '/rules/fill',
    who: 'managers',
    apart: 'read',
    about: 'A text of a rule as it would be said of one item; nothing is said',
    body: ruleText,
    handle: ({ engine, viewer, body }) => unchanged(fillText(engine, viewer, body)),
  }),
  write('post', {
    path: '/rules/past',
    who: 'managers',
    apart: 'work',
    about: 'What a rule would have done in the last 30 days',
    body: rulePastBody,
    handle: ({ engine, viewer, body }) => unchanged(rulePast(engine, viewer, body)),
  }),
  read({
    path: '/rules/:id',
    about: 'One rule',
    handle: ({ engine, viewer, param }) => ruleSheet(engine, viewer, param('id')),
  }),
  write('put', {
    path: '/rules/:id',
    who: 'managers',
    about: 'Save the next version',
    body: ruleBody,
    handle: ({ engine, viewer, param, body, seen }) =>
      saveRule(engine, viewer, param('id'), { body, seen }),
  }),
  write('post', {
    path: '/rules/:id/switch',
    who: 'managers',
    about: 'Switch a rule on or off',
    body: ruleSwitch,
    handle: ({ engine, viewer, param, body }) => switchRule(engine, viewer, param('id'), body),
  }),
  read({
    path: '/rules/:id/days',
    about: 'How often a rule ran on each of the last 30 days',
    handle: ({ engine, viewer, param }) => runDays(engine, viewer, param('id')),
  }),
  read<WhyQuery>({
    path: '/rules/:id/why',
    about: 'What a rule did, or did not do, to something up to a moment of a day, and why',
    apart: 'work',
    query: whyQuery,
    handle: ({ engine, viewer, param, query: { at, ...about } }) =>
      whyNot(engine, viewer, { rule: param('id'), about: aboutOf(about), at }),
  }),
  read({
    path: '/rules/:id/late',
    about: 'What a rule would act on at once, if it acted on what is late already',
    apart: 'read',
    handle: ({ engine, viewer, param }) => lateAlready(engine, viewer, param('id')),
  }),
  read({
    path: '/projects/:id/rules',
    about: 'Rules that act in a project',
    handle: ({ engine, viewer, param }) => rulesIn(engine, viewer, param('id')),
  }),
  write('put', {
    path: '/projects/:id/rules/:rule',
    who: 'members',
    about: 'Switch a rule off in one project, or let it act there again',
    body: switchBody,
    handle: ({ engine, viewer, param, body }) =>
      switchIn(engine, viewer, { rule: param('rule'), project: param('id') }, body.on),
  }),
  read({
    path: '/clockwork/audit',
    about: 'Every open late task: what comes to it next, or why nothing does',
    apart: 'read',
    handle: ({ engine, viewer }) => lateAudit(engine, viewer),
  }),
  read({
    path: '/clockwork',
    about: 'Whether what happens by itself does, and what was held back',
    handle: ({ engine, viewer }) => clockwork(engine, viewer),
  }),
  write('put', {
    path: '/clockwork',
    who: 'managers',
    about: 'Stop everything automatic, or let it go on',
    body: ruleSwitch,
    handle: ({ engine, viewer, body }) => switchClockwork(engine, viewer, body),
  }),
  read<RunFilter>({
    path: '/runs',
    about: 'The run log',
    apart: 'read',
    query: Joi.object({
      ...{ ruleId: id, seriesId: id, taskId: id, projectId: id, personId: id },
      outcome: Joi.valid(...OUTCOMES),
      text: line(100),
      before: id,
    }),
    handle: ({ engine, viewer, query }) => listRuns(engine, viewer, query),
  }),
  read({
    path: '/runs/:id',
    about: 'One run whole: what led to it, what it changed, whom it told',
    handle: ({ engine, viewer, param }) => runDetail(engine, viewer, param('id')),
  }),
  write('post', {
    path: '/runs/:id/again',
    who: 'managers',
    about: 'Run the rule of a run on the same thing again',
    handle: ({ engine, viewer, param }) => runAgain(engine, viewer, param('id')),
  }),
]
