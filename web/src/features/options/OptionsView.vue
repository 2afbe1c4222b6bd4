<script setup lang="ts">
/** The options sheet: as found and its options as strips to scale on one datum, edited in the drawing. */
import { ElMessageBox } from 'element-plus'
import 'element-plus/theme-chalk/el-message-box.css'
import 'element-plus/theme-chalk/el-overlay.css'
import 'element-plus/theme-chalk/el-button.css'
import { onKeyStroke, useElementSize } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { onBeforeRouteLeave, RouterLink, useRoute, useRouter } from 'vue-router'
import HatchDefs from '@/drawing/HatchDefs.vue'
import { layOut } from '@/drawing/scale'
import SheetPage from '@/shared/SheetPage.vue'
import ReadinessNote from '@/shared/ReadinessNote.vue'
import StateMark from '@/shared/StateMark.vue'
import { isTyping, onSingleKey } from '@/shared/keys'
import { useProject, type Material } from '@/shared/project'
import { said, show } from '@/shared/units'
import DrownedNote from './DrownedNote.vue'
import ElementTabs from '@/shared/ElementTabs.vue'
import LayerBar from './LayerBar.vue'
import LeakBar from './LeakBar.vue'
import MaterialFinder from './MaterialFinder.vue'
import SheetMargin from './SheetMargin.vue'
import StripDrawing from './StripDrawing.vue'
import StripFigures from './StripFigures.vue'
import { useSheet, type Work } from './useSheet'

const route = useRoute()
const router = useRouter()
const project = useProject()
const state = useSheet()
const { sheet, works, at, complaint, loading } = state
const projectId = computed(() => Number(route.params.project))
const elementId = computed(() => Number(route.params.element) || 0)
const finder = ref(false)
const finderMode = ref<'insert' | 'swap'>('insert')
const bar = ref<InstanceType<typeof LayerBar>[] | null>(null)
const drawing = ref<HTMLElement>()
const { width } = useElementSize(drawing)

watch(
  [elementId, () => project.layered.length, () => project.page?.project.id],
  async () => {
    if (elementId.value) await state.load(elementId.value)
    else if (project.page?.project.id === projectId.value && project.layered[0])
      await router.replace({ name: 'options', params: { project: projectId.value, element: project.layered[0].id } })
  },
  { immediate: true },
)

const e = computed(() => sheet.value?.element)
const c = computed(() => sheet.value?.conditions)
const limits = computed(() => sheet.value?.limits)
const limitWords = computed(() => sheet.value?.limits_said ?? [])
const scale = computed(() =>
  layOut(
    works.value.map((w) => w.layers),
    sheet.value?.datum_layer_id ?? '',
    { room: limits.value?.room_mm ?? null, outside: limits.value?.outside_mm ?? null },
    96,
    Math.max(200, width.value - 110),
  ),
)
const datumName = computed(() => {
  const layer = works.value[0]?.layers.find((l) => l.id === sheet.value?.datum_layer_id)
  return layer ? `datum: inner face of ${project.materialName(layer.material)}` : 'datum'
})
const ends = computed(() => {
  if (e.value?.kind === 'floor') return ['BELOW', 'ABOVE']
  return e.value?.kind === 'roof' ? ['ABOVE', 'BELOW'] : ['OUTSIDE', 'INSIDE']
})
const MONTHS = ['January', 'February', 'March', 'April', 'May', 'June', 'July', 'August', 'September', 'October', 'November', 'December'] // prettier-ignore
const worksOn = computed(() => {
  const [month, day] = (c.value?.works_on ?? '05-01').split('-').map(Number)
  return `${day} ${MONTHS[(month ?? 5) - 1]}`
})
const conditions = computed(() => {
  if (!c.value) return ''
  const parts = [`${c.value.climate_label}, ${c.value.climate_origin}`]
  if (e.value?.kind === 'wall' && e.value.adjoining === 'outside')
    parts.push(
      `faces ${c.value.facing}, ${c.value.exposure}${c.value.strip === 'whole' ? '' : `, ${c.value.strip} third`}, ` +
        `${show(c.value.driven_rain_mm, 'rain')} driven rain${c.value.rain_face ? ', a rain face' : ''}`,
    )
  else if (e.value && e.value.adjoining !== 'outside')
    parts.push(
      `adjoins ${e.value.adjoining}, b ${e.value.factor_b} ${e.value.shape_key && !e.value.typed.includes('factor_b') ? 'usual' : 'typed'}`,
    )
  parts.push(`${c.value.occupancy}, ${show(c.value.set_point_c, 'temperature', 0)}`)
  parts.push(`as found from ${Math.round(c.value.start_rh * 100)} % RH until it settles, works on ${worksOn.value}`)
  if (c.value.target_u_w_m2k)
    parts.push(`target ${c.value.target_u_w_m2k && show(c.value.target_u_w_m2k, 'transmittance')}`)
  return parts.join(' · ')
})
/** Labels above the lines, pushed apart so that none lies on another. */
const labels = computed(() => {
  const all: { text: string; x: number }[] = []
  if (scale.value.outsideLimit !== null)
    all.push({
      text:
        limits.value?.outside_mm === 0
          ? 'protected face'
          : `outside limit ${show(limits.value?.outside_mm, 'thickness')}`,
      x: scale.value.outsideLimit,
    })
  all.push({ text: datumName.value, x: scale.value.datum })
  if (scale.value.roomLimit !== null)
    all.push({ text: `room limit ${show(limits.value?.room_mm, 'thickness')}`, x: scale.value.roomLimit })
  all.sort((a, b) => a.x - b.x)
  let row = 0
  return all.map((label, i) => {
    const before = all[i - 1]
    const close = before && label.x - before.x < (label.text.length + before.text.length) * 3.1 + 8
    row = close ? (row + 1) % 2 : 0
    return { ...label, row }
  })
})
function words(w: Work, index: number): { state: string; words: string } {
  const live = state.liveState(w)
  const verdict = w.run.verdict
  if (live === 'running') return { state: '', words: `${w.run.doing}, ${Math.round(w.run.progress * 100)} %` }
  if (live === 'not available') return { state: '', words: w.figures.transient_refused || w.run.doing }
  if (live === 'waiting') return { state: '', words: waitWords(w) }
  if (live !== 'current' || !verdict) return { state: '', words: live === 'not run' ? 'years not run' : live }
  const older = w.run.older ? ' (older solver: run again)' : ''
  if (index === 0) return { state: '', words: said(verdict.as_found_words) + older }
  const headline = said(verdict.headline)
  return { state: verdict.state, words: headline.charAt(0).toLowerCase() + headline.slice(1) + older }
}
/** How many runs come first, and for about how long. */
function waitWords(w: Work): string {
  if (!w.run.before) return 'waiting, next'
  const wait = w.run.wait_s
  const time = !wait ? '' : wait < 90 ? `, about ${Math.ceil(wait / 10) * 10} s` : `, about ${Math.ceil(wait / 60)} min`
  return `waiting, ${w.run.before} before it${time}`
}
/** Without layers as found there is nothing to draw an option from. */
const isStated = computed(() => (works.value[0]?.layers.length ?? 0) > 0)
const finderTitle = computed(() => {
  if (finderMode.value === 'swap') return 'Swap the material'
  if (!state.work.value?.layers.length) return 'The outermost layer'
  return at.layer === null ? 'Add a layer at the room side' : 'Insert a layer, inward of the selected one'
})
const busy = computed(() => works.value.some((w) => w.run.state === 'running' || w.run.state === 'waiting'))
const canRun = computed(() =>
  works.value.some((w) => !['current', 'running', 'waiting', 'not available'].includes(state.liveState(w))),
)

async function select(strip: number, layer: string | null): Promise<void> {
  if (state.typed.value !== null) await state.commitTyped()
  at.strip = strip
  at.layer = layer
}
/** A question first where a choice or finished years hang on it. */
async function removeAsked(w: Work): Promise<void> {
  const chosen = e.value?.chosen_id === w.id
  if (chosen || w.run.verdict) {
    const what = chosen ? `“${w.name}” is the chosen option, with its reason.` : `“${w.name}” has its years run.`
    try {
      await ElMessageBox.confirm(`${what} Remove it?`, 'Remove the option', {
        confirmButtonText: 'Remove it',
        cancelButtonText: 'Keep it',
      })
    } catch {
      return
    }
  }
  await state.removeOption()
}
function find(mode: 'insert' | 'swap'): void {
  finderMode.value = mode
  finder.value = true
}
function picked(material: Material): void {
  if (finderMode.value === 'insert') void state.insert(material)
  else void state.swap(material)
}

onKeyStroke(true, async (event) => {
  if (isTyping(event) || finder.value || event.defaultPrevented || !works.value.length) return
  const key = event.key
  const command = event.ctrlKey || event.metaKey
  const done = (): void => event.preventDefault()
  if (command && key.toLowerCase() === 'z') {
    done()
    await (event.shiftKey ? state.redo() : state.undo())
  } else if (command) return
  else if (event.altKey && /^[1-9]$/.test(key)) {
    done()
    if (works.value[Number(key)]) await select(Number(key), null)
  } else if (event.altKey && (key === 'ArrowLeft' || key === 'ArrowRight')) {
    done()
    await state.move(key === 'ArrowLeft' ? -1 : 1)
  } else if (event.altKey) return
  else if (key === 'ArrowLeft' || key === 'ArrowRight') {
    done()
    state.walk(key === 'ArrowLeft' ? -1 : 1)
  } else if (key === 'ArrowUp' || key === 'ArrowDown') {
    done()
    state.climb(key === 'ArrowUp' ? -1 : 1)
  } else if (key === 'Escape') at.layer = null
  else if (key === 'Insert') {
    done()
    find('insert')
  } else if (at.layer === null) return
  else if (key === '+' || key === '-' || key === '=') {
    done()
    await state.step(key === '-' ? -1 : 1)
  } else if (key === 'Delete') {
    done()
    await state.remove()
  } else if (key === 'Enter') {
    done()
    bar.value?.[0]?.begin()
  } else if (/^[0-9a-zA-Z.,]$/.test(key)) {
    bar.value?.[0]?.begin()
  }
})
const none = (act: () => void) => (): void => {
  if (at.layer === null) act()
}
onSingleKey(
  'd',
  none(() => isStated.value && void state.duplicate()),
)
onSingleKey(
  't',
  none(() => void router.push({ name: 'tests', params: { project: projectId.value, element: elementId.value } })),
)
onSingleKey(
  'r',
  none(() => void state.runYears()),
)
onBeforeRouteLeave(async () => {
  if (state.typed.value !== null) await state.commitTyped()
})
</script>

<template>
  <SheetPage title="Options">
    <HatchDefs />
    <p v-if="!elementId && project.page && !project.layered.length">
      No wall, roof or floor yet. Add one in
      <RouterLink :to="{ name: 'survey', params: { project: projectId } }">Survey</RouterLink>.
    </p>
    <template v-if="elementId">
      <ElementTabs :project-id="projectId" :element-id="elementId" view="options" />
      <p v-if="complaint" class="complaint" role="alert">
        {{ complaint }} <ElButton link @click="state.load(elementId)">Try again</ElButton>
      </p>
      <p v-if="loading && !sheet" class="soft">Drawing the strips …</p>
      <template v-if="sheet">
        <p class="conditions soft">{{ conditions }}</p>
        <DrownedNote v-if="sheet.drowned" :drowned="sheet.drowned" :state="state" />
        <div class="tools">
          <ElButton type="primary" :disabled="!canRun" @click="state.runYears()"> Run the years <kbd>R</kbd> </ElButton>
          <ElButton title="D" :disabled="!isStated" @click="state.duplicate()">
            Duplicate {{ at.strip === 0 ? 'as found' : `option ${at.strip}` }}
          </ElButton>
          <ElButton v-if="at.strip > 0" @click="state.membranes()"> Membranes side by side </ElButton>
          <ElButton :disabled="!state.undoStack.value.length" title="Ctrl Z" @click="state.undo()"> Undo </ElButton>
          <ElButton :disabled="!state.redoStack.value.length" title="Ctrl Shift Z" @click="state.redo()">
            Redo
          </ElButton>
          <span v-if="busy" class="soft" aria-live="polite">the runner is at work; go on meanwhile</span>
        </div>
        <p v-if="state.removed.value" role="status">
          “{{ state.removed.value.name }}” was removed.
          <ElButton link @click="state.bringBack()">Bring it back</ElButton>
        </p>
        <div ref="drawing" class="drawing" @click="at.layer = null">
          <div class="rulers" aria-hidden="true">
            <span class="end">{{ ends[0] }}</span>
            <span
              v-for="label in labels"
              :key="label.text"
              class="line-label"
              :style="{ left: `${label.x}px`, top: `${label.row * 15}px` }"
              >{{ label.text }}</span
            >
            <span class="end right">{{ ends[1] }}</span>
          </div>
          <section
            v-for="(w, i) in works"
            :key="w.id"
            class="strip"
            :class="{ here: i === at.strip }"
            :data-option="w.id"
            :aria-label="i === 0 ? 'As found' : `Option ${i}: ${w.name}`"
            @click.stop="select(i, null)"
          >
            <div class="title">
              <b v-if="i">{{ i }}</b>
              <ElInput
                v-if="i && i === at.strip"
                class="rename"
                :model-value="w.name"
                :model-modifiers="{ lazy: true }"
                maxlength="120"
                aria-label="Name of the option"
                :style="{ width: `${Math.max(12, w.name.length) + 2}ch` }"
                @update:model-value="state.rename"
              />
              <b v-else>{{ w.name }}</b>
              <ElButton link v-if="i && i === at.strip" class="small" @click.stop="removeAsked(w)">
                remove option
              </ElButton>
              <span class="state">
                <StateMark v-bind="words(w, i)" />
                <ElButton
                  link
                  v-if="['running', 'waiting'].includes(state.liveState(w))"
                  class="small"
                  @click.stop="state.cancel(w)"
                >
                  cancel
                </ElButton>
              </span>
            </div>
            <progress
              v-if="state.liveState(w) === 'running'"
              :value="w.run.progress"
              max="1"
              :aria-label="w.run.doing"
            />
            <p v-if="!w.layers.length" class="unstated">
              Its layers are not stated: no figure is made up for them.
              <ElButton @click.stop="select(i, null).then(() => find('insert'))"> State the outermost layer </ElButton>
              <RouterLink :to="{ name: 'survey', params: { project: projectId, view: 'make' } }"
                >or give it the construction of another element</RouterLink
              >
            </p>
            <StripDrawing
              v-else-if="scale.strips[i]"
              :strip="scale.strips[i]!"
              :scale="scale"
              :width="width"
              :name="w.name"
              :figures="w.figures"
              :selected="i === at.strip ? at.layer : null"
              @select="(layer) => select(i, layer)"
            />
            <LayerBar v-if="i === at.strip && at.layer" ref="bar" :state="state" @find="find" @click.stop />
            <p v-if="w.complaint" class="complaint" role="alert">
              {{ w.complaint }}
              <template v-if="w.conflict">
                <ElButton link @click.stop="state.takeTheirs()">Take theirs</ElButton>
                <ElButton link @click.stop="state.keepMineAsNew()"> Keep mine as a new option </ElButton>
              </template>
            </p>
            <p v-else-if="state.isDraft(w) && state.typed.value === null" class="soft draft">
              A draft, not committed.
              <ElButton link @click.stop="state.commit(w)">Commit it</ElButton>
              <ElButton link @click.stop="select(i, null).then(() => state.dropDraft())"> Drop it </ElButton>
            </p>
            <LeakBar v-if="w.layers.length && i === at.strip && !at.layer" :state="state" @click.stop />
            <StripFigures
              v-if="w.layers.length"
              :figures="w.figures"
              :run="w.run"
              :tests="w.tests"
              :live="state.liveState(w)"
              :target="e?.target_u_w_m2k"
              :as-found="i === 0"
              @click.stop
            />
          </section>
          <p v-if="isStated && works.length === 1" class="soft">
            Only as found is drawn. Duplicate it (D) and change the copy: that is the first option.
          </p>
        </div>
      </template>
    </template>
    <template #margin>
      <ReadinessNote v-if="elementId" :element-id="elementId" />
      <SheetMargin v-if="sheet" :state="state" @place="select" />
      <template v-if="limitWords.length">
        <h3>Limits and target</h3>
        <p v-for="s in limitWords" :key="s.field" class="soft">{{ said(s.words) }}</p>
      </template>
    </template>
    <MaterialFinder v-model="finder" :title="finderTitle" @pick="picked" />
  </SheetPage>
</template>

<style scoped>
.conditions {
  margin: 2px 0 8px;
}
.tools {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-bottom: 8px;
}
kbd {
  font: inherit;
  opacity: 0.75;
}
.rulers {
  position: relative;
  height: 34px;
  font-size: 12.5px;
}
.line-label {
  position: absolute;
  transform: translateX(-50%);
  white-space: nowrap;
  background: var(--sheet);
  padding: 0 3px;
}
.end {
  position: absolute;
  left: 0;
  bottom: 0;
  color: var(--soft);
  font-weight: 600;
  font-size: 12px;
}
.end.right {
  left: auto;
  right: 0;
}
.strip {
  padding: 3px 0 7px;
  position: relative;
}
.strip.here::before {
  content: '';
  position: absolute;
  left: -14px;
  top: 6px;
  bottom: 8px;
  width: 3px;
  background: var(--ink);
}
.title {
  display: flex;
  gap: 9px;
  align-items: center;
  min-height: 25px;
}
.rename {
  max-width: 100%;
}
.rename :deep(.el-input__wrapper) {
  box-shadow: 0 1px 0 var(--rule);
  border-radius: 0;
  background: none;
  padding: 0;
  min-height: 22px;
}
.rename :deep(.el-input__inner) {
  font-weight: 600;
  height: 22px;
}
.small {
  font-size: 13px;
}
.state {
  margin-left: auto;
  display: flex;
  gap: 8px;
  white-space: nowrap;
}
progress {
  width: 100%;
  height: 4px;
  display: block;
  accent-color: var(--ink);
}
.draft {
  margin: 2px 0;
}
.unstated {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
  padding: 10px;
  border: 1px dashed var(--ink);
}
</style>
