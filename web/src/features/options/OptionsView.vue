<script setup lang="ts">
/** The options sheet: as found and its options as strips to scale on one datum, edited in the drawing. */
import { useElementSize } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { onBeforeRouteLeave, RouterLink, useRoute, useRouter } from 'vue-router'
import HatchDefs from '@/drawing/HatchDefs.vue'
import { layOut } from '@/drawing/scale'
import ElementTabs from '@/shared/ElementTabs.vue'
import { useProject, type Material } from '@/shared/project'
import ReadinessNote from '@/shared/ReadinessNote.vue'
import SheetPage from '@/shared/SheetPage.vue'
import { said } from '@/shared/units'
import DrownedNote from './DrownedNote.vue'
import MaterialFinder from './MaterialFinder.vue'
import OptionStrip from './OptionStrip.vue'
import { conditionsOf } from './said'
import SheetMargin from './SheetMargin.vue'
import SpreadDialog from './SpreadDialog.vue'
import SheetRulers from './SheetRulers.vue'
import { useSheet } from './useSheet'
import { useSheetKeys } from './useSheetKeys'

const route = useRoute()
const router = useRouter()
const project = useProject()
const state = useSheet()
const { sheet, works, at, complaint, loading } = state
const projectId = computed(() => Number(route.params.project))
const elementId = computed(() => Number(route.params.element) || 0)
const finder = ref(false)
const spreading = ref(false)
const told = ref('')
const finderMode = ref<'insert' | 'swap'>('insert')
const strips = ref<InstanceType<typeof OptionStrip>[]>([])
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

const limits = computed(() => sheet.value?.limits)
const limitWords = computed(() => sheet.value?.limits_said ?? [])
const scale = computed(() =>
  layOut(
    works.value.map((w) => w.layers),
    sheet.value?.datum_layer_id ?? '',
    limits.value,
    96,
    Math.max(200, width.value - 110),
  ),
)
const datumName = computed(() => {
  const layer = works.value[0]?.layers.find((l) => l.id === sheet.value?.datum_layer_id)
  return layer ? `datum: inner face of ${project.materialName(layer.material)}` : 'datum'
})
const ENDS: Record<string, [string, string]> = { floor: ['BELOW', 'ABOVE'], roof: ['ABOVE', 'BELOW'] }
const ends = computed<[string, string]>(() => ENDS[sheet.value?.element.kind ?? ''] ?? ['OUTSIDE', 'INSIDE'])
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

/** more: one end stays, and all between is in hand */
async function select(strip: number, layer: string | null, more = false): Promise<void> {
  if (state.typed.value !== null) await state.commitTyped()
  told.value = ''
  if (more && strip === at.strip && at.layer !== null && layer !== null) {
    at.to = layer === at.layer ? null : layer
    return
  }
  at.strip = strip
  at.layer = layer
  at.to = null
}
function find(mode: 'insert' | 'swap'): void {
  finderMode.value = mode
  finder.value = true
}
function picked(material: Material): void {
  if (finderMode.value === 'insert') void state.insert(material)
  else void state.swap(material)
}
useSheetKeys(state, {
  on: () => !finder.value && works.value.length > 0,
  select,
  find,
  type: () => strips.value.find((s) => s.index === at.strip)?.begin(),
  tell: (words) => (told.value = words),
  duplicate: () => isStated.value && void state.duplicate(),
  tests: () => void router.push({ name: 'tests', params: { project: projectId.value, element: elementId.value } }),
})
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
        <p class="conditions soft">{{ conditionsOf(sheet.element, sheet.conditions) }}</p>
        <DrownedNote v-if="sheet.drowned" :drowned="sheet.drowned" :state="state" />
        <div class="tools">
          <ElButton type="primary" :disabled="!canRun" @click="state.runYears()"> Run the years <kbd>R</kbd> </ElButton>
          <ElButton title="D" :disabled="!isStated" @click="state.duplicate()">
            Duplicate {{ at.strip === 0 ? 'as found' : `option ${at.strip}` }}
          </ElButton>
          <ElButton v-if="at.strip > 0" @click="state.membranes()"> Membranes side by side </ElButton>
          <ElButton v-if="at.strip > 0" @click="spreading = true"> The same elsewhere </ElButton>
          <ElButton :disabled="!state.undoStack.value.length" title="Ctrl Z" @click="state.undo()"> Undo </ElButton>
          <ElButton :disabled="!state.redoStack.value.length" title="Ctrl Shift Z" @click="state.redo()">
            Redo
          </ElButton>
          <span v-if="told" class="soft" role="status">{{ told }}</span>
          <span v-if="busy" class="soft" aria-live="polite">the runner is at work; go on meanwhile</span>
        </div>
        <p v-if="state.removed.value" role="status">
          “{{ state.removed.value }}” was removed.
          <ElButton link title="Ctrl Z" @click="state.bringBack()">Bring it back</ElButton>
        </p>
        <div ref="drawing" class="drawing" @click="at.layer = null">
          <SheetRulers :scale="scale" :ends="ends" :datum="datumName" :limits="limits" />
          <OptionStrip
            v-for="(w, i) in works"
            :key="w.id"
            ref="strips"
            :state="state"
            :w="w"
            :index="i"
            :scale="scale"
            :width="width"
            :project-id="projectId"
            @select="(layer, more) => select(i, layer, more)"
            @find="find"
          />
          <p v-if="isStated && works.length === 1" class="soft">
            Only as found is drawn. See
            <RouterLink :to="{ name: 'proposals', params: { project: projectId, element: elementId } }"
              >what could be done to it</RouterLink
            >, or duplicate it (D) and change the copy.
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
    <SpreadDialog
      v-if="sheet && state.work.value && at.strip > 0"
      v-model="spreading"
      :option-id="state.work.value.id"
      :element-id="elementId"
      :name="state.work.value.name"
      :kind="sheet.element.kind"
      :project-id="projectId"
    />
    <MaterialFinder
      v-model="finder"
      :title="finderTitle"
      :kits="finderMode === 'insert'"
      @pick="picked"
      @kit="(layer) => void state.insertLayer(layer)"
    />
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
</style>
