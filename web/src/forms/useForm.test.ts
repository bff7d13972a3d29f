import { nextTick, ref } from 'vue'
import { describe, expect, it } from 'vitest'
import { ApiProblem } from '#web/api/client.ts'
import { useForm, type Faults, type Held } from './useForm.ts'

interface Rule {
  name: string
  days: number
  note?: string
}
const problem = (code: string, detail: string, place?: string) =>
  new ApiProblem({
    ...{ type: 'about:blank', title: '', status: code === 'changed-since' ? 412 : 422, code },
    ...{ detail, ...(place && { place }) },
  })

/** A form over a rule on a server that keeps the rules of versions. */
function room(check?: (rule: Rule) => Faults) {
  const key = ref<string | null>('rule.1')
  const held = ref<Held<Rule> | null>({ value: { name: 'Late', days: 3 }, version: 1 })
  const sent: [Rule, number][] = []
  let refuse: (() => ApiProblem) | null = null
  /** What the server holds, before this page has heard of it. */
  let server = held.value!
  const shelves = new Map<string, string>()
  const make = () =>
    useForm<Rule>({
      key: () => key.value,
      held: () => held.value,
      send: (value, seen) => {
        if (refuse) return Promise.reject(refuse())
        if (seen !== server.version) return Promise.reject(problem('changed-since', 'Too late.'))
        sent.push([value, seen])
        server = { value, version: server.version + 1 }
        return Promise.resolve((held.value = server))
      },
      again: () => Promise.resolve((held.value = server)),
      shelf: (name) => ({
        get: () => shelves.get(name) ?? null,
        set: (text) => void (text === null ? shelves.delete(name) : shelves.set(name, text)),
      }),
      ...(check && { check }),
    })
  return {
    ...{ key, held, sent, shelves, make, form: make() },
    /** Somebody else saves; `told` is whether this page hears of it. */
    async other(value: Rule, told = true) {
      server = { value, version: server.version + 1 }
      if (told) held.value = server
      await nextTick()
    },
    refusing: (error: ApiProblem | null) => void (refuse = error && (() => error)),
  }
}

describe('a form', () => {
  it('begins as what the server holds, is dirty while it differs, and saves on its version', async () => {
    const { form, sent } = room()
    expect([form.draft.value, form.dirty.value]).toEqual([{ name: 'Late', days: 3 }, false])
    form.draft.value!.days = 5
    expect(form.dirty.value).toBe(true)
    form.draft.value!.days = 3
    expect(form.dirty.value).toBe(false)
    form.draft.value!.days = 4
    expect(await form.save()).toBe(true)
    expect(sent).toEqual([[{ name: 'Late', days: 4 }, 1]])
    expect(form.dirty.value).toBe(false)
  })
  it('put back, it is as the server holds it', () => {
    const { form } = room()
    form.draft.value!.name = 'Other'
    form.putBack()
    expect([form.draft.value, form.dirty.value]).toEqual([{ name: 'Late', days: 3 }, false])
  })
  it('another key begins another form', async () => {
    const { form, key, held } = room()
    form.draft.value!.name = 'Half'
    key.value = 'rule.2'
    held.value = { value: { name: 'Second', days: 1 }, version: 7 }
    await nextTick()
    expect([form.draft.value?.name, form.dirty.value]).toEqual(['Second', false])
    key.value = null
    held.value = null
    await nextTick()
    expect(form.draft.value).toBeNull()
  })
})

describe('what somebody else saves meanwhile', () => {
  it('is shown where nothing was written', async () => {
    const { form, other } = room()
    await other({ name: 'Late, by them', days: 3 })
    expect([form.draft.value!.name, form.dirty.value]).toEqual(['Late, by them', false])
  })
  it('is merged with what was, and both are saved', async () => {
    const { form, other, sent } = room()
    form.draft.value!.days = 5
    await other({ name: 'Late, by them', days: 3 })
    expect(form.draft.value).toEqual({ name: 'Late, by them', days: 5 })
    expect(await form.save()).toBe(true)
    expect(sent).toEqual([[{ name: 'Late, by them', days: 5 }, 2]])
  })
  it('found out by the save alone, it is merged and sent again, once', async () => {
    const { form, other, sent } = room()
    form.draft.value!.days = 5
    await other({ name: 'Late, by them', days: 3 }, false)
    expect(await form.save()).toBe(true)
    expect(sent).toEqual([[{ name: 'Late, by them', days: 5 }, 2]])
  })
  it('the same changed by both is asked about before anything is sent', async () => {
    const { form, other, sent } = room()
    form.draft.value!.days = 5
    await other({ name: 'Late', days: 8 }, false)
    expect(await form.save()).toBe(false)
    expect(form.clashes.value).toEqual([{ place: 'days', mine: 5, theirs: 8 }])
    expect(await form.save()).toBe(false)
    expect(sent).toEqual([])
    form.settle('mine')
    expect(await form.save()).toBe(true)
    expect(sent).toEqual([[{ name: 'Late', days: 5 }, 2]])
  })
  it('theirs taken, nothing of mine is lost elsewhere', async () => {
    const { form, other } = room()
    form.draft.value!.days = 5
    form.draft.value!.note = 'mine'
    await other({ name: 'Late', days: 8 })
    form.settle('theirs')
    expect(form.draft.value).toEqual({ name: 'Late', days: 8, note: 'mine' })
    expect(form.dirty.value).toBe(true)
  })
})

describe('what is wrong', () => {
  it('stands at its field, and nothing is sent', async () => {
    const { form, sent } = room((rule): Faults =>
      rule.name.trim() ? {} : { name: 'It needs a name.' },
    )
    form.draft.value!.name = ' '
    expect(await form.save()).toBe(false)
    expect([form.faultAt('name'), form.faultAt('days'), sent]).toEqual(['It needs a name.', '', []])
    form.draft.value!.name = 'Named'
    expect(await form.save()).toBe(true)
    expect(form.faultAt('name')).toBe('')
  })
  // Source: RFC 9457, problem details, whose extension member here names the place.
  it('said by the server, at the place it names; otherwise of the whole', async () => {
    const { form, refusing } = room()
    form.draft.value!.days = -1
    refusing(problem('bad', 'Days are 0 or more.', 'days'))
    expect(await form.save()).toBe(false)
    expect([form.faultAt('days'), form.fault.value]).toEqual(['Days are 0 or more.', ''])
    refusing(problem('offline', 'No connection.'))
    await form.save()
    expect([form.faultAt('days'), form.fault.value]).toEqual(['', 'No connection.'])
    expect(form.draft.value).toEqual({ name: 'Late', days: -1 })
  })
  it('within a part shows at the part', async () => {
    const { form, refusing } = room()
    form.draft.value!.name = 'x'
    refusing(problem('bad', 'That is no unit.', 'rungs.0.delay.unit'))
    await form.save()
    expect(form.faultAt('rungs.0')).toBe('That is no unit.')
  })
})

describe('what was written and not saved', () => {
  it('is there when one comes back to it, on top of what the server holds by then', async () => {
    const { form, make, other, shelves } = room()
    form.draft.value!.days = 5
    await nextTick()
    expect(shelves.size).toBe(1)
    await other({ name: 'Late, by them', days: 3 })
    const back = make()
    expect([back.draft.value, back.dirty.value]).toEqual([{ name: 'Late, by them', days: 5 }, true])
    expect(await back.save()).toBe(true)
    await nextTick()
    expect(shelves.size).toBe(0)
  })
  it('is gone once it was put back', async () => {
    const { form, shelves } = room()
    form.draft.value!.days = 5
    await nextTick()
    form.putBack()
    await nextTick()
    expect(shelves.size).toBe(0)
  })
  it('a torn shelf is as none', () => {
    const { shelves, make } = room()
    shelves.set('rule.1', '{')
    expect(make().draft.value).toEqual({ name: 'Late', days: 3 })
  })
})
