import { richText } from '#core/text/rich.ts'
import type { StepOf } from '#contract/actions/action.ts'
import type { comment as kind } from '#contract/actions/comment.ts'
import { worded, type Does } from './does.ts'

export const comment: Does<StepOf<typeof kind>> = (run, action) => {
  const { write, task, account } = run
  const said = worded(run, action.text, 10_000)
  if (said === null) return
  write.insert('comments', {
    ...{ taskId: task.id, authorId: null },
    ...{ body: richText(said), at: write.at },
  })
  account.did.push('Commented')
}
