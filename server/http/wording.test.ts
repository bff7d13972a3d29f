import { expect, it } from 'vitest'
import { serveDemo } from '../test/demo-house.ts'
import { london } from '../test/lab.ts'

/** Wrong input of every kind, and the sentence that says what is wrong and what would be right. */
const { as } = serveDemo(london('2026-11-23T12:00'))
const T = '/api/v1/tasks'
const long = 'x'.repeat(201)
const dates = (rule: string) => ({
  schedule: { start: '2026-11-24T09:00', rule, roll: 'none' },
  leadDays: 0,
})
const WRONG: readonly [string, string, unknown, string][] = [
  ['POST', T, {}, 'Title is missing.'],
  ['POST', T, { title: '' }, 'Title is empty; write something there.'],
  ['POST', T, { title: long }, 'Title is too long; it may have at most 200 characters.'],
  ['POST', T, { title: 7 }, 'Title must be text.'],
  [
    'POST',
    T,
    { title: 'X', due: '30 November' },
    'Due must be a date, written year, month, day: 2026-12-31.',
  ],
  [
    'POST',
    T,
    { title: 'X', due: '2026-02-30' },
    'Due: "2026-02-30" is not a date; write it as YYYY-MM-DD, a day that exists.',
  ],
  [
    'POST',
    T,
    { title: 'X', due: '1926-11-23' },
    'Due must lie between 1970 and 2200, as all dates of work do.',
  ],
  [
    'POST',
    T,
    { title: 'X', due: '2026-11-30', dueTime: '25:00' },
    'Due time must be a time of day, such as 09:30 or 17:00.',
  ],
  ['POST', T, { title: 'X', dueTime: '10:00' }, 'A time needs a due date; set the date first.'],
  [
    'POST',
    T,
    { title: 'X', start: '2026-12-02', due: '2026-12-01' },
    'Start (Wed 2 Dec 2026) is after Due (Tue 1 Dec 2026); move one of them.',
  ],
  ['POST', T, { title: 'X', estimate: -5 }, 'Estimate must be at least 0.'],
  ['POST', T, { title: 'X', estimate: 1.5 }, 'Estimate must be a whole number.'],
  ['POST', T, { title: 'X', estimate: 'long' }, 'Estimate must be a number.'],
  ['POST', T, { title: 'X', assignees: [99999] }, 'There is no person 99999.'],
  ['POST', T, { title: 'X', assignees: 'Devika' }, 'On it must be a list.'],
  ['POST', T, { title: 'X', assignees: [1, 1] }, 'On it (person 2): the same stands there twice.'],
  ['POST', T, { title: 'X', tags: [999] }, 'That tag was removed in the meantime.'],
  [
    'POST',
    T,
    { title: 'X', priority: 'soon' },
    'Priority must be one of: low, normal, high, urgent.',
  ],
  ['POST', T, { title: 'X', colour: 'red' }, 'There is no field “colour” here.'],
  ['POST', T, { title: 'X', projectId: 99999 }, 'There is no project 99999.'],
  ['PATCH', `${T}/1`, {}, 'Nothing is sent that would change anything.'],
  ['PATCH', `${T}/1`, { stateId: 999 }, 'That state was removed in the meantime; choose another.'],
  ['PATCH', `${T}/1`, { archived: 'yes' }, 'Archived must be yes or no (true or false).'],
  [
    'PATCH',
    `${T}/99999`,
    { title: 'X' },
    'There is no task 99999 here, or it is not shared with you.',
  ],
  ['POST', `${T}/1/comments`, { body: '' }, 'Comment is empty; write something there.'],
  ['POST', `${T}/bulk`, { ids: [] }, 'Marked tasks: at least 1 must be there.'],
  [
    'POST',
    `${T}/bulk`,
    { ids: [1], shift: { days: 0, working: true } },
    'Working days to move by may be anything but 0.',
  ],
  [
    'POST',
    `${T}/bulk`,
    { ids: [1], shift: { days: 5000, working: true } },
    'Working days to move by must be at most 1,000.',
  ],
  [
    'POST',
    '/api/v1/projects',
    { name: ' ', clientId: null, phases: [] },
    'Name is empty; write something there.',
  ],
  ['POST', '/api/v1/projects', { name: 'X', clientId: 999, phases: [] }, 'There is no client 999.'],
  [
    'POST',
    '/api/v1/projects',
    { name: 'X', clientId: null, phases: ['A', ''] },
    'Phases (phase 2) is empty; write something there.',
  ],
  ['POST', '/api/v1/tags', { name: '', colour: 'teal' }, 'Name is empty; write something there.'],
  [
    'POST',
    '/api/v1/tags',
    { name: 'x', colour: 'red' },
    'Colour must be one of: fern, dusk, heather, ochre, alarm, moss, slate, rose, teal, clay.',
  ],
  [
    'POST',
    '/api/v1/series/dates',
    dates('EVERY TUESDAY'),
    'Repeats: "EVERY TUESDAY" is no part of a rule; parts look like FREQ=WEEKLY or BYDAY=TU.',
  ],
  [
    'POST',
    '/api/v1/series/dates',
    dates('FREQ=WEEKLY;BYDAY=XX'),
    'Repeats: BYDAY=XX is not a weekday such as MO, 2FR or -1SU.',
  ],
  [
    'POST',
    '/api/v1/series/dates',
    dates('FREQ=WEEKLY;COUNT=0'),
    'Repeats: COUNT=0 must be a whole number from 1.',
  ],
  [
    'POST',
    '/api/v1/templates',
    { definition: { name: '', anchor: 'start', phases: [] } },
    'Name is empty; write something there.',
  ],
  ['GET', '/api/v1/ribbon?days=0', undefined, 'Days must be at least 1.'],
  [
    'GET',
    '/api/v1/ribbon?from=tomorrow',
    undefined,
    'From must be a date, written year, month, day: 2026-12-31.',
  ],
  [
    'POST',
    '/api/v1/session',
    { email: 'nobody', password: 'x' },
    'That address and password do not go together.',
  ],
  ['GET', '/api/v1/nothing', undefined, 'There is nothing at /api/v1/nothing.'],
]

it.each(WRONG)('%s %s %j', async (method, path, body, said) => {
  const manager = await as('manager')
  const answer = await manager<{ detail: string }>(method as 'POST', path, body as object)
  expect(answer.status).toBeGreaterThanOrEqual(400)
  expect(answer.status).toBeLessThan(500)
  expect(answer.body.detail).toBe(said)
})
