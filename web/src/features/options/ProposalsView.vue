<script setup lang="ts">
/** What could be done to an element: each school that applies as a whole build-up on one datum, best first; the others with the reason. */
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, take } from '@/api/client'
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
const proposals = useAnswer(
  () => ['proposals', elementId.value],
  () => take(api.GET('/api/elements/{element_id}/proposals', { params: { path: { element_id: elementId.value } } })),
  { fresh: true },
)
const { complaint, busy, act } = useAct()
const taken = ref(new Set<string>())

const found = computed(() => sheet.data.value?.options[0]?.build_up.layers ?? [])
const offered = computed(() => proposals.data.value?.offered ?? [])
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
const again = async (): Promise<void> => void (await Promise.all([sheet.load(), proposals.load()]))
</script>

<template>
  <SheetPage title="Proposals">
    <HatchDefs />
    <ElementTabs :project-id="projectId" :element-id="elementId" view="proposals" />
    <p v-if="complaint || proposals.complaint.value || sheet.complaint.value" class="complaint" role="alert">
      {{ complaint || proposals.complaint.value || sheet.complaint.value }}
      <ElButton link @click="again">Try again</ElButton>
    </p>
    <p v-if="!proposals.data.value || !sheet.data.value" class="soft">Looking at what applies …</p>
    <template v-else>
      <p class="conditions soft">{{ conditionsOf(sheet.data.value.element, sheet.data.value.conditions) }}</p>
      <p class="headline" data-headline>{{ said(proposals.data.value.headline) }}</p>
      <AccessBoxes :element="sheet.data.value.element" @changed="again" />
      <div ref="drawing">
        <SheetRulers v-if="offered.length" :scale="scale" :ends="ends" :datum="datumName" :limits="limits" />
        <ProposalStrip
          v-for="(p, i) in offered"
          :key="p.way"
          :proposal="p"
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
      <template v-if="proposals.data.value.refused.length">
        <h2>What does not apply here</h2>
        <p v-for="r in proposals.data.value.refused" :key="r.name + r.school" class="refused">
          <b>{{ r.name }}</b> <span class="soft">({{ r.school }})</span>: {{ r.because.map(said).join(' ') }}
        </p>
      </template>
    </template>
    <template #margin>
      <ReadinessNote :element-id="elementId" />
      <h3>How these come about</h3>
      <p v-if="proposals.data.value" class="soft">
        Taken as {{ proposals.data.value.make }}. {{ proposals.data.value.note }}
      </p>
      <p class="soft">
        The thickness is the least that meets the target within every limit, or the most that fits. Take one, and its
        hourly years can be run like those of any option.
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
h2 {
  margin-top: 18px;
}
.refused {
  margin: 3px 0;
}
</style>
