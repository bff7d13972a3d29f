import {
  createRouter,
  createWebHistory,
  type RouteLocationNormalized,
  type RouteLocationRaw,
} from 'vue-router'
import { NOT_FETCHED } from './state/later.ts'
import { useMessages } from './state/messages.ts'
import { useSession } from './state/session.ts'

/** Where somebody wanted to go before the door: an address of ours, or Today. */
export const wanted = (to: unknown): string =>
  typeof to === 'string' && /^\/(?!\/)/.test(to) ? to : '/today'

export const router = createRouter({
  history: createWebHistory(),
  // Another page begins at its top; one come back to stands where it was.
  scrollBehavior: (to, from, saved) => (to.path === from.path ? undefined : (saved ?? { top: 0 })),
  routes: [
    { path: '/', redirect: '/today' },
    {
      path: '/door',
      component: () => import('./desks/door/DoorPage.vue'),
      meta: { open: true, title: 'Sign in' },
    },
    {
      path: '/begin',
      component: () => import('./desks/door/BeginPage.vue'),
      meta: { open: true, title: 'Begin' },
    },
    {
      path: '/join',
      component: () => import('./desks/door/JoinPage.vue'),
      meta: { open: true, title: 'Come in' },
    },
    {
      path: '/new-password',
      component: () => import('./desks/door/JoinPage.vue'),
      meta: { open: true, title: 'Another password', forgotten: true },
    },
    {
      path: '/forgotten',
      component: () => import('./desks/door/ForgottenPage.vue'),
      meta: { open: true, title: 'Forgotten password' },
    },
    {
      path: '/people/firm',
      component: () => import('./desks/people/FirmPage.vue'),
      meta: { title: 'The firm' },
    },
    {
      path: '/first-steps',
      component: () => import('./desks/first-steps/FirstStepsPage.vue'),
      meta: { title: 'First steps' },
    },
    {
      path: '/me',
      component: () => import('./desks/me/MePage.vue'),
      meta: { title: 'My account' },
    },
    {
      path: '/clients',
      component: () => import('./desks/clients/ClientsPage.vue'),
      meta: { title: 'Clients' },
    },
    {
      path: '/clients/:id(\\d+)',
      component: () => import('./desks/clients/ClientPage.vue'),
      meta: { title: 'A client' },
    },
    {
      path: '/people',
      component: () => import('./desks/people/PeoplePage.vue'),
      meta: { title: 'People' },
    },
    {
      path: '/people/teams',
      component: () => import('./desks/people/TeamsPage.vue'),
      meta: { title: 'Teams' },
    },
    {
      path: '/people/:id(\\d+)',
      component: () => import('./desks/people/PersonPage.vue'),
      meta: { title: 'A person' },
    },
    {
      path: '/people/:id(\\d+)/sees',
      component: () => import('./desks/access/SeesPage.vue'),
      meta: { title: 'What they see' },
    },
    {
      path: '/who-sees/:what(project|task)/:id(\\d+)',
      component: () => import('./desks/access/WhoSeesPage.vue'),
      meta: { title: 'Who sees it' },
    },
    {
      path: '/today',
      component: () => import('./desks/today/TodayPage.vue'),
      meta: { title: 'Today' },
    },
    {
      path: '/work',
      component: () => import('./desks/work/ProjectsPage.vue'),
      meta: { title: 'Work' },
    },
    {
      path: '/work/all',
      component: () => import('./desks/work/ScopePage.vue'),
      meta: { title: 'All work' },
    },
    {
      path: '/work/:what(client|person|tag|template|series|view)/:id(\\d+)',
      component: () => import('./desks/work/ScopePage.vue'),
      meta: { title: 'Work' },
    },
    {
      path: '/work/bring-in',
      component: () => import('./desks/work/BringInPage.vue'),
      meta: { title: 'Bring in tasks' },
    },
    {
      path: '/work/journal',
      component: () => import('./desks/work/JournalPage.vue'),
      meta: { title: 'Journal' },
    },
    {
      path: '/work/set-up',
      component: () => import('./desks/work/SetUpPage.vue'),
      meta: { title: 'Set up' },
    },
    {
      path: '/print/task/:id(\\d+)',
      component: () => import('./desks/work/PrintTask.vue'),
      meta: { title: 'Task', bare: true },
    },
    {
      path: '/keys',
      component: () => import('./desks/door/KeysPage.vue'),
      meta: { title: 'Keys' },
    },
    {
      path: '/work/:id(\\d+)',
      component: () => import('./desks/work/ProjectPage.vue'),
      meta: { title: 'Project' },
    },
    {
      path: '/task/:id(\\d+)',
      redirect: (to) => ({ path: '/today', query: { task: String(to.params['id']) } }),
    },
    { path: '/clockwork', redirect: '/clockwork/templates' },
    {
      path: '/clockwork/templates',
      component: () => import('./desks/clockwork/TemplatesPage.vue'),
      meta: { title: 'Templates' },
    },
    {
      path: '/clockwork/templates/bring-in',
      component: () => import('./desks/clockwork/ImportPage.vue'),
      meta: { title: 'Bring in a checklist' },
    },
    {
      path: '/clockwork/templates/:id(\\d+)',
      component: () => import('./desks/clockwork/TemplatePage.vue'),
      meta: { title: 'Template' },
    },
    {
      path: '/clockwork/series/:id(\\d+|new)?',
      component: () => import('./desks/clockwork/SeriesPage.vue'),
      meta: { title: 'Series' },
    },
    {
      path: '/clockwork/series/bring-in',
      component: () => import('./desks/clockwork/BringSeriesPage.vue'),
      meta: { title: 'Bring in series' },
    },
    {
      path: '/clockwork/round',
      component: () => import('./desks/clockwork/RoundPage.vue'),
      meta: { title: 'Round' },
    },
    {
      path: '/clockwork/rules/:id(\\d+|new)?',
      component: () => import('./desks/clockwork/RulesPage.vue'),
      meta: { title: 'Rules' },
    },
    {
      path: '/clockwork/log',
      component: () => import('./desks/clockwork/RunLogPage.vue'),
      meta: { title: 'Run log' },
    },
    {
      path: '/clockwork/why',
      component: () => import('./desks/clockwork/WhyPage.vue'),
      meta: { title: 'Why not?' },
    },
    {
      path: '/notices',
      component: () => import('./desks/notices/NoticesPage.vue'),
      meta: { title: 'Notices' },
    },
    {
      path: '/notices/mail',
      component: () => import('./desks/notices/MailPage.vue'),
      meta: { title: 'Mail tray' },
    },
    {
      path: '/:rest(.*)',
      component: () => import('./desks/door/LostPage.vue'),
      meta: { title: 'Not here' },
    },
  ],
})

/** What comes before the page that is wanted; true where nothing does. */
function firstOf(to: RouteLocationNormalized): RouteLocationRaw | true {
  const session = useSession()
  if (!session.begun) return to.path === '/begin' || { path: '/begin' }
  if (to.path === '/begin') return '/first-steps'
  if (to.meta['open']) return session.me && to.path === '/door' ? wanted(to.query['to']) : true
  if (!session.me) return { path: '/door', query: to.path === '/today' ? {} : { to: to.fullPath } }
  // A second device that the firm demands comes before all else.
  return !session.me.lacksCode || to.path === '/me' || '/me'
}
router.beforeEach(async (to) => {
  const session = useSession()
  if (!session.known) {
    try {
      await session.read()
    } catch {
      // The door shows that the server cannot be reached.
    }
  }
  return firstOf(to)
})
router.afterEach((to) => {
  document.title = `${String(to.meta['title'] ?? 'Fernwick')} · Fernwick`
})
// A page that cannot be fetched is not come to: one stays where one is.
router.onError(() => useMessages().fault(NOT_FETCHED))
