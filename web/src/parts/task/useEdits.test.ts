import { effectScope, ref } from 'vue'
import { describe, expect, it } from 'vitest'
import type { TaskPatch, TaskSheet } from '#contract/tasks.ts'
import { ApiProblem } from '#web/api/client.ts'
import { useEdits } from './useEdits.ts'

const sheet = (more: Partial<TaskSheet> = {}): TaskSheet =>
  ({ id: 7, version: 1, title: 'One', description: '', priority: 'normal', ...more }) as TaskSheet
const problem = (status: number, more: object = {}) =>
  new ApiProblem({
    ...{ type: 'about:blank', title: '', code: 'no', detail: 'Only members may.' },
    ...{ status, ...more },
  })

/** One task here and on a server that takes an edit only over the version it has. */
function house() {
  const [task, server] = [ref<TaskSheet | null>(sheet()), { now: sheet(), refuses: '' }]
  const sent: [TaskPatch, number][] = []
  const told: [TaskPatch, string | null][] = []
  const scope = effectScope()
  const edits = scope.run(() =>
    useEdits({
      task,
      async send(edit, over) {
        await Promise.resolve()
        sent.push([edit, over])
        if (server.refuses) throw problem(403)
        if (over !== server.now.version) throw problem(412, { theirs: server.now })
        server.now = { ...server.now, ...(edit as Partial<TaskSheet>), version: over + 1 }
        task.value = server.now
        return server.now
      },
      touches: (edit, base, theirs) =>
        (Object.keys(edit) as (keyof TaskSheet)[]).some((key) => base[key] !== theirs[key]),
      told: (edit, why) => void told.push([edit, why]),
    }),
  )!
  return { task, server, sent, told, scope, ...edits }
}
const settled = () => new Promise((done) => setTimeout(done, 5))

describe('edits of a task', () => {
  it('go one after the other, each over the version that the one before made', async () => {
    const h = house()
    await Promise.all([
      h.save({ priority: 'high' }),
      h.save(({ priority }) => ({ description: priority })),
    ])
    expect(h.sent).toEqual([
      [{ priority: 'high' }, 1],
      [{ description: 'high' }, 2],
    ])
  })
  it('stand beside what somebody else changed elsewhere', async () => {
    const h = house()
    h.type('title', 'Mine')
    h.server.now = h.task.value = sheet({ version: 2, description: 'Theirs' })
    await h.leave('title')
    expect(h.server.now).toMatchObject({ title: 'Mine', description: 'Theirs', version: 3 })
    expect([h.clash.value, h.texts.value]).toEqual([null, {}])
  })
  it('of the same are asked about, though theirs came while one typed; either may stand', async () => {
    for (const keep of ['mine', 'theirs'] as const) {
      const h = house()
      h.type('title', 'Mine')
      h.server.now = h.task.value = sheet({ version: 2, title: 'Theirs' })
      await h.leave('title')
      expect(h.clash.value).toMatchObject({ mine: { title: 'Mine' }, theirs: { title: 'Theirs' } })
      // Until it is settled, what was typed is there.
      expect(h.texts.value.title).toBe('Mine')
      const theirs = await h.settle(keep)
      expect(theirs?.title).toBe(keep === 'theirs' ? 'Theirs' : undefined)
      expect(h.server.now.title).toBe(keep === 'mine' ? 'Mine' : 'Theirs')
    }
  })
  it('that are refused are told, and what was typed stays', async () => {
    const h = house()
    h.server.refuses = 'all'
    h.type('title', 'Mine')
    await h.leave('title')
    expect([h.wrong.value, h.texts.value.title]).toEqual(['Only members may.', 'Mine'])
  })
  it('left as it was, nothing is sent', async () => {
    const h = house()
    h.type('title', 'One ')
    await h.leave('title')
    expect([h.sent, h.texts.value]).toEqual([[], {}])
  })
  it('being typed when the sheet goes are saved; what cannot be is told', async () => {
    const h = house()
    h.type('title', 'Late')
    h.scope.stop()
    await settled()
    expect(h.server.now.title).toBe('Late')
    const [refused, met] = [house(), house()]
    for (const other of [refused, met]) other.type('title', 'Late')
    refused.server.refuses = 'all'
    met.server.now = sheet({ version: 2, title: 'Theirs' })
    for (const other of [refused, met]) other.scope.stop()
    await settled()
    expect(refused.told).toEqual([[{ title: 'Late' }, 'Only members may.']])
    expect(met.told).toEqual([[{ title: 'Late' }, null]])
  })
})
