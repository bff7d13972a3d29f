import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { reactive, ref } from 'vue'
import type { Directory, Me } from '#contract/desks.ts'
import type { TaskRow } from '#contract/tasks.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSelection } from '#web/state/selection.ts'
import { useSession } from '#web/state/session.ts'
import { useTasks } from '#web/state/tasks.ts'
import { useDeedLines } from './useDeedLines.ts'
import { useNoteLines } from './useNoteLines.ts'

const route = reactive({ path: '/today', query: {} as Record<string, string> })
const went: unknown[] = []
vi.mock('vue-router', () => ({
  useRoute: () => route,
  useRouter: () => ({ push: (to: unknown) => void went.push(to) }),
}))
const sent: [string, unknown][] = []
beforeEach(() => {
  sent.length = went.length = 0
  Object.assign(route, { path: '/today', query: {} })
  setActivePinia(createPinia())
  vi.stubGlobal('fetch', async (path: string, { body }: { body: string }) => {
    sent.push([path.replace('/api/v1', ''), JSON.parse(body)])
    return new Response(JSON.stringify({ id: 9, title: 'Pay the toll', count: 2 }))
  })
  const session = useSession()
  session.me = {
    ...{ id: 7, name: 'Imogen', today: '2026-11-23', zone: 'Europe/London' },
    ...{ dates: { first: 'MO', clock: 24 }, may: { member: true, structure: true } },
  } as Me
  session.directory = {
    people: [{ id: 8, name: 'Tobias Okafor', active: true }],
    projects: [{ id: 4, name: 'Larkmoor, books', stateSetId: 1, clientId: null }],
    states: [{ id: 1, setId: 1, name: 'With the bank', kind: 'waiting', setters: 'anyone' }],
    ...{ teams: [], clients: [], templates: [], tags: [], fields: [] },
  } as unknown as Directory
})
afterEach(() => vi.unstubAllGlobals())

it('notes a task on whoever types, in the project that is looked at', async () => {
  const text = ref('Pay the toll fri 30m')
  const lines = useNoteLines(text)
  expect(lines.value.map(({ name, more }) => [name, more])).toEqual([
    ['Pay the toll', 'due Fri 27 Nov · 30m · on you'],
  ])
  route.path = '/work/4'
  expect(lines.value[0]!.more).toBe('Larkmoor, books · due Fri 27 Nov · 30m · on you')
  await lines.value[0]!.run()
  expect(sent).toEqual([
    [
      '/tasks',
      {
        ...{ title: 'Pay the toll', projectId: 4, assignees: [7] },
        ...{ due: '2026-11-27', estimate: 30 },
      },
    ],
  ])
  expect(useMessages().current?.text).toBe('Noted as #9: “Pay the toll”.')
})
it('says that a title is missing, and sends nothing', async () => {
  const [line] = useNoteLines(ref('fri 30m')).value
  expect(line!.name).toBe('(a title is missing)')
  await line!.run()
  expect(sent).toEqual([])
  expect(useMessages().current).toMatchObject({ tone: 'alarm' })
})
it('offers a series where the line says that it repeats, to whoever may make one', async () => {
  const text = ref('Count the till every friday')
  const lines = useNoteLines(text)
  expect(lines.value.map(({ key }) => key)).toEqual(['note', 'series'])
  await lines.value[1]!.run()
  expect(went).toHaveLength(1)
  useSession().me!.may.structure = false
  expect(lines.value.map(({ key }) => key)).toEqual(['note'])
  useSession().me!.may.member = false
  expect(lines.value).toEqual([])
})
it('offers what can be done with all that is marked, or else with the task that is open', async () => {
  const text = ref('')
  const lines = useDeedLines(text)
  expect(lines.value).toEqual([])
  route.query = { task: '12' }
  const names = () => lines.value.map(({ name }) => name)
  expect(lines.value.every(({ more, name }) => more === '#12' || !/^To |^Set/.test(name))).toBe(
    true,
  )
  useTasks().rows.set(1, { id: 1, project: { id: 4 } } as TaskRow)
  useTasks().rows.set(2, { id: 2, project: null } as TaskRow)
  useSelection().set([1, 2])
  text.value = 'unmark'
  expect(names()).toContain('Unmark all')
  text.value = 'bank'
  const bank = lines.value.find(({ name }) => /with the bank/i.test(name))!
  expect(bank.more).toBe('2 tasks marked')
  await bank.run()
  expect(sent[0]).toMatchObject(['/tasks/bulk', { ids: [1, 2] }])
  expect(useMessages().current?.text).toMatch(/^2 tasks changed\. /)
})
it('offers no state by name where what is marked goes by different ones', () => {
  useSession().directory = {
    ...useSession().directory,
    projects: [{ id: 4, name: 'Larkmoor, books', stateSetId: 3, clientId: null }],
  } as unknown as Directory
  useTasks().rows.set(1, { id: 1, project: { id: 4 } } as TaskRow)
  useTasks().rows.set(2, { id: 2, project: null } as TaskRow)
  useSelection().set([1, 2])
  const lines = useDeedLines(ref('bank'))
  expect(lines.value.filter(({ name }) => /with the bank/i.test(name))).toEqual([])
})
