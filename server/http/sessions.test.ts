import { describe, expect, it } from 'vitest'
import { ENGINE, lab } from '../test/lab.ts'
import {
  checkPassword,
  closeSession,
  createLimiter,
  hashPassword,
  openSession,
  SESSION_DAYS,
  viewerOf,
} from './sessions.ts'

describe('passwords', () => {
  it('are kept as salted scrypt, differently each time, and checked', async () => {
    const l = lab()
    const [one, two] = [await hashPassword('lichen'), await hashPassword('lichen')]
    expect(one).toMatch(/^scrypt\$32768\$/)
    expect(one).not.toBe(two)
    expect(one).not.toContain('lichen')
    l.engine.journal.change(ENGINE, (write) =>
      write.update('people', l.tobias.id, { passwordHash: one }),
    )
    expect(await checkPassword(l.engine, ' Tobias@quillhaven.example ', 'lichen')).toBe(l.tobias.id)
    await expect(checkPassword(l.engine, 'tobias@quillhaven.example', 'Lichen')).rejects.toThrow(
      /do not go together/,
    )
    await expect(checkPassword(l.engine, 'devika@quillhaven.example', '')).rejects.toThrow(
      /do not go together/,
    )
    l.engine.journal.change(ENGINE, (write) =>
      write.update('people', l.tobias.id, { active: false }),
    )
    await expect(checkPassword(l.engine, 'tobias@quillhaven.example', 'lichen')).rejects.toThrow(
      /do not go together/,
    )
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

describe('the limiter', () => {
  it('counts failures by key within a sliding window', () => {
    let now = 0
    const limiter = createLimiter(() => now, 3, 1000)
    for (let i = 0; i < 3; i++) {
      limiter.check('a')
      limiter.failed('a')
      now += 100
    }
    expect(() => limiter.check('a')).toThrow(/Too many/)
    limiter.check('b')
    now = 1001
    limiter.check('a')
    limiter.failed('a')
    expect(() => limiter.check('a')).toThrow(/Too many/)
    limiter.clear('a')
    limiter.check('a')
  })
})
