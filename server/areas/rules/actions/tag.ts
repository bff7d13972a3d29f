import type { StepOf } from '#contract/actions/action.ts'
import type { tag as kind } from '#contract/actions/tag.ts'
import { listTags } from '../../fields/queries.ts'
import { taggingsOf } from '../../tasks/queries.ts'
import { needContext, patchTask } from '../../tasks/write.ts'
import type { Does } from './does.ts'

export const tag: Does<StepOf<typeof kind>> = (run, { off, tags }) => {
  const { engine, write, task, account } = run
  const here = listTags(engine.reader).filter(({ id }) => tags.includes(id))
  if (here.length < tags.length) account.left.push('A tag that it names is gone')
  if (here.length === 0) return
  const now = taggingsOf.all(engine.reader, { id: task.id }).map((row) => row.tagId)
  const named = here.map(({ id }) => id)
  const wanted = off ? now.filter((id) => !named.includes(id)) : [...new Set([...now, ...named])]
  patchTask(engine, write, needContext(engine, task.id), { tags: wanted })
  const names = here.map(({ name }) => `“${name}”`).join(', ')
  account.did.push(off ? `Took ${names} off` : `Tagged it ${names}`)
}
