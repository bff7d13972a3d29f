import { spawn } from 'node:child_process'
import { zipSync } from 'fflate'
import { PASSWORD } from '#demo/people.ts'
import type { Access } from '#contract/words.ts'

/** Requests made to stop the server for everybody, and large ones that people make every day. */

export interface Ask {
  readonly path: string
  readonly body?: string | Uint8Array
  readonly type?: string
  readonly stranger?: true
}
const every = (low: number, high: number) =>
  Array.from({ length: high - low + 1 }, (_, i) => low + i).join(',')
const dates = (rule: string) =>
  JSON.stringify({ schedule: { start: '2000-01-01T09:00', rule }, leadDays: 3 })
const bytes = (text: string) => new TextEncoder().encode(text)
const CSV = 'text/csv'
/** A workbook of one sheet, of this many bytes unpacked. */
const bomb = (size: number) =>
  zipSync({ 'xl/worksheets/sheet1.xml': new Uint8Array(size), 'xl/workbook.xml': bytes('<x/>') })

/** Each with the statuses it may be answered by. */
export const HOSTILE: Readonly<Record<string, [Ask, readonly number[]]>> = {
  'a CSV of empty lines': [
    { path: '/tasks/read', type: CSV, body: bytes(`Task\nPost${'\r\n'.repeat(60_000)} x`) },
    [422],
  ],
  'a CSV of commas': [
    { path: '/tasks/read', type: CSV, body: bytes(`Task\n${','.repeat(4_000_000)}`) },
    [422],
  ],
  'a workbook that unpacks to 300 MB': [
    { path: '/tasks/read', type: CSV, body: bomb(300 * 1024 * 1024) },
    [422, 413],
  ],
  'dates of every hour since 2000': [
    { path: '/series/dates', body: dates(`FREQ=DAILY;BYHOUR=${every(0, 23)}`) },
    [200],
  ],
  'dates by year with all hours and minutes': [
    {
      path: '/series/dates',
      body: dates(`FREQ=YEARLY;BYHOUR=${every(0, 23)};BYMINUTE=${every(0, 59)}`),
    },
    [422],
  ],
  'dates that never come': [
    { path: '/series/dates', body: dates('FREQ=DAILY;BYMONTH=2;BYMONTHDAY=30') },
    [200],
  ],
  '450,000 texts where numbers belong': [
    { path: '/tasks/bulk', body: JSON.stringify({ ids: Array(450_000).fill('1') }) },
    [413],
  ],
  '200,000 texts where numbers belong': [
    { path: '/tasks/bulk', body: JSON.stringify({ ids: Array(200_000).fill('1') }) },
    [400],
  ],
  '20,000 tasks that are not there': [
    {
      path: '/tasks/bulk',
      body: `{"ids":[${every(1_000_000, 1_019_999)}],"set":{"priority":"low"}}`,
    },
    [404],
  ],
  '150,000 unknown keys of a stranger': [
    {
      path: '/session',
      stranger: true,
      body: `{${Array.from({ length: 150_000 }, (_, i) => `"k${i}":1`).join()}}`,
    },
    [413],
  ],
  'a million brackets': [{ path: '/tasks', body: '['.repeat(1_000_000) }, [400]],
  'a column named 600 times': [
    { path: `/tasks/export?format=csv&columns=${Array(600).fill('due').join().slice(0, 2_000)}` },
    [200],
  ],
  'a project copied to the year 5500': [
    {
      path: '/projects/1/copy',
      body: JSON.stringify({ name: 'x', take: ['dates'], anchor: '5500-01-01' }),
    },
    [400],
  ],
  '5,000 tasks brought in': [
    {
      path: '/tasks/edits',
      body: JSON.stringify({
        edits: [],
        project: { name: 'Brought in', clientId: null },
        make: Array.from({ length: 5_000 }, (_, i) => ({
          ...{ title: `Entry ${i}`, due: '2026-12-18', phaseName: i % 2 ? 'Gather' : 'Close' },
        })),
      }),
    },
    [200],
  ],
  'everything as a workbook': [{ path: '/tasks/export?format=xlsx' }, [200]],
  'a ribbon of the year 2200': [{ path: '/ribbon?from=2200-12-01' }, [200]],
  'a search for a letter': [{ path: '/find?words=a' }, [200]],
}

const IMOGEN = { email: 'imogen.achterberg@quillhaven.example', password: PASSWORD }
/** What everybody else does meanwhile, and what it must answer. */
export const OTHERS: readonly [Ask, number][] = [
  [{ path: '/me' }, 200],
  [{ path: '/tasks/1' }, 200],
  [{ path: '/projects' }, 200],
  [{ path: '/tasks', body: '{"title":"Made meanwhile"}' }, 201],
  [{ path: '/session', stranger: true, body: JSON.stringify(IMOGEN) }, 200],
]

/** Asks a server on behalf of who has a cookie; answers how long it took, in milliseconds. */
export async function send(
  { base, cookie, signal }: { base: string; cookie: string; signal?: AbortSignal },
  { path, body, type = 'application/json', stranger }: Ask,
): Promise<{ status: number; text: string; took: number }> {
  const begun = performance.now()
  const response = await fetch(`${base}/api/v1${path}`, {
    method: body === undefined ? 'GET' : 'POST',
    headers: {
      Origin: base,
      ...(!stranger && { Cookie: cookie }),
      ...(body !== undefined && { 'Content-Type': type }),
    },
    ...(body !== undefined && { body: body as string | Uint8Array<ArrayBuffer> }),
    ...(signal && { signal }),
  })
  const text = await response.text()
  return { status: response.status, text, took: performance.now() - begun }
}

/** Eight at a time until all were made so often; answers what was not answered as it should be. */
export async function attack(
  ask: (ask: Ask) => Promise<{ status: number; text: string }>,
  times: number,
): Promise<string[]> {
  const names = Object.keys(HOSTILE)
  const wrong: string[] = []
  let next = 0
  async function one(): Promise<void> {
    while (next < names.length * times) {
      const name = names[next++ % names.length]!
      const [hostile, statuses] = HOSTILE[name]!
      const { status, text } = await ask(hostile)
      if (!statuses.includes(status)) wrong.push(`${name}: ${status} ${text.slice(0, 200)}`)
    }
  }
  await Promise.all(Array.from({ length: 8 }, one))
  return wrong
}

/** A password is slow to check, by intent. */
export const isSignIn = (path: string): boolean => path === '/session'

/** What was asked, and how long it took, in milliseconds. */
export interface Waited {
  readonly path: string
  readonly took: number
}

/** What everybody else does, until `over`; answers how long each waited, and what went wrong. */
export async function meanwhile(
  ask: (ask: Ask) => Promise<{ status: number; took: number }>,
  over: () => boolean,
  others = OTHERS,
): Promise<{ waits: Waited[]; wrong: string[] }> {
  const waits: Waited[] = []
  const wrong: string[] = []
  for (let i = 0; !over() || i < 20; i++) {
    const [other, wanted] = others[i % others.length]!
    const { status, took } = await ask(other)
    waits.push({ path: other.path, took })
    if (status !== wanted) wrong.push(`${other.path}: ${status}`)
    await new Promise((later) => setTimeout(later, 10))
  }
  return { waits, wrong }
}

/** How long the 99th of a hundred took, of those that are meant. */
export function p99(waits: readonly Waited[], isMeant: (path: string) => boolean): number {
  const took = waits.filter(({ path }) => isMeant(path)).map((each) => each.took)
  return took.sort((a, b) => a - b)[Math.ceil(took.length * 0.99) - 1]!
}

/** A server of its own, over a firm that is there, as people run it. */
export async function startApart(
  command: readonly string[],
  data: string,
  cwd: string,
  now = '2026-11-23T12:00:00Z',
) {
  const child = spawn(process.execPath, command, {
    cwd,
    env: {
      ...process.env,
      ...{ PORT: '0', FERNWICK_DATA: data, FERNWICK_WEB: '/nowhere' },
      FERNWICK_TEST_NOW: now,
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  const base = await new Promise<string>((resolve, reject) => {
    child.once('exit', () => reject(new Error('the server ended before it listened')))
    child.stdout.on('data', (text: Buffer) => {
      const found = /http:\/\/\S+/.exec(text.toString())
      if (found) resolve(found[0])
    })
  })
  async function signIn(who: Access): Promise<string> {
    const signedIn = await fetch(`${base}/api/v1/session/demo`, {
      method: 'POST',
      headers: { Origin: base, 'Content-Type': 'application/json' },
      body: JSON.stringify({ who }),
    })
    return signedIn.headers.get('set-cookie')!.split(';')[0]!
  }
  // Nobody is held up by what others ask for; one's own questions wait for each other.
  const [cookie, other] = [await signIn('manager'), await signIn('member')]
  async function stop(): Promise<void> {
    const gone = new Promise((resolve) => child.once('exit', resolve))
    child.kill('SIGTERM')
    await gone
  }
  return { base, cookie, other, child, stop }
}
