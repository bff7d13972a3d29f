/** For a column of a table that a narrow page leaves out. */
export const WIDE = { headerProps: { class: 'wideonly' }, cellProps: { class: 'wideonly' } }
