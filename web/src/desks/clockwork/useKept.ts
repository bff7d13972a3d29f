import { useRouter } from 'vue-router'
import { call, post } from '#web/api/client.ts'
import type { MenuLine } from '#web/parts/LineMenu.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'

/** What is kept of a kind: templates or series. */
interface Kept {
  readonly id: number
  readonly name: string
  readonly archived: boolean
}

/** The lines that copy, put aside, bring back and remove a template or a series. */
export function useKept(kind: 'templates' | 'series', changed: () => Promise<unknown>) {
  const { attempt } = useAttempt()
  const messages = useMessages()
  const router = useRouter()
  const copy = ({ id, name }: Kept) =>
    attempt(async () => {
      const made = await post<Kept>(`/${kind}/${id}/copy`)
      messages.did(`“${made.name}” is made after “${name}”.`, made)
      await router.push(`/clockwork/${kind}/${made.id}`)
    })
  const archive = ({ id, name, archived }: Kept) =>
    attempt(async () => {
      const done = await post<Kept>(`/${kind}/${id}/archive`, { on: !archived })
      messages.did(archived ? `“${name}” is back.` : `“${name}” is archived.`, done)
      await changed()
    })
  const remove = ({ id, name }: Kept) =>
    attempt(async () => {
      messages.did(`“${name}” is removed.`, await call('DELETE', `/${kind}/${id}`))
      await changed()
      await router.push(`/clockwork/${kind}`)
    })
  return (of: Kept): MenuLine[] => [
    { name: 'Copy', run: () => copy(of) },
    { name: of.archived ? 'Bring back' : 'Archive', run: () => archive(of) },
    { name: 'Remove', run: () => remove(of) },
  ]
}
