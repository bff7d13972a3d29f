import type { About } from './actions/action.ts'

/** What texts of rules can name of what they are about, in braces. */

interface MergeField {
  readonly name: string
  /** What it stands for, where it is chosen. */
  readonly label: string
  /** Only tasks have it. */
  readonly ofTasks?: true
}
export const MERGE_FIELDS: readonly MergeField[] = [
  { name: 'task', label: 'its title', ofTasks: true },
  { name: 'number', label: 'its number', ofTasks: true },
  { name: 'project', label: 'its project' },
  { name: 'client', label: 'its client' },
  { name: 'due', label: 'its due date', ofTasks: true },
  { name: 'first due', label: 'the due date first promised', ofTasks: true },
  { name: 'days late', label: 'how late it is', ofTasks: true },
  { name: 'people', label: 'who is on it', ofTasks: true },
  { name: 'state', label: 'its state', ofTasks: true },
  { name: 'priority', label: 'its priority', ofTasks: true },
  { name: 'lead', label: 'the project’s lead' },
  { name: 'today', label: 'the day it is said' },
]
/** Those that texts about something can name. */
export const mergeFieldsOf = (about: About): MergeField[] =>
  MERGE_FIELDS.filter(({ ofTasks }) => about === 'task' || !ofTasks)
