import { FACTS } from '#contract/words.ts'

/** What conditions may ask about, as it is said. */
export const FACT_LIST = FACTS.map((fact) => ({
  value: fact as string,
  name:
    fact === 'assignees'
      ? 'number of people on it'
      : fact === 'estimate'
        ? 'estimate in minutes'
        : fact,
}))
