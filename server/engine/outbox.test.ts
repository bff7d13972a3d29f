import { addComment } from '../areas/tasks/comments.ts'
import { describe, expect, it } from 'vitest'
import { ENGINE, lab, LADDER, type Lab } from '../test/lab.ts'
import { makeRule, switchRule } from '../areas/rules/service.ts'
import { makeTask } from '../areas/tasks/service.ts'
import { undoChange } from '../areas/journal/undo.ts'
import { listNotices } from '../areas/notices/service.ts'
import { createDelivery, type Mail } from './outbox.ts'

const lateRule = (l: Lab, also = false) => {
  const rule = makeRule(l.engine, l.imogen, {
    name: 'Late',
    ownerId: l.imogen.id,
    definition: LADDER({ team: l.team, boss: l.imogen.id }),
  }).result
  switchRule(l.engine, l.imogen, rule.id, { on: true, also })
  return rule.id
}

/** Sends what waits, once. */
function deliver(l: Lab, send: (mail: Mail) => Promise<void>): Promise<void> {
  const delivery = createDelivery(l.engine, send)
  delivery.wake()
  return delivery.idle()
}

describe('notices and mail', () => {
  it('work given and comments are told once, from the journal, to the others', () => {
    const l = lab()
    const task = makeTask(l.engine, l.imogen, {
      title: 'Post',
      assignees: [l.tobias.id, l.imogen.id],
    }).result
    addComment(l.engine, l.tobias, task.id, 'On it')
    l.runner.tick()
    l.runner.tick()
    expect(listNotices(l.engine, l.tobias).map((n) => n.body)).toEqual(['Imogen put you on “Post”'])
    expect(listNotices(l.engine, l.imogen).map((n) => n.body)).toEqual(['Tobias on “Post”: On it'])
  })
  it('what a rule did is taken back with its mail, unless that has left, which is said', async () => {
    const l = lab()
    lateRule(l)
    const late = { due: '2026-11-23', assignees: [l.tobias.id] }
    makeTask(l.engine, l.imogen, { title: 'Statements', ...late })
    makeTask(l.engine, l.imogen, { title: 'Accruals', ...late })
    l.until('2026-11-24T09:00')
    const mails = () =>
      l.rows<{ change: number; subject: string; state: string }>(
        'select "change", subject, state from outbox order by id',
      )
    const [statements, accruals] = mails().map((mail) => mail.change)
    expect(statements).not.toBe(accruals)
    const waits = undoChange(l.engine, l.imogen, statements!).whole()
    expect(waits.result.left).toEqual([])
    expect(mails().map((mail) => mail.subject)).toEqual(['Accruals is 1 working day late'])
    await deliver(l, () => Promise.resolve())
    const gone = undoChange(l.engine, l.imogen, accruals!).whole()
    expect(gone.result).toMatchObject({
      count: 1,
      left: ['A mail to tobias@quillhaven.example has left.'],
    })
    expect(mails()).toMatchObject([{ state: 'sent' }])
    // What takes back the taking back sends nothing anew.
    undoChange(l.engine, l.imogen, waits.change!).whole()
    expect(mails()).toHaveLength(1)
  })
  it('mail is tried again ever later, sent once, and given up in the end', async () => {
    const l = lab()
    lateRule(l)
    makeTask(l.engine, l.imogen, {
      title: 'Statements',
      due: '2026-11-23',
      assignees: [l.tobias.id],
    })
    l.until('2026-11-24T09:00')
    const sent: string[] = []
    let down = true
    const send = (mail: { to: string }) =>
      down ? Promise.reject(new Error('refused')) : (sent.push(mail.to), Promise.resolve())
    await deliver(l, send)
    expect(
      l.rows('select state, attempts, lastError, nextAt - ? as wait from outbox', l.clock.now()),
    ).toEqual([{ state: 'waiting', attempts: 1, lastError: 'refused', wait: 60_000 }])
    down = false
    await deliver(l, send)
    expect(sent).toEqual([])
    l.clock.set(l.clock.now() + 60_000)
    await deliver(l, send)
    await deliver(l, send)
    expect(sent).toEqual(['tobias@quillhaven.example'])
    l.engine.journal.change(ENGINE, (write) =>
      write.update('outbox', 1, { state: 'waiting', attempts: 6 }),
    )
    down = true
    await deliver(l, send)
    expect(l.rows('select state from outbox')).toEqual([{ state: 'failed' }])
  })
})
