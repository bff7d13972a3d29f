/** Whether somebody is typing there, so that keys are theirs. */
export const typesIn = (on: HTMLElement): boolean =>
  on.isContentEditable ||
  (/^(INPUT|TEXTAREA|SELECT)$/.test(on.tagName) && (on as HTMLInputElement).type !== 'checkbox')
