import { richText } from '#core/text/rich.ts'
import type { StepOf } from '#contract/actions/action.ts'
import type { comment as kind } from '#contract/actions/comment.ts'
import type { Does } from './does.ts'

export const comment: Does<StepOf<typeof kind>> = ({ write, task, text, account }, action) => {
  write.insert('comments', {
    ...{ taskId: task.id, authorId: null },
    ...{ body: richText(text(action.text)), at: write.at },
  })
  account.did.push('Commented')
}
