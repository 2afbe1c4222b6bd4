<script setup lang="ts">
/** The three-part frame that stays while sheets change: path, sheet, margin, under the title strip. */
import { computed, onMounted, ref, useTemplateRef, watch } from 'vue'
import { RouterLink, RouterView, useRoute, useRouter } from 'vue-router'
import FindDialog from './FindDialog.vue'
import KeysDialog from './KeysDialog.vue'
import { forgetPages } from './outbox'
import OutboxNote from './OutboxNote.vue'
import SessionsDialog from './SessionsDialog.vue'
import { onSingleKey, singleKeys } from './keys'
import { useProject } from './project'
import { useSession } from './session'
import { capital, switchUnits, system } from './units'
import ChoiceBar from './ChoiceBar.vue'
import { MARGIN, title, written } from './frame'
import SchemePicker from './SchemePicker.vue'
import { stepOf, STEPS } from './steps'

const session = useSession()
const project = useProject()
const route = useRoute()
const router = useRouter()
const find = ref(false)
const keys = ref(false)
const menu: [string, () => unknown][] = [
  ['My projects', () => router.push('/projects')],
  ['Runs', () => router.push('/runs')],
  ['Library', () => router.push('/library')],
  ['Climates and indoor air', () => router.push('/climates')],
  ['Verification', () => router.push('/verification')],
  ['Where I am signed in', () => (sessions.value = true)],
  ['Keys', () => (keys.value = true)],
  ['Sign out', () => leave()],
]
const sessions = ref(false)

const projectId = computed(() => (route.params.project ? Number(route.params.project) : undefined))
const bare = computed(() => projectId.value === undefined)
const progress = computed(() => {
  const page = project.page
  if (!page || page.project.id !== projectId.value) return []
  return STEPS.map((step) => ({ ...step, ...page.progress.find((p) => p.step === step.name)! }))
})
const current = computed(() => stepOf(String(route.name)))
function pie(share: number): string {
  if (share <= 0) return ''
  const angle = Math.min(share, 0.9999) * 2 * Math.PI
  return `M6 6V1A5 5 0 ${angle > Math.PI ? 1 : 0} 1 ${6 + 5 * Math.sin(angle)} ${6 - 5 * Math.cos(angle)}Z`
}

async function leave(): Promise<void> {
  await session.signOut()
  await forgetPages()
  await router.push('/login')
}
onSingleKey('/', () => (find.value = true))
onSingleKey('?', () => (keys.value = true))
onSingleKey('u', switchUnits)
onMounted(() => project.loadLibrary())
const sheet = useTemplateRef('sheet')
/** Another sheet begins at its top. */
watch(
  () => route.path,
  () => sheet.value?.scrollTo({ top: 0, left: 0 }),
)
watch(projectId, (id) => id && project.page?.project.id !== id && project.open(id), { immediate: true })
watch(
  () => [title.value, project.page?.project.name],
  () =>
    (document.title = [title.value, projectId.value && project.page?.project.name, 'Wendrick']
      .filter(Boolean)
      .join(' · ')),
  { immediate: true },
)
</script>

<template>
  <div class="frame" :class="{ bare, written }">
    <a class="skip" href="#sheet">To the sheet</a>
    <header>
      <RouterLink class="brand" to="/projects">Wendrick</RouterLink>
      <span v-if="projectId" class="where">
        <RouterLink :to="{ name: 'house', params: { project: projectId } }">{{
          project.page?.project.name
        }}</RouterLink>
      </span>
      <span class="where soft">{{ title }}</span>
      <SchemePicker v-if="projectId && project.page" :project-id="projectId" />
      <span class="gap" />
      <ElButton class="find" @click="find = true">Find <kbd>/</kbd></ElButton>
      <ChoiceBar
        label="Units"
        :model-value="system"
        :options="[
          ['metric', 'mm, U'],
          ['imperial', 'in, R'],
        ]"
        @update:model-value="(now) => now && (system = now)"
      />
      <ElDropdown trigger="click" placement="bottom-end" @command="(go: () => unknown) => go()">
        <ElButton link class="person" aria-haspopup="menu">{{ session.person?.name }}</ElButton>
        <template #dropdown>
          <ElDropdownMenu>
            <ElDropdownItem v-for="[words, act] in menu" :key="words" :command="act">{{ words }}</ElDropdownItem>
          </ElDropdownMenu>
        </template>
      </ElDropdown>
    </header>
    <nav v-if="!bare" aria-label="Steps of the work">
      <RouterLink
        v-for="step in progress"
        :key="step.name"
        :to="{ name: step.name, params: { project: projectId } }"
        :class="{ here: current === step.name }"
        :aria-current="current === step.name ? 'step' : undefined"
        :title="step.missing"
      >
        <svg width="12" height="12" aria-hidden="true">
          <circle cx="6" cy="6" r="5" fill="none" stroke="currentColor" stroke-width="1.5" />
          <path :d="pie(step.done)" fill="currentColor" />
        </svg>
        {{ step.label }}
        <span class="hidden">{{ step.missing }}</span>
      </RouterLink>
    </nav>
    <main id="sheet" ref="sheet" tabindex="-1">
      <OutboxNote v-if="projectId" :project-id="projectId" />
      <p v-if="projectId && project.page?.climate_gone" class="complaint" role="alert">
        {{ capital(project.page.climate_gone) }}
      </p>
      <RouterView :key="project.scheme" />
    </main>
    <aside v-show="!bare" :id="MARGIN" aria-label="Margin notes" tabindex="0" />
    <FindDialog v-model="find" :project-id="projectId" />
    <SessionsDialog v-model="sessions" />
    <KeysDialog v-model="keys" v-model:single="singleKeys" />
  </div>
</template>

<style scoped>
.frame {
  display: grid;
  grid-template: 44px 1fr / 132px minmax(0, 1fr) 262px;
  grid-template-areas: 'head head head' 'path sheet margin';
  height: 100vh;
}
.frame.bare {
  grid-template: 44px 1fr / 1fr;
  grid-template-areas: 'head' 'sheet';
}
header {
  grid-area: head;
  display: flex;
  align-items: center;
  gap: 18px;
  padding: 0 16px;
  border-bottom: 1.5px solid var(--ink);
}
.brand {
  font: 650 19px var(--serif);
  text-decoration: none;
}
.where {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.where a {
  text-decoration: none;
}
.gap {
  flex: 1;
}
.find {
  width: 170px;
  text-align: left;
  color: var(--soft);
  background: var(--sheet);
  border: 1px solid var(--rule);
  padding: 3px 10px;
  cursor: text;
  display: flex;
  justify-content: space-between;
}
.person {
  white-space: nowrap;
  text-decoration: none;
}
nav {
  grid-area: path;
  padding-top: 14px;
  border-right: 1px solid var(--rule);
}
nav a {
  display: flex;
  align-items: center;
  gap: 11px;
  padding: 6px 14px;
  color: var(--soft);
  text-decoration: none;
  border-left: 3px solid transparent;
}
nav a svg {
  color: var(--ink);
}
nav a.here {
  background: var(--sheet);
  color: var(--ink);
  font-weight: 600;
  border-left-color: var(--ink);
}
main {
  grid-area: sheet;
  background: var(--sheet);
  overflow: auto;
  padding: 16px 20px 32px;
}
main:focus {
  outline: none;
}
aside {
  grid-area: margin;
  overflow: auto;
  padding: 18px 18px 40px;
  border-left: 1px solid var(--rule);
}
.skip {
  position: absolute;
  left: -999px;
}
.skip:focus {
  left: 8px;
  top: 8px;
  background: var(--sheet);
  padding: 4px 8px;
  z-index: 50;
}
/* Lists and words fill a large window by their size, drawings by their own. */
@media (min-width: 2200px) and (min-height: 1200px) {
  .frame.written :is(main, aside) {
    zoom: 1.35;
  }
}
@media (max-width: 1100px) {
  .frame:not(.bare) {
    grid-template-columns: 108px minmax(0, 1fr) 220px;
  }
  .find {
    width: 110px;
  }
}
@media (max-width: 900px) {
  .frame:not(.bare) {
    grid-template: 44px auto 1fr auto / 1fr;
    grid-template-areas: 'head' 'path' 'sheet' 'margin';
    height: auto;
    min-height: 100vh;
  }
  nav {
    display: flex;
    overflow-x: auto;
    padding: 0;
    border-bottom: 1px solid var(--rule);
  }
  nav a {
    padding: 13px 14px;
    border-left: 0;
    border-bottom: 3px solid transparent;
  }
  nav a.here {
    border-bottom-color: var(--ink);
  }
  .find {
    display: none;
  }
}
</style>
