import type { Access } from '#contract/words.ts'

/** What people are here, as it is said. */
export const ACCESS_NAMES: Readonly<Record<Access, string>> = {
  owner: 'Owner',
  manager: 'Manager',
  member: 'Member',
  contractor: 'Contractor',
  client: 'Client contact',
}
/** What is said of guests behind their name; nothing of others. */
export const guestWord = (access: Access): string =>
  access === 'contractor' ? ', contractor' : access === 'client' ? ', client contact' : ''
