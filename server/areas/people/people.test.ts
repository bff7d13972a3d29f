import { describe, expect, it } from 'vitest'
import { lab, type Lab } from '../../test/lab.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { undoChange } from '../journal/undo.ts'
import { invitation, invite, inviteAgain, takeUp } from './invite.ts'
import { editPerson, listPeople } from './service.ts'

const address = 'https://fernwick.example'
const ines = { name: 'Ines Corbet', email: 'Ines@Example.org', access: 'member' as const }
const asked = (l: Lab, people: object[] = [ines], viewer = l.imogen) =>
  invite(l.engine, viewer, { people: people as never, address })
const keyOf = (link: string) => new URL(link).searchParams.get('key')!
const person = (l: Lab, id: number) => listPeople(l.engine, l.imogen).find((p) => p.id === id)!
/** The manager of the lab, as its owner. */
function owned(): { l: Lab; owner: Viewer } {
  const l = lab()
  l.db.sqlite.prepare("update people set access = 'owner' where id = ?").run(l.imogen.id)
  return { l, owner: { ...l.imogen, access: 'owner' } }
}

describe('an invitation', () => {
  it('goes by mail, opens once, and lets in by the password that is chosen', () => {
    const l = lab()
    const [made] = asked(l).result
    expect(l.rows('select recipient, subject from outbox')).toEqual([
      { recipient: 'ines@example.org', subject: 'Imogen invites you to Quillhaven' },
    ])
    expect(l.rows<{ body: string }>('select body from outbox')[0]!.body).toContain(made!.link)
    expect(made!.link).toMatch(/^https:\/\/fernwick\.example\/join\?key=/)
    const key = keyOf(made!.link)
    expect(invitation(l.engine, key)).toEqual({
      ...{ firm: 'Quillhaven', name: 'Ines Corbet', email: 'ines@example.org' },
    })
    expect(person(l, made!.id)).toMatchObject({ joined: false, active: true })
    expect(takeUp(l.engine, key, 'scrypt$x')).toBe(made!.id)
    expect(person(l, made!.id)).toMatchObject({ joined: true, invitedUntil: null })
    expect(() => takeUp(l.engine, key, 'scrypt$y')).toThrow(/taken up/)
    expect(() => inviteAgain(l.engine, l.imogen, made!.id, address)).toThrow(/in already/)
    // Neither the secret nor what was made of the password is in the journal, or anywhere in the clear.
    const written = JSON.stringify(l.rows('select before, after from journal'))
    expect(written).not.toMatch(/scrypt/)
    expect(l.rows('select 1 from invitations where id = ?', key)).toEqual([])
  })
  it('runs out after seven days, and gives way to the next one', () => {
    const l = lab()
    const [made] = asked(l).result
    const again = inviteAgain(l.engine, l.imogen, made!.id, address).result
    expect(() => invitation(l.engine, keyOf(made!.link))).toThrow(/taken back/)
    l.clock.set(l.clock.now() + 7 * 86_400_000 - 1)
    expect(invitation(l.engine, keyOf(again.link)).name).toBe('Ines Corbet')
    l.clock.set(l.clock.now() + 1)
    expect(() => takeUp(l.engine, keyOf(again.link), 'scrypt$x')).toThrow(/run out/)
  })
  it('taken back before it has left does not leave, and its person is gone', () => {
    const l = lab()
    const { result, change } = asked(l)
    undoChange(l.engine, l.imogen, change!).whole()
    expect(l.rows('select 1 from outbox')).toEqual([])
    expect(person(l, result[0]!.id)).toBeUndefined()
    expect(() => invitation(l.engine, keyOf(result[0]!.link))).toThrow(/taken back/)
  })
  it('of a hundred is one change', () => {
    const l = lab()
    const many = Array.from({ length: 100 }, (_, i) => ({ ...ines, email: `p${i}@example.org` }))
    const before = l.latest()
    expect(asked(l, many).change).toBe(before + 1)
    expect(l.latest()).toBe(before + 1)
  })
  it.each([
    [[{ ...ines, email: 'TOBIAS@quillhaven.example' }], /Tobias has that address already/],
    [[ines, { ...ines, email: 'ines@EXAMPLE.org' }], /stands there twice/],
    [[{ ...ines, access: 'client' }], /of which client/],
    [[{ ...ines, access: 'client', clientId: 99 }], /no client 99/],
    [[{ ...ines, access: 'owner' }], /Only an owner/],
  ])('of %j is refused whole', (people, why) => {
    const l = lab()
    expect(() => asked(l, [{ ...ines, email: 'first@example.org' }, ...people])).toThrow(why)
    expect(l.rows("select 1 from people where email = 'first@example.org'")).toEqual([])
  })
  it('is sent by managers, to nobody who left', () => {
    const l = lab()
    expect(() => asked(l, [ines], l.tobias)).toThrow(/Only a manager/)
    const [made] = asked(l).result
    editPerson(l.engine, l.imogen, made!.id, { active: false })
    expect(() => invitation(l.engine, keyOf(made!.link))).toThrow(/taken back/)
    expect(() => inviteAgain(l.engine, l.imogen, made!.id, address)).toThrow(/has left/)
    expect(() => asked(l)).toThrow(/has left; let them in again/)
  })
})

describe('what somebody is', () => {
  it('is changed by managers; who leaves is out at every browser', () => {
    const l = lab()
    l.engine.journal.change({ kind: 'person', id: l.tobias.id }, (write) =>
      write.insert('sessions', { id: 's', personId: l.tobias.id, createdAt: 0, expiresAt: 9e15 }),
    )
    expect(() => editPerson(l.engine, l.devika, l.tobias.id, { title: 'x' })).toThrow(/manager/)
    expect(editPerson(l.engine, l.imogen, l.tobias.id, { title: 'Lead' }).result.title).toBe('Lead')
    const { change } = editPerson(l.engine, l.imogen, l.tobias.id, { active: false })
    expect(l.rows('select 1 from sessions')).toEqual([])
    undoChange(l.engine, l.imogen, change!).whole()
    expect([person(l, l.tobias.id).active, l.rows('select 1 from sessions')]).toEqual([true, []])
    expect(() => editPerson(l.engine, l.imogen, 999, { title: '' })).toThrow(/nobody/)
    expect(() => editPerson(l.engine, l.imogen, l.tobias.id, { access: 'client' })).toThrow(
      /belongs to no client/,
    )
  })
  it('owners are made and unmade by owners, and one of them always stays', () => {
    const { l, owner } = owned()
    const set = (viewer: Viewer, id: number, patch: object) =>
      editPerson(l.engine, viewer, id, patch)
    const manager: Viewer = { ...l.tobias, access: 'manager' }
    expect(() => set(manager, l.devika.id, { access: 'owner' })).toThrow(/Only an owner/)
    expect(() => set(manager, owner.id, { access: 'member' })).toThrow(/Only an owner/)
    for (const patch of [{ access: 'member' }, { active: false }])
      expect(() => set(owner, owner.id, patch)).toThrow(/is the only owner/)
    // Nobody but an owner has, or gets, the link of an owner who is still to come.
    const [made] = asked(l, [ines], manager).result
    set(owner, made!.id, { access: 'owner' })
    expect(() => invitation(l.engine, keyOf(made!.link))).toThrow(/taken back/)
    expect(() => inviteAgain(l.engine, manager, made!.id, address)).toThrow(/Only an owner/)
    expect(inviteAgain(l.engine, owner, made!.id, address).result.name).toBe('Ines Corbet')
    set(owner, made!.id, { active: false })
    const { change } = set(owner, l.devika.id, { access: 'owner' })
    expect(() => undoChange(l.engine, manager, change!).whole()).toThrow(/Only an owner/)
    const second: Viewer = { ...l.devika, access: 'owner' }
    set(second, owner.id, { access: 'member' })
    expect(() => undoChange(l.engine, second, change!).whole()).toThrow(/without an owner/)
    expect(person(l, l.devika.id).access).toBe('owner')
  })
})
