import { computed, type Ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { NewTask, TaskSheet } from '#contract/tasks.ts'
import { post } from '#web/api/client.ts'
import { readLine, sayLine, seriesOfLine, taskOfLine } from '#web/fields/line.ts'
import { useKnown } from '#web/fields/useKnown.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import type { Line } from './useFindLines.ts'

/** What is typed, as a task to note, and as a series where it says that it repeats. */
export function useNoteLines(text: Readonly<Ref<string>>) {
  const session = useSession()
  const messages = useMessages()
  const route = useRoute()
  const router = useRouter()
  const known = useKnown()
  const understood = computed(() => readLine(known.value, text.value))
  const here = computed(() =>
    /^\/work\/\d+$/.test(route.path) ? Number(route.path.slice('/work/'.length)) : null,
  )
  /** Noted on a project’s page, a task goes there unless the line names another place. */
  const begins = computed((): Partial<NewTask> => ({
    assignees: [session.me?.id ?? 0],
    ...(here.value && { projectId: here.value }),
  }))
  const saysMore = computed(() => {
    const line = understood.value
    const project = session.directory.projects.find((p) => p.id === here.value)
    return [
      ...(project && !line.clientId && !line.projectId ? [project.name] : []),
      ...sayLine(known.value, line),
      ...(line.people.length ? [] : ['on you']),
    ].join(' · ')
  })
  async function note(): Promise<void> {
    const line = understood.value
    if (!line.title)
      return messages.fault('Say what is to be done; dates, people and lengths alone are no task.')
    const task = await post<TaskSheet>('/tasks', taskOfLine(line, begins.value))
    messages.did(`Noted as #${task.id}: “${task.title}”.`, task)
  }
  return computed((): Line[] => {
    if (!text.value.trim() || !session.me?.may.member) return []
    const name = understood.value.title || '(a title is missing)'
    const line = { key: 'note', name, more: saysMore.value, run: note }
    if (understood.value.every === null || !session.me.may.structure) return [line]
    const series = seriesOfLine(understood.value, begins.value)
    const run = () => router.push(series)
    return [line, { key: 'series', name: `${name}, as a series`, more: 'repeats', run }]
  })
}
