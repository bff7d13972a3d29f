/** What something is refused with; “done” where it is not. */
export function codeOf(work: () => unknown): string {
  try {
    work()
    return 'done'
  } catch (error) {
    return (error as { code: string }).code
  }
}
