import type { Page } from '@playwright/test'
import { choose, expect, test } from './house.ts'
import { project, violations } from './work.ts'

const opens = async (page: Page, path: string, heading: string) => {
  await page.goto(path)
  await expect(page.getByRole('heading', { level: 1, name: heading })).toBeVisible()
}

test('a project for those named: unseen by others, shared and taken back while they look', async ({
  as,
  house,
}) => {
  const imogen = await as('manager')
  const tobias = await as('member')
  const { id, tasks } = await project(imogen, house.url, [{ title: 'Weigh the offer' }])
  await opens(tobias, `/work/${id}`, 'Trial project')
  // Said to be for those named, it goes from the page of who is looking at it.
  await opens(imogen, `/who-sees/project/${id}`, 'Who sees “Trial project”')
  await imogen.getByRole('button', { name: 'Those named' }).click()
  await expect(tobias.getByText('“Trial project” is not there any more.')).toBeVisible()
  await tobias.goto(`/who-sees/task/${tasks[0]!.id}`)
  await expect(tobias.getByText(/There is no task \d+ here/)).toBeVisible()
  await tobias.goto(`/work/${id}`)
  await expect(tobias.getByText(/not shared with you/)).toBeVisible()
  await expect(imogen.getByText('2 people see it')).toBeVisible()
  // Shared to look, he looks and may not change; to change the work, he may.
  await imogen.getByRole('combobox', { name: 'Share it with' }).fill('Tobias')
  await imogen.getByRole('option', { name: 'Tobias Okonjo' }).click()
  await imogen.keyboard.press('Escape')
  await imogen.getByRole('button', { name: 'Share it', exact: true }).click()
  await expect(imogen.getByText('3 people see it')).toBeVisible()
  await expect(imogen.getByRole('row', { name: /Tobias/ })).toContainText('look')
  await opens(tobias, `/work/${id}?task=${tasks[0]!.id}`, 'Trial project')
  await expect(tobias.getByText('for those named')).toBeVisible()
  await expect(tobias.getByLabel('Title', { exact: true })).toHaveAttribute('readonly')
  await expect(tobias.getByRole('button', { name: 'Comment', exact: true })).toHaveCount(0)
  await choose(
    imogen.getByRole('combobox', { name: 'What Tobias Okonjo may do' }),
    'to change the work',
  )
  await expect(tobias.getByLabel('Title', { exact: true })).not.toHaveAttribute('readonly')
  // Taken back, it is gone again.
  await imogen.getByRole('button', { name: 'Take back from Tobias Okonjo' }).click()
  await expect(tobias.getByText('“Trial project” is not there any more.')).toBeVisible()
})

test('a team: closed it is unseen; for asking, whoever is in it lets others in; taken out while looking', async ({
  as,
  house,
}) => {
  const imogen = await as('manager')
  const tobias = await as('member')
  const { id } = await project(imogen, house.url, [{ title: 'Weigh the offer' }])
  await imogen.goto('/people/teams')
  await imogen.getByRole('button', { name: 'Add a team' }).click()
  const form = imogen.getByRole('dialog', { name: 'A new team' })
  await form.getByLabel('Name').fill('Reception')
  await choose(
    form.getByRole('combobox', { name: 'Who gets in' }),
    'For asking: who is in it lets others in',
  )
  await form.getByRole('combobox', { name: 'Who is in it' }).fill('Runa')
  await imogen.getByRole('option', { name: 'Runa Halvorsen' }).click()
  await imogen.keyboard.press('Escape')
  await form.getByRole('button', { name: 'Save' }).click()
  const team = imogen.getByRole('listitem').filter({ hasText: 'Reception' })
  await expect(team.getByText('Runa Halvorsen')).toBeVisible()
  // Tobias asks, and is let in; the project that is for the team is there at once.
  await imogen.goto(`/who-sees/project/${id}`)
  await imogen.getByRole('button', { name: 'A team' }).click()
  await choose(imogen.getByRole('combobox', { name: 'The team it is for' }), 'Reception')
  await expect(imogen.getByText('for the team Reception')).toBeVisible()
  await tobias.goto('/people/teams')
  await tobias
    .getByRole('listitem')
    .filter({ hasText: 'Reception' })
    .getByRole('button', { name: 'Ask to join' })
    .click()
  await imogen.goto('/people/teams')
  await team.getByRole('button', { name: 'Let them in' }).click()
  await expect(team.getByText('Tobias Okonjo')).toBeVisible()
  await opens(tobias, `/work/${id}`, 'Trial project')
  // Taken out while he looks, it goes; closed, he does not know of the team.
  await team.getByRole('button', { name: 'More for Reception' }).click()
  await imogen.getByRole('menuitem', { name: 'Change' }).click()
  const change = imogen.getByRole('dialog', { name: 'Change Reception' })
  await choose(
    change.getByRole('combobox', { name: 'Who gets in' }),
    'Closed: nobody else knows of it',
  )
  await change.locator('.v-chip').filter({ hasText: 'Tobias' }).getByRole('button').click()
  await change.getByRole('button', { name: 'Save' }).click()
  await expect(tobias.getByText('“Trial project” is not there any more.')).toBeVisible()
  await tobias.goto('/people/teams')
  await expect(tobias.getByText('Accounts')).toBeVisible()
  await expect(tobias.getByText('Reception')).toHaveCount(0)
})

test('a client contact follows what is shared, and comments, and changes nothing', async ({
  as,
}) => {
  const hester = await as('client')
  await hester.goto('/work')
  const projects = hester.getByRole('table')
  await expect(projects.getByRole('row', { name: /Mossgate/ }).first()).toBeVisible()
  await expect(projects.getByText('Larkmoor')).toHaveCount(0)
  await projects
    .getByRole('link', { name: /Mossgate, books/ })
    .first()
    .click()
  await hester.getByText('Reconcile bank').click()
  await expect(hester.getByLabel('Title', { exact: true })).toHaveAttribute('readonly')
  const comment = hester.getByRole('textbox', { name: 'Comment' })
  await comment.fill('The March statement is on its way.')
  await hester.getByRole('button', { name: 'Comment', exact: true }).click()
  await expect(hester.getByText('The March statement is on its way.')).toBeVisible()
  // In lists, what is with her is ticked; what she looks at is not.
  await hester.goto('/work/all')
  const box = (title: string) =>
    hester.getByRole('checkbox', { name: `Done: ${title}`, exact: true })
  await expect(box('Draft VAT return')).toBeDisabled()
  await box('Approve the payroll figures').click()
  await expect(hester.getByRole('status').filter({ hasText: 'is done' })).toBeVisible()
})

test('who sees what, and what somebody sees: without a violation, light and dark', async ({
  as,
}) => {
  const page = await as('manager')
  for (const scheme of ['light', 'dark'] as const) {
    await page.emulateMedia({ colorScheme: scheme })
    for (const path of [
      '/who-sees/project/39',
      '/who-sees/task/590',
      '/people/teams',
      '/people/3/sees',
    ]) {
      await page.goto(path)
      await expect(page.locator('h1')).toBeVisible()
      expect(await violations(page), `${path} ${scheme}`).toEqual([])
    }
  }
})
