/** What work can be gathered by, each with where everything that has it is shown. */
const PATHS = {
  client: '/work/client/',
  person: '/work/person/',
  tag: '/work/tag/',
  template: '/work/template/',
  series: '/work/series/',
} as const
export type Gathered = keyof typeof PATHS

/** Whether work can be gathered by what a field points at. */
export const isGathered = (what: string): what is Gathered => what in PATHS

/** The page of everything with a tag, of a client, a person, a template or a series. */
export const everythingWith = (what: Gathered, id: number): string => `${PATHS[what]}${id}`
