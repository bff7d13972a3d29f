/** Whether somebody is typing there, so that keys are theirs. */
export const typesIn = (on: HTMLElement): boolean =>
  on.isContentEditable ||
  (/^(INPUT|TEXTAREA|SELECT)$/.test(on.tagName) && (on as HTMLInputElement).type !== 'checkbox')
/** Whether a key is a field's own there: up and down alone lead on from what is typed into. */
export const keepsKey = ({ target, key }: KeyboardEvent): boolean =>
  target instanceof HTMLInputElement && target.type !== 'checkbox' && !/^Arrow(Up|Down)$/.test(key)
