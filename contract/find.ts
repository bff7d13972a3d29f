import type { TaskRow } from './tasks.ts'

/** One thing that was found; `excerpt` is where the words occur, when not in its name. */
export type Found =
  | { readonly kind: 'task'; readonly task: TaskRow; readonly excerpt: string | null }
  | { readonly kind: 'project' | 'client' | 'view' | 'template' | 'series' | 'rule'; readonly id: number; readonly name: string; readonly excerpt: string | null }
