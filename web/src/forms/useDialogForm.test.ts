import { expect, it, vi } from 'vitest'
import { ApiProblem } from '#web/api/client.ts'
import { useDialogForm } from './useDialogForm.ts'
import type { Faults } from './useForm.ts'

const problem = (place?: string) =>
  new ApiProblem({
    ...{ type: 'about:blank', title: 'No', status: 422, code: 'invalid', detail: 'Too long.' },
    ...(place && { place }),
  })
const opened = (send: (value: { name: string }) => Promise<unknown>) => {
  const done = vi.fn()
  const form = useDialogForm({
    value: { name: '' },
    send,
    check: ({ name }): Faults => (name === 'bad' ? { name: 'Not that.' } : {}),
    done,
  })
  return { form, done }
}

it('sends what was written once, and is done', async () => {
  const sent: string[] = []
  const { form, done } = opened(async ({ name }) => sent.push(name))
  expect(form.dirty).toBe(false)
  form.draft!.name = 'Larkmoor'
  expect(form.dirty).toBe(true)
  await Promise.all([form.submit(), form.submit()])
  expect(sent).toEqual(['Larkmoor'])
  expect(done).toHaveBeenCalledOnce()
})
it('sends what nobody changed, too: what is proposed may be right', async () => {
  const send = vi.fn(async () => 1)
  const { form, done } = opened(send)
  await form.submit()
  expect(send).toHaveBeenCalledOnce()
  expect(done).toHaveBeenCalledOnce()
})
it.each([
  ['at its field', 'name', { name: 'Too long.' }, ''],
  ['with the whole', undefined, {}, 'Too long.'],
])('what is refused is said %s, and what was written stays', async (_, place, faults, fault) => {
  const { form, done } = opened(() => Promise.reject(problem(place)))
  form.draft!.name = 'Long'
  await form.submit()
  expect([form.faults, form.fault, form.draft!.name]).toEqual([faults, fault, 'Long'])
  expect(done).not.toHaveBeenCalled()
})
it('what is wrong beforehand is not sent', async () => {
  const send = vi.fn(async () => 1)
  const { form, done } = opened(send)
  form.draft!.name = 'bad'
  await form.submit()
  expect(form.faultAt('name')).toBe('Not that.')
  expect(send).not.toHaveBeenCalled()
  expect(done).not.toHaveBeenCalled()
})
