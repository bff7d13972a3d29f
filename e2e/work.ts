import AxeBuilder from '@axe-core/playwright'
import type { Page } from '@playwright/test'

export interface Made {
  id: number
  due: string | null
  start: string | null
  title: string
  stateName: string
  priority: string
}

/** A project with tasks of its own, so that a test knows exactly what is there. */
export async function project(
  page: Page,
  url: string,
  tasks: object[],
  phases = ['Gather', 'Close'],
): Promise<{ id: number; tasks: Made[]; phases: { id: number }[] }> {
  const headers = { Origin: url }
  const made = (await (
    await page.request.post('/api/v1/projects', {
      data: { name: 'Trial project', clientId: 1, phases },
      headers,
    })
  ).json()) as {
    id: number
    phases: { id: number }[]
  }
  const out: Made[] = []
  for (const task of tasks)
    out.push(
      (await (
        await page.request.post('/api/v1/tasks', { data: { projectId: made.id, ...task }, headers })
      ).json()) as Made,
    )
  return { ...made, tasks: out }
}

export const read = async (page: Page, id: number) =>
  (await (await page.request.get(`/api/v1/tasks/${id}`)).json()) as Made & {
    tags: { name: string }[]
    assignees: { name: string }[]
  }

export const view = (page: Page, name: string) =>
  page
    .getByRole('group', { name: 'View', exact: true })
    .getByRole('button', { name, exact: true })
    .click()

export const violations = async (page: Page) =>
  (
    await new AxeBuilder({ page })
      .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
      .analyze()
  ).violations.map(
    (v) =>
      `${v.id} ${v.nodes[0]?.target.join(' ')} ${v.nodes[0]?.failureSummary?.split('\n')[1] ?? ''}`,
  )
