import type { State } from './words.ts'

/** A task as the find box tells it. */
export interface FoundTask {
  readonly id: number
  readonly title: string
  readonly state: State
  readonly stateName: string
  readonly stateColour: string | null
  readonly due: string | null
  readonly client: string | null
}

/** One thing that was found; `excerpt` is where the words occur, when not in its name. */
export type Found =
  | { readonly kind: 'task'; readonly task: FoundTask; readonly excerpt: string | null }
  | {
      readonly kind:
        'project' | 'client' | 'person' | 'view' | 'template' | 'series' | 'rule' | 'tag'
      readonly id: number
      readonly name: string
      readonly excerpt: string | null
    }
