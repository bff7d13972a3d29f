import { chromium } from '@playwright/test'
import { choose } from './house.ts'

// Takes the pictures of docs/screenshots from a running demo; some of them, where they are named:
// npm run screenshots -- http://127.0.0.1:4380 rule run-log
const [base = 'http://127.0.0.1:4380', ...only] = process.argv.slice(2)
let taken = 0
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--lang=en-GB',
  ],
})

async function page(scheme: 'light' | 'dark', signedIn: boolean) {
  const context = await browser.newContext({
    baseURL: base,
    timezoneId: 'Europe/London',
    viewport: { width: 1280, height: 800 },
    colorScheme: scheme,
    locale: 'en-GB',
  })
  const opened = await context.newPage()
  if (signedIn)
    await opened.request.post('/api/v1/session/demo', {
      data: { who: 'manager' },
      headers: { Origin: base },
    })
  return opened
}
async function take(
  name: string,
  path: string,
  options: {
    scheme?: 'light' | 'dark'
    signedIn?: boolean
    then?: (p: Awaited<ReturnType<typeof page>>) => Promise<void>
  } = {},
): Promise<void> {
  if (only.length && !only.includes(name)) return
  taken++
  const p = await page(options.scheme ?? 'light', options.signedIn ?? true)
  await p.goto(path)
  await p.locator('h1').first().waitFor()
  await p.waitForTimeout(900)
  await options.then?.(p)
  await p.waitForTimeout(500)
  // What is still being fetched has no place in a picture.
  await p.waitForFunction(() => document.querySelector('.v-skeleton-loader') === null)
  await p.screenshot({ path: `docs/screenshots/${name}.png` })
  await p.context().close()
}

const lookup = await page('light', true)
const read = async <T>(path: string) =>
  (await (await lookup.request.get(`/api/v1${path}`)).json()) as T
const projects = await read<{ id: number; name: string; closedAt: number | null }[]>('/projects')
const books = projects.find((p) => p.name.startsWith('Greywether, books') && !p.closedAt)
const series = await read<{ id: number; name: string }[]>('/series')
await take('today', '/today')
const moving = (
  await read<{ kind: string; task?: { id: number } }[]>(
    '/find?words=supplier%20account%20copperbeck',
  )
).find((f) => f.kind === 'task')
await take('task', `/work/client/8?task=${moving?.task?.id ?? 1}`)
await take('projects', '/work')
const show = (kind: string) => async (p: Awaited<ReturnType<typeof page>>) => {
  await p
    .getByRole('group', { name: 'View', exact: true })
    .getByRole('button', { name: kind })
    .click()
  await p.waitForTimeout(700)
}
const joining = projects.find((p) => p.name === 'Hollin Street, joining')
const views = await read<{ id: number; name: string }[]>('/views')
await take('project', `/work/${books?.id ?? 1}`, { scheme: 'dark' })
await take('about', `/work/${joining?.id ?? 1}?about`)
await take('list', `/work/view/${views.find((v) => v.name.startsWith('Records'))?.id ?? 1}`)
await take('board', '/work/all', { then: show('Board') })
await take('calendar', `/work/${joining?.id ?? 1}`, { then: show('Calendar') })
await take('timeline', `/work/view/${views.find((v) => v.name.startsWith('The next'))?.id ?? 1}`)
await take('clients', '/clients?as=board')
await take('client', '/clients/1')
await take('template', '/clockwork/templates/1', {
  then: async (p) => {
    await choose(p.getByLabel('Client', { exact: true }), 'Mossgate Veterinary Clinic')
    await choose(p.getByLabel('Payroll lead'), 'least loaded in Payroll')
  },
})
await take('series', `/clockwork/series/${series.find((s) => s.name.startsWith('VAT'))?.id ?? 1}`)
await take(
  'round',
  `/clockwork/round?of=month&at=${new Date(Date.now() + 14 * 86_400_000).toISOString().slice(0, 10)}`,
)
await take('rule', '/clockwork/rules/1')
await take('run-log', '/clockwork/log', {
  then: (p) => p.getByRole('button', { name: 'why' }).first().click(),
})
await take('set-up', '/work/set-up')
const lease = projects.find((p) => p.name === 'Office lease')?.id ?? 1
await take('who-sees', `/who-sees/project/${lease}`)
await take('had-it-run', '/clockwork/rules/1', {
  then: async (p) => {
    await p.getByRole('button', { name: 'Ask the last 30 days' }).click()
    await p.getByText(/^It would have run/).waitFor()
    await p.getByRole('heading', { name: 'Had it run' }).evaluate((at) => at.scrollIntoView())
  },
})
await browser.close()
console.log(`${taken} pictures taken; look at each.`)
