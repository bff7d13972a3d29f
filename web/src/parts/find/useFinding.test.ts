import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { nextTick, ref } from 'vue'
import { useMessages } from '#web/state/messages.ts'
import { useFinding } from './useFinding.ts'

/** What is asked, and how long each answer takes in milliseconds. */
const asked: string[] = []
let takes: Record<string, number> = {}
let refuses = false
beforeEach(() => {
  vi.useFakeTimers()
  asked.length = 0
  takes = {}
  refuses = false
  setActivePinia(createPinia())
  vi.stubGlobal('fetch', async (path: string) => {
    const [, where, words] = /find(\/first)?\?words=(.*)$/.exec(path)!
    const name = `${where ? 'first ' : ''}${decodeURIComponent(words!)}`
    asked.push(name)
    await new Promise((done) => setTimeout(done, takes[name] ?? 10))
    return refuses
      ? new Response(JSON.stringify({ detail: 'Ask for less.', status: 400 }), { status: 400 })
      : new Response(JSON.stringify([{ kind: 'client', id: 1, name }]))
  })
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})
function box() {
  const text = ref('')
  const taken: string[] = []
  const finding = useFinding(text, {
    shown: () => () => undefined,
    first: () => void taken.push(names().join()),
  })
  const names = () => finding.found.value.map((each) => ('name' in each ? each.name : ''))
  const type = async (words: string) => {
    text.value = words
    await nextTick()
  }
  return { ...finding, names, type, taken }
}
const pass = (ms: number) => vi.advanceTimersByTimeAsync(ms)

it('asks once the hand rests, for words or a number, and for nothing less', async () => {
  const b = box()
  for (const words of ['p', 'po', 'post']) await b.type(words)
  await pass(200)
  expect(asked).toEqual(['first post', 'post'])
  expect([b.names(), b.asking.value]).toEqual([['post'], false])
  await b.type('x')
  expect([b.names(), b.asking.value]).toEqual([[], false])
  await b.type('#7')
  await pass(200)
  expect(asked.slice(2)).toEqual(['first #7', '#7'])
})
it('shows titles first, then everything; what other words overtook is dropped', async () => {
  takes = { post: 500, 'first post': 100 }
  const b = box()
  await b.type('post')
  await pass(200)
  expect([b.names(), b.asking.value]).toEqual([['first post'], true])
  await b.type('books')
  await pass(200)
  expect(b.names()).toEqual(['books'])
  await pass(1_000)
  expect(b.names()).toEqual(['books'])
})
it('Enter before the answer takes the first line of it, unless it fails or other words come', async () => {
  takes = { post: 300, 'first post': 1_000 }
  const b = box()
  await b.type('post')
  b.hasten()
  await pass(1_500)
  expect(b.taken).toEqual(['post'])
  await b.type('posts')
  b.hasten()
  await b.type('postscript')
  await pass(500)
  expect(b.taken).toHaveLength(1)
  refuses = true
  await b.type('more')
  b.hasten()
  await pass(500)
  expect([b.taken.length, useMessages().current?.text]).toEqual([1, 'Ask for less.'])
})
