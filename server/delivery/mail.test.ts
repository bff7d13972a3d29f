import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { smtpSender } from './smtp.ts'
import { startStandInMail, type Tray } from './stand-in-mail.ts'

const folder = mkdtempSync(join(tmpdir(), 'fernwick-mail-'))
let now = 1_000_000
let tray: Tray
let sender: ReturnType<typeof smtpSender>
beforeAll(async () => {
  tray = await startStandInMail(folder, () => now++)
  sender = smtpSender({
    host: '127.0.0.1',
    port: tray.port,
    from: '"Fernwick" <fernwick@quillhaven.example>',
  })
})
afterAll(async () => {
  sender.close()
  await tray.close()
  rmSync(folder, { recursive: true })
})

it('goes by real SMTP and is read back as it was written', async () => {
  await sender.send({
    key: 'k1',
    to: 'tobias@quillhaven.example',
    subject: 'Überfällig: “Post”, £5',
    body: 'Line one\n\n.A line that begins with a dot\n',
  })
  const [mail] = await tray.list()
  expect(mail).toMatchObject({
    to: 'tobias@quillhaven.example',
    from: '"Fernwick" <fernwick@quillhaven.example>',
    subject: 'Überfällig: “Post”, £5',
  })
  expect(mail!.body).toContain('\n.A line that begins with a dot')
})
it('the same mail delivered twice is kept once, also after a restart', async () => {
  await sender.send({ key: 'k1', to: 'tobias@quillhaven.example', subject: 'Again', body: 'x' })
  expect(await tray.list()).toHaveLength(1)
  const again = await startStandInMail(folder, () => now++)
  const other = smtpSender({
    host: '127.0.0.1',
    port: again.port,
    from: 'fernwick@quillhaven.example',
  })
  await other.send({ key: 'k1', to: 'tobias@quillhaven.example', subject: 'Again', body: 'x' })
  await other.send({ key: 'k2', to: 'tobias@quillhaven.example', subject: 'New', body: 'x' })
  expect((await again.list()).map((m) => m.subject)).toEqual(['New', 'Überfällig: “Post”, £5'])
  other.close()
  await again.close()
})
it('a header cannot be smuggled in by a subject', async () => {
  await sender.send({
    key: 'k3',
    to: 'tobias@quillhaven.example',
    subject: 'Hello\r\nBcc: someone@elsewhere.example',
    body: 'x',
  })
  const [mail] = await tray.list()
  expect(mail!.to).toBe('tobias@quillhaven.example')
  expect(mail!.subject).toContain('Hello')
})
it('a server that is not there is an error, not a lost mail', async () => {
  const nowhere = smtpSender({ host: '127.0.0.1', port: 9, from: 'a@b.example' })
  await expect(
    nowhere.send({ key: 'k', to: 'x@y.example', subject: 's', body: 'b' }),
  ).rejects.toThrow()
  nowhere.close()
})
