import { createRouter, createWebHistory } from 'vue-router'
import { useSession } from '@/shared/session'

const waterView = () => import('@/features/water/WaterView.vue')

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', redirect: '/projects' },
    { path: '/login', name: 'login', component: () => import('@/features/session/LoginView.vue') },
    {
      path: '/',
      component: () => import('@/shared/FrameLayout.vue'),
      children: [
        { path: '/projects', name: 'projects', component: () => import('@/features/projects/ProjectList.vue') },
        { path: '/runs', name: 'runs', component: () => import('@/features/projects/RunList.vue') },
        { path: '/library', name: 'library', component: () => import('@/features/library/LibraryView.vue') },
        { path: '/climates', name: 'climates', component: () => import('@/features/climates/ClimatesView.vue') },
        {
          path: '/verification',
          name: 'verification',
          component: () => import('@/features/verification/VerificationView.vue'),
        },
        { path: '/p/:project(\\d+)', redirect: (to) => ({ name: 'house', params: to.params }) },
        { path: '/p/:project(\\d+)/house', name: 'house', component: () => import('@/features/house/HouseView.vue') },
        { path: '/p/:project(\\d+)/brief', name: 'brief', component: () => import('@/features/brief/BriefView.vue') },
        {
          path: '/p/:project(\\d+)/survey/:view(shape|elements|make|exposure|evidence|airtightness|readings)?',
          name: 'survey',
          component: () => import('@/features/survey/SurveyView.vue'),
        },
        { path: '/p/:project(\\d+)/water', name: 'water', component: waterView },
        { path: '/p/:project(\\d+)/heat', name: 'heat', component: () => import('@/features/heat/HeatView.vue') },
        { path: '/p/:project(\\d+)/air', name: 'air', component: () => import('@/features/air/AirView.vue') },
        {
          path: '/p/:project(\\d+)/rooms',
          name: 'rooms',
          component: () => import('@/features/rooms/RoomsView.vue'),
        },
        {
          path: '/p/:project(\\d+)/balance',
          name: 'balance',
          component: () => import('@/features/balance/BalanceView.vue'),
        },
        {
          path: '/p/:project(\\d+)/schemes',
          name: 'schemes',
          component: () => import('@/features/schemes/SchemesView.vue'),
        },
        {
          path: '/p/:project(\\d+)/dossier',
          name: 'dossier',
          component: () => import('@/features/dossier/DossierView.vue'),
        },
        {
          path: '/p/:project(\\d+)/lists/:key(water|opening|pins|readings|constructions|options|heat|leaks|rooms|balance)?',
          name: 'lists',
          component: () => import('@/features/dossier/ListsView.vue'),
        },
        {
          path: '/p/:project(\\d+)/options/:element(\\d+)?',
          name: 'options',
          component: () => import('@/features/options/OptionsView.vue'),
        },
        {
          path: '/p/:project(\\d+)/proposals/:element(\\d+)',
          name: 'proposals',
          component: () => import('@/features/options/ProposalsView.vue'),
        },
        {
          path: '/p/:project(\\d+)/year/:element(\\d+)',
          name: 'year',
          component: () => import('@/features/year/YearView.vue'),
        },
        {
          path: '/p/:project(\\d+)/tests/:element(\\d+)/:view(wetting|facings|bad-year|outboard|study|search)?',
          name: 'tests',
          component: () => import('@/features/trials/TestsView.vue'),
        },
        {
          path: '/p/:project(\\d+)/compare/:element(\\d+)',
          name: 'compare',
          component: () => import('@/features/compare/CompareView.vue'),
        },
        { path: '/:rest(.*)*', name: 'lost', component: () => import('@/shared/LostView.vue') },
      ],
    },
  ],
})

// on site the connection may be lost: who looks at evidence has the water sheet too
router.afterEach((to) => {
  if (to.name === 'survey') void waterView()
})
router.beforeEach(async (to) => {
  const session = useSession()
  if (!session.asked) await session.ask()
  if (!session.person && to.name !== 'login') return { name: 'login', query: { next: to.fullPath } }
  return true
})
