import { nextTick, ref } from 'vue'
import { expect, it } from 'vitest'
import { useTyped } from './useTyped.ts'

/** A number of minutes, typed. */
function minutes(start: number) {
  const value = ref(start)
  const taken: number[] = []
  const field = useTyped({
    value,
    say: (n) => `${n}m`,
    read: (text) =>
      /^\d+m?$/.test(text) ? { value: parseInt(text, 10) } : { wrong: `“${text}” is no length.` },
    take: (n) => {
      taken.push(n)
      value.value = n
    },
  })
  return { value, taken, ...field }
}

it('is taken when it is left, and said as it was understood', () => {
  const f = minutes(30)
  expect(f.text.value).toBe('30m')
  f.type('45')
  expect([f.text.value, f.typing.value, f.heard.value]).toEqual(['45', true, 45])
  expect(f.taken).toEqual([])
  expect(f.leave()).toBe(true)
  expect([f.text.value, f.typing.value, f.taken]).toEqual(['45m', false, [45]])
})
it('stands as it was taken until the answer is here, whatever it is', async () => {
  const value = ref('a')
  const f = useTyped<string>({
    ...{ value, say: (text) => text, read: (text) => ({ value: text }), take: () => undefined },
  })
  f.type('b')
  f.leave()
  expect([f.text.value, f.typing.value]).toEqual(['b', false])
  value.value = 'c'
  await nextTick()
  expect(f.text.value).toBe('c')
})
it('left as it was, nothing is told', () => {
  const f = minutes(30)
  expect(f.leave()).toBe(true)
  f.type('30')
  f.leave()
  expect(f.taken).toEqual([])
})
it('what arrives meanwhile does not touch what is typed', async () => {
  const f = minutes(30)
  f.type('4')
  f.value.value = 60
  await nextTick()
  expect(f.text.value).toBe('4')
  f.back()
  expect(f.text.value).toBe('60m')
})
it('what cannot be read stays, says what would be right, and gives way to what arrives', async () => {
  const f = minutes(30)
  f.type('soon')
  expect(f.leave()).toBe(false)
  expect([f.text.value, f.wrong.value, f.taken]).toEqual(['soon', '“soon” is no length.', []])
  f.type('soon 5')
  expect(f.wrong.value).toBe('')
  f.leave()
  f.value.value = 90
  await nextTick()
  expect([f.text.value, f.wrong.value]).toEqual(['90m', ''])
})
it('Esc puts back what stood there, once', () => {
  const f = minutes(30)
  f.type('45')
  expect(f.back()).toBe(true)
  expect(f.text.value).toBe('30m')
  expect(f.back()).toBe(false)
})
