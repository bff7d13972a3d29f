import type { Route } from '../route.ts'
import { ACCESS } from './access.ts'
import { EXPORTS } from './exports.ts'
import { FEEDS } from './feeds.ts'
import { FILES } from './files.ts'
import { FIRM } from './firm.ts'
import { PEOPLE } from './people.ts'
import { PROJECTS } from './projects.ts'
import { RULES } from './rules.ts'
import { SERIES } from './series.ts'
import { SETUP } from './setup.ts'
import { TASKS } from './tasks.ts'
import { TEMPLATES } from './templates.ts'
import { VIEWS } from './views.ts'

/** Every address of the API that speaks JSON; those with a fixed name stand before `:id`. */
export const ROUTES: readonly Route[] = [
  ...PEOPLE,
  ...FIRM,
  ...ACCESS,
  ...EXPORTS,
  ...TASKS,
  ...FILES,
  ...PROJECTS,
  ...SETUP,
  ...TEMPLATES,
  ...SERIES,
  ...FEEDS,
  ...RULES,
  ...VIEWS,
]
