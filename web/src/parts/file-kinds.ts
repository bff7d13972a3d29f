import type { Attachment } from '#contract/tasks.ts'

type File = Pick<Attachment, 'type'>
/** Whether browsers draw it as a picture. */
export const isPicture = ({ type }: File): boolean =>
  /^image\/(png|jpeg|gif|webp|avif)$/.test(type ?? '')
/** Whether it can be looked at in place. */
export const isShown = (file: File): boolean =>
  isPicture(file) || /^(application\/pdf|text\/(plain|csv))$/.test(file.type ?? '')
/** Where a file or link leads: what cannot be looked at is saved. */
export const leadsTo = (file: Pick<Attachment, 'id' | 'url' | 'type'>): string =>
  file.url ?? `/api/v1/files/${file.id}${isShown(file) ? '' : '?save'}`
