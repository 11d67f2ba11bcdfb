import { createRouter, createWebHistory } from 'vue-router'
import { useVisit } from './stores/visit'
import CallsView from './views/CallsView.vue'

export const router = createRouter({
  history: createWebHistory(),
  // Another screen begins at its top; going back, where it was left.
  scrollBehavior: (to, from, saved) => saved ?? (to.name === from.name ? false : { top: 0 }),
  routes: [
    { path: '/', redirect: '/calls' },
    { path: '/calls', name: 'calls', component: CallsView, meta: { title: 'Calls' } },
    {
      path: '/units/:which(\\d+|new)?',
      name: 'units',
      component: () => import('./views/UnitsView.vue'),
      props: ({ params: { which } }) => ({ which: which === 'new' ? 'new' : which ? Number(which) : null }),
      meta: { title: 'Units' },
    },
    {
      path: '/handbook/:kind(saturation|calculators|limits|faults|weather|moving)?/:code?',
      name: 'handbook',
      component: () => import('./views/HandbookView.vue'),
      props: (to) => ({ kind: String(to.params.kind ?? ''), code: String(to.params.code ?? '') }),
      meta: { title: 'Handbook' },
    },
    {
      path: '/visits/:id(\\d+)',
      name: 'walk',
      component: () => import('./views/WalkView.vue'),
      props: (to) => ({ id: Number(to.params.id) }),
      meta: { title: 'Walk' },
      // The visit comes along with the screen that shows it; what goes wrong is said there.
      beforeEnter: (to) => void useVisit().open(Number(to.params.id)).catch(() => undefined),
    },
    {
      path: '/visits/:id(\\d+)/recorder',
      name: 'recorder',
      component: () => import('./views/RecorderView.vue'),
      props: (to) => ({ id: Number(to.params.id) }),
      meta: { title: 'Recorder' },
    },
    {
      path: '/visits/:id(\\d+)/file',
      name: 'file',
      component: () => import('./views/FileView.vue'),
      props: (to) => ({ id: Number(to.params.id) }),
      meta: { title: 'Bring in a recording' },
    },
    {
      path: '/visits/:id(\\d+)/report',
      name: 'report',
      component: () => import('./views/ReportView.vue'),
      props: (to) => ({ id: Number(to.params.id) }),
      meta: { title: 'Report' },
    },
    { path: '/bench', name: 'bench', component: () => import('./views/BenchView.vue'), meta: { title: 'Bench' } },
    {
      path: '/bench/:id(\\d+)',
      name: 'benchcase',
      component: () => import('./views/BenchCaseView.vue'),
      props: (to) => ({ id: Number(to.params.id) }),
      meta: { title: 'Practice' },
    },
    {
      path: '/bench/:id(\\d+)/debrief',
      name: 'debrief',
      component: () => import('./views/DebriefView.vue'),
      props: (to) => ({ id: Number(to.params.id) }),
      meta: { title: 'Practice: debrief' },
    },
    { path: '/people', name: 'people', component: () => import('./views/PeopleView.vue'), meta: { title: 'People' } },
    {
      path: '/people/audit',
      name: 'audit',
      component: () => import('./views/AuditView.vue'),
      props: ({ query }) => ({ visit: Number(query.visit) || null, account: Number(query.account) || null }),
      meta: { title: 'Audit' },
    },
    { path: '/scores', name: 'scores', component: () => import('./views/ScoresView.vue'), meta: { title: 'How often we were right' } },
    { path: '/records', name: 'records', component: () => import('./views/RecordsView.vue'), meta: { title: 'Records' } },
    {
      path: '/:rest(.*)*',
      name: 'nowhere',
      component: () => import('./views/NowhereView.vue'),
      meta: { title: 'Nothing here' },
    },
  ],
})

router.afterEach((to) => {
  document.title = `${String(to.meta.title)} · Icepick`
})
