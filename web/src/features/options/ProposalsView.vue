<script setup lang="ts">
/**
 * What could be done to an element: each school that applies as a whole build-up on one datum, with what its hourly years say, best first;
 * the others with the reason. The years are asked for on opening, watched, and given up on leaving.
 */
import { useElementSize, useEventListener } from '@vueuse/core'
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, take, type Schemas } from '@/api/client'
import HatchDefs from '@/drawing/HatchDefs.vue'
import { layOut } from '@/drawing/scale'
import ElementTabs from '@/shared/ElementTabs.vue'
import { useProject } from '@/shared/project'
import { useAct, useAnswer } from '@/shared/query'
import ReadinessNote from '@/shared/ReadinessNote.vue'
import { askSheet } from '@/shared/sheet'
import SheetPage from '@/shared/SheetPage.vue'
import { said } from '@/shared/units'
import AccessBoxes from './AccessBoxes.vue'
import ProposalStrip from './ProposalStrip.vue'
import { conditionsOf } from './said'
import SheetRulers from './SheetRulers.vue'

const route = useRoute()
const router = useRouter()
const project = useProject()
const projectId = computed(() => Number(route.params.project))
const elementId = computed(() => Number(route.params.element))
const drawing = ref<HTMLElement>()
const { width } = useElementSize(drawing)
const sheet = useAnswer(
  () => ['sheet', elementId.value],
  () => askSheet(elementId.value),
  { fresh: true },
)
type Out = Schemas['ProposalsOut']
const UNDER_WAY = ['waiting', 'running']
const underWay = (out: Out | undefined): boolean => !!out?.runs.some((run) => UNDER_WAY.includes(run.status))
const path = (id: number) => ({ params: { path: { element_id: id } } })
const answer = useAnswer(
  () => ['proposals', elementId.value],
  () => take(api.GET('/api/elements/{element_id}/proposals', path(elementId.value))),
  { fresh: true, every: (out) => (underWay(out) ? 1000 : false) },
)
const proposals = computed(() => answer.data.value?.proposals)
const runOf = computed(() => new Map(answer.data.value?.runs.map((run) => [run.way, run])))
const { complaint, busy, act } = useAct()
const taken = ref(new Set<string>())

const found = computed(() => sheet.data.value?.options[0]?.build_up.layers ?? [])
const offered = computed(() => proposals.value?.offered ?? [])
const limits = computed(() => sheet.data.value?.limits)
const datum = computed(() => sheet.data.value?.datum_layer_id ?? '')
const scale = computed(() =>
  layOut(
    [found.value, ...offered.value.map((p) => p.build_up.layers)],
    datum.value,
    limits.value,
    70,
    Math.max(200, width.value - 110),
  ),
)
const ENDS: Record<string, [string, string]> = { floor: ['BELOW', 'ABOVE'], roof: ['ABOVE', 'BELOW'] }
const ends = computed<[string, string]>(() => ENDS[sheet.data.value?.element.kind ?? ''] ?? ['OUTSIDE', 'INSIDE'])
const datumName = computed(() => {
  const layer = found.value.find((l) => l.id === datum.value)
  return layer ? `datum: inner face of ${project.materialName(layer.material)}` : 'datum'
})
/** The options there are already, so that nothing is taken twice unseen. */
const names = computed(() => new Set(sheet.data.value?.options.map((o) => o.name) ?? []))

const takeIt = (way: string): Promise<boolean> =>
  act(async () => {
    await take(
      api.POST('/api/elements/{element_id}/proposals/{way}', {
        params: { path: { element_id: elementId.value, way } },
      }),
    )
    taken.value = new Set([...taken.value, way])
    await sheet.load()
  })
const again = async (): Promise<void> => void (await Promise.all([sheet.load(), answer.load()]))

/** The years of what is offered and not run yet: asked for once they are seen, and again when what is known of the element changed. */
const stopped = ref(false)
/** whether somebody's years may be under way for this page, answered already or not */
let asked = false
const run = (): Promise<boolean> =>
  act(async () => {
    stopped.value = false
    asked = true
    answer.put(await take(api.POST('/api/elements/{element_id}/proposals/years', path(elementId.value))))
    await answer.load()
  })
/** keepalive: it is sent when the window is closed too */
const leave = (id: number): void =>
  void take(api.POST('/api/elements/{element_id}/proposals/leave', { ...path(id), keepalive: true })).catch(
    () => undefined,
  )
const stop = (): Promise<boolean> =>
  act(async () => {
    stopped.value = true
    await take(api.POST('/api/elements/{element_id}/proposals/leave', path(elementId.value)))
    await answer.load()
  })
const toRun = computed(
  () =>
    (proposals.value?.open ?? 0) - (answer.data.value?.runs.filter((r) => UNDER_WAY.includes(r.status)).length ?? 0),
)
watch(
  () => [elementId.value, toRun.value, answer.data.value === undefined] as const,
  ([id, left, loading], before) => {
    if (before && before[0] !== id) leave(before[0])
    if (loading || left <= 0 || stopped.value || busy.value) return
    if (answer.data.value?.runs.some((r) => r.status === 'failed')) return
    void run()
  },
  { immediate: true },
)
const gone = (): void => {
  if (asked || underWay(answer.data.value)) leave(elementId.value)
}
onBeforeUnmount(gone)
useEventListener(window, 'pagehide', gone)
const progress = computed(() => {
  const runs = answer.data.value?.runs ?? []
  if (!runs.length || !underWay(answer.data.value)) return null
  const done = runs.reduce((sum, r) => sum + (r.status === 'done' ? 1 : r.progress), 0)
  const now = runs.find((r) => r.status === 'running')
  return { share: Math.round((100 * done) / runs.length), words: now?.doing ?? answer.data.value?.trouble ?? 'waiting' }
})
</script>

<template>
  <SheetPage title="Proposals">
    <HatchDefs />
    <ElementTabs :project-id="projectId" :element-id="elementId" view="proposals" />
    <p v-if="complaint || answer.complaint.value || sheet.complaint.value" class="complaint" role="alert">
      {{ complaint || answer.complaint.value || sheet.complaint.value }}
      <ElButton link @click="again">Try again</ElButton>
    </p>
    <p v-if="!proposals || !sheet.data.value" class="soft">Looking at what applies …</p>
    <template v-else>
      <p class="conditions soft">{{ conditionsOf(sheet.data.value.element, sheet.data.value.conditions) }}</p>
      <p class="headline" data-headline>{{ said(proposals.headline) }}</p>
      <div v-if="progress" class="running" role="status">
        <ElProgress :percentage="progress.share" :show-text="false" aria-label="years of the proposals" />
        <span class="soft">{{ progress.words }}</span>
        <ElButton size="small" @click="stop">Stop</ElButton>
      </div>
      <p v-else-if="stopped && proposals.open" class="running">
        <span class="soft">Stopped: {{ proposals.open }} not run.</span>
        <ElButton size="small" @click="run">Run them</ElButton>
      </p>
      <AccessBoxes :element="sheet.data.value.element" @changed="again" />
      <div ref="drawing">
        <SheetRulers v-if="offered.length" :scale="scale" :ends="ends" :datum="datumName" :limits="limits" />
        <ProposalStrip
          v-for="(p, i) in offered"
          :key="p.way"
          :proposal="p"
          :run="runOf.get(p.way)"
          :index="i + 1"
          :strip="scale.strips[i + 1]!"
          :scale="scale"
          :width="width"
          :busy="busy"
          :taken="taken.has(p.way) || names.has(p.name)"
          :ends="ends"
          @take="takeIt(p.way)"
          @look="router.push({ name: 'options', params: { project: projectId, element: elementId } })"
        />
      </div>
      <p v-if="!offered.length && !found.length">
        Its layers are not stated: nothing is proposed for what nobody has looked at.
      </p>
      <template v-if="proposals.refused.length">
        <h2>What does not apply here</h2>
        <p v-for="r in proposals.refused" :key="r.name + r.school" class="refused">
          <b>{{ r.name }}</b> <span class="soft">({{ r.school }})</span>: {{ r.because.map(said).join(' ') }}
        </p>
      </template>
    </template>
    <template #margin>
      <ReadinessNote :element-id="elementId" />
      <h3>How these come about</h3>
      <p v-if="proposals" class="soft">Taken as {{ proposals.make }}. {{ proposals.note }}</p>
      <p class="soft">
        Each is built and run by the hour from the settled wall as found, with the air leak its making usually has: a
        usual year, a bad one, and once with rain that gets in. The thickness is the least that meets the target and
        stands in both years; the most that stands is given beside it.
      </p>
      <h3>Caution</h3>
      <p class="soft">
        A proposal is where to start from. Structure, fire, foam, asbestos and heritage are for those licensed to
        decide; local code rules.
      </p>
    </template>
  </SheetPage>
</template>

<style scoped>
.conditions {
  margin: 2px 0 4px;
}
.headline {
  font: 600 19px/1.35 var(--serif);
  margin: 4px 0 8px;
}
.running {
  display: flex;
  gap: 12px;
  align-items: center;
  margin: 0 0 8px;
}
.running .el-progress {
  width: 260px;
}
h2 {
  margin-top: 18px;
}
.refused {
  margin: 3px 0;
}
</style>
