import { accountOf } from '#contract/firm.ts'
import { describe, expect, it } from 'vitest'
import { ENGINE, lab } from '../test/lab.ts'
import { withoutThreads } from '../workers/threads.ts'
import { countGuesses } from './guesses.ts'
import {
  checkPassword,
  closeSession,
  hashPassword,
  openSession,
  SESSION_DAYS,
  viewerOf,
} from './sessions.ts'

describe('passwords', () => {
  it('are kept as salted scrypt, differently each time, and checked', async () => {
    const l = lab()
    const check = (email: string, password: string) =>
      checkPassword(l.engine, withoutThreads(l.engine), { account: accountOf(email), password })
    const [one, two] = [hashPassword('lichen'), await hashPassword('lichen')]
    expect(one).toMatch(/^scrypt\$32768\$/)
    expect(one).not.toBe(two)
    expect(one).not.toContain('lichen')
    l.engine.journal.change(ENGINE, (write) =>
      write.update('people', l.tobias.id, { passwordHash: one }),
    )
    expect(await check(' Tobias@quillhaven.example ', 'lichen')).toBe(l.tobias.id)
    await expect(check('tobias@quillhaven.example', 'Lichen')).rejects.toThrow(/do not go together/)
    await expect(check('devika@quillhaven.example', '')).rejects.toThrow(/do not go together/)
    l.engine.journal.change(ENGINE, (write) =>
      write.update('people', l.tobias.id, { active: false }),
    )
    await expect(check('tobias@quillhaven.example', 'lichen')).rejects.toThrow(/do not go together/)
  })
})

describe('sessions', () => {
  it('run out, are closed, and end with the person', () => {
    const l = lab()
    const secret = openSession(l.engine, l.tobias.id)
    expect(viewerOf(l.engine, secret)).toMatchObject({ name: 'Tobias', access: 'member' })
    expect(viewerOf(l.engine, `${secret}x`)).toBeNull()
    expect(viewerOf(l.engine, undefined)).toBeNull()
    l.clock.set(l.clock.now() + SESSION_DAYS * 86_400_000)
    expect(viewerOf(l.engine, secret)).toBeNull()
    const second = openSession(l.engine, l.tobias.id)
    expect(l.rows('select 1 from sessions')).toHaveLength(1)
    closeSession(l.engine, second)
    expect(viewerOf(l.engine, second)).toBeNull()
    const third = openSession(l.engine, l.tobias.id)
    l.engine.journal.change(ENGINE, (write) =>
      write.update('people', l.tobias.id, { active: false }),
    )
    expect(viewerOf(l.engine, third)).toBeNull()
  })
})

describe('guessing', () => {
  const most = { pair: 3, account: 6, address: 8 }
  const tries = async (of: ReturnType<typeof countGuesses>, account: string, address: string) =>
    of.begin(account, address).then(
      () => true,
      () => false,
    )
  it('is counted before a password is looked at: three hundred at once are three', async () => {
    const guesses = countGuesses(most)
    const all = Array.from({ length: 300 }, () => tries(guesses, 'imogen', '192.0.2.1'))
    expect((await Promise.all(all)).filter(Boolean)).toHaveLength(3)
  })
  it('keeps nobody out who knows theirs: not behind one address, not on an account guessed at', async () => {
    const guesses = countGuesses(most)
    for (let i = 0; i < 20; i++) await tries(guesses, 'imogen', '192.0.2.1')
    for (let i = 0; i < 20; i++) await tries(guesses, `nobody ${i}`, '192.0.2.1')
    expect(await tries(guesses, 'tobias', '192.0.2.1')).toBe(true)
    expect(await tries(guesses, 'tobias', '192.0.2.1')).toBe(false)
    for (let i = 0; i < 9; i++) await tries(guesses, 'devika', `192.0.2.${i + 2}`)
    expect(await tries(guesses, 'devika', '192.0.2.99')).toBe(true)
    expect(await tries(guesses, 'devika', '192.0.2.99')).toBe(false)
  })
  it('is forgotten of whoever gets it right', async () => {
    const guesses = countGuesses(most)
    for (let round = 0; round < 5; round++) {
      for (let i = 0; i < 2; i++) expect(await tries(guesses, 'imogen', '192.0.2.1')).toBe(true)
      await guesses.right('imogen', '192.0.2.1')
    }
  })
})
