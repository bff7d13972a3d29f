import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick, ref } from 'vue'
import { post } from '#web/api/client.ts'
import { standard, useDefinition } from '#web/desks/work/views/definition.ts'
import { useDraft } from './draft.ts'
import { useMessages } from './messages.ts'
import { useSelection } from './selection.ts'
import { useTasks } from './tasks.ts'

/** A browser's two stores and a server of tasks, small enough to see through. */
const kept = new Map<string, string>()
const storage = {
  getItem: (k: string) => kept.get(k) ?? null,
  setItem: (k: string, v: string) => kept.set(k, v),
  removeItem: (k: string) => kept.delete(k),
}
let titles: Record<number, string> = {}
let refuse: string | null = null
const asked: string[] = []
const row = (id: number) => ({ id, title: titles[id], priority: 'normal', version: 1 })
beforeEach(() => {
  kept.clear()
  asked.length = 0
  titles = { 1: 'One', 2: 'Two', 3: 'Three' }
  refuse = null
  vi.stubGlobal('localStorage', storage)
  vi.stubGlobal('sessionStorage', storage)
  vi.stubGlobal('fetch', async (path: string, options: { method: string; body?: string }) => {
    asked.push(`${options.method} ${path}`)
    if (refuse)
      return new Response(JSON.stringify({ detail: refuse, code: 'no', status: 422 }), {
        status: 422,
      })
    const made = /made\/(\d+)/.exec(path)?.[1]
    if (made) return new Response('{}', { headers: { 'Fernwick-Change': made } })
    const ids = /ids=([\d,]+)/.exec(path)?.[1]?.split(',').map(Number)
    if (ids) return new Response(JSON.stringify({ tasks: ids.filter((id) => titles[id]).map(row) }))
    if (/undo$/.test(path)) return new Response(JSON.stringify({ change: 43, count: 1, left: [] }))
    const id = Number(/tasks\/(\d+)/.exec(path)?.[1])
    titles[id] = (JSON.parse(options.body!) as { title: string }).title
    return new Response(JSON.stringify(row(id)), { headers: { 'Fernwick-Change': '42' } })
  })
  setActivePinia(createPinia())
})
afterEach(() => vi.unstubAllGlobals())
const settled = () => new Promise((done) => setTimeout(done, 5))

describe('rows of tasks', () => {
  it('are asked for once, together, and dropped when they are gone', async () => {
    const tasks = useTasks()
    tasks.need([1, 2])
    tasks.need([2, 3])
    tasks.need([9])
    await settled()
    expect(asked).toEqual(['GET /api/v1/tasks?ids=1,2,3,9'])
    expect([...tasks.rows.keys()]).toEqual([1, 2, 3])
    tasks.need([1, 2, 3])
    await settled()
    expect(asked).toHaveLength(1)
  })
  it('show an edit at once, say it with a step back, and take the server’s word for it', async () => {
    const [tasks, messages] = [useTasks(), useMessages()]
    tasks.need([1])
    await settled()
    const saving = tasks.edit(1, { title: 'Uno' }, { title: 'Uno' }, (t) => `It is ${t.title}.`)
    expect(tasks.rows.get(1)!.title).toBe('Uno')
    expect(await saving).toBe(true)
    expect(messages.current!.text).toBe('It is Uno.')
    await messages.current!.undo!()
    expect(asked.at(-1)).toBe('POST /api/v1/changes/42/undo')
  })
  it('take back the last thing done, then the one before it, until there is nothing', async () => {
    const messages = useMessages()
    const taken = () => asked.filter((path) => path.endsWith('undo'))
    for (const change of [7, 8]) messages.did(`Change ${change}.`, await post(`/made/${change}`))
    expect(messages.done.map(({ change }) => change)).toEqual([8, 7])
    await messages.undoLast()
    expect(messages.current!.text).toBe('Taken back: Change 8.')
    await messages.undoLast()
    expect(taken()).toEqual(['POST /api/v1/changes/8/undo', 'POST /api/v1/changes/7/undo'])
    await messages.undoLast()
    expect(messages.current!.text).toBe('There is nothing to take back.')
    expect(taken()).toHaveLength(2)
  })
  it('what cannot be taken back is not offered twice; nothing of somebody else’s is', async () => {
    const messages = useMessages()
    for (const change of [7, 8, 9]) messages.did(`Change ${change}.`, await post(`/made/${change}`))
    refuse = 'It was taken back already.'
    await expect(messages.undoLast()).rejects.toThrow('taken back already')
    expect(messages.done.map(({ change }) => change)).toEqual([8, 7])
    messages.forget()
    expect(messages.done).toEqual([])
  })
  it('put back what the server would not take, and say why', async () => {
    const [tasks, messages] = [useTasks(), useMessages()]
    tasks.need([1])
    await settled()
    refuse = 'Only a manager may.'
    expect(await tasks.edit(1, { title: 'Uno' }, { title: 'Uno' }, () => '')).toBe(false)
    expect(tasks.rows.get(1)!.title).toBe('One')
    expect(messages.current).toMatchObject({ text: 'Only a manager may.', tone: 'alarm' })
    // It may have been changed meanwhile: the row is asked for again by whoever shows it.
    refuse = null
    titles[1] = 'Changed by another'
    tasks.need([1])
    await settled()
    expect(tasks.rows.get(1)!.title).toBe('Changed by another')
  })
})

describe('messages', () => {
  it('give way to the next, but what went wrong stays until it is read', () => {
    const messages = useMessages()
    const text = () => messages.current?.text
    messages.say('One is done.')
    messages.say('Two is done.')
    expect(text()).toBe('Two is done.')
    messages.fault('Three was not saved.')
    expect(text()).toBe('Three was not saved.')
    for (const said of ['Four is done.', 'Five is done.']) messages.say(said)
    messages.fault('Six was not saved.')
    messages.fault('Three was not saved.')
    const read: (string | undefined)[] = []
    for (; messages.current; messages.next()) read.push(text())
    expect(read).toEqual(['Three was not saved.', 'Six was not saved.', 'Five is done.'])
  })
  it('what was done behind a fault is told after it', () => {
    const messages = useMessages()
    messages.fault('One was not saved.')
    messages.say('Two is done.')
    expect(messages.current?.text).toBe('One was not saved.')
    messages.next()
    expect(messages.current?.text).toBe('Two is done.')
  })
})

describe('marking', () => {
  it('one by one, in runs, all, none', () => {
    const selection = useSelection()
    const order = [5, 6, 7, 8, 9]
    selection.toggle(6)
    selection.toggle(9, order)
    expect([...selection.marked].sort()).toEqual([6, 7, 8, 9])
    selection.toggle(7)
    expect([selection.has(7), selection.count]).toEqual([false, 3])
    // A run from something no longer there marks just the one.
    selection.toggle(5, [5, 8])
    expect(selection.has(5)).toBe(true)
    selection.set([1, 1, 2])
    expect(selection.count).toBe(2)
    selection.clear()
    expect(selection.count).toBe(0)
  })
})

describe('how work is looked at', () => {
  it('is remembered for each scope, and put back', async () => {
    const id = ref(1)
    const make = () =>
      useDefinition(
        () => standard({ of: 'project', id: id.value }),
        () => `project.${id.value}`,
      )
    const { def, changed, change, show, putBack } = make()
    expect([def.value.group, changed.value]).toEqual(['phase', false])
    show('board')
    expect(changed.value).toBe(false)
    change({ group: 'assignee' })
    await nextTick()
    expect([changed.value, make().def.value.group]).toEqual([true, 'assignee'])
    id.value = 2
    await nextTick()
    expect([def.value.group, def.value.kind]).toEqual(['phase', 'list'])
    id.value = 1
    await nextTick()
    expect(def.value).toMatchObject({ group: 'assignee', kind: 'board' })
    putBack()
    expect([def.value.group, def.value.kind]).toEqual(['phase', 'board'])
  })
  it('what cannot be read is forgotten; a saved view says when it is looked at otherwise', async () => {
    kept.set('fernwick.view.firm.', '{not json')
    expect(
      useDefinition(
        () => standard({ of: 'firm' }),
        () => 'firm.',
      ).def.value.group,
    ).toBe('due')
    const saved = useDefinition(
      () => standard({ of: 'firm' }),
      () => 'saved.1.1',
    )
    saved.show('table')
    await nextTick()
    expect(saved.changed.value).toBe(true)
    saved.putBack()
    expect(saved.changed.value).toBe(false)
  })
})

it('a text being written is there when one comes back, until it is emptied', async () => {
  const text = useDraft('comment.7')
  text.value = '<p>Half</p>'
  await nextTick()
  expect(useDraft('comment.7').value).toBe('<p>Half</p>')
  expect(useDraft('comment.8').value).toBe('')
  text.value = ''
  await nextTick()
  expect(kept.size).toBe(0)
})
