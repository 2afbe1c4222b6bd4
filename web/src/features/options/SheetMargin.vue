<script setup lang="ts">
/** What a careful colleague writes beside the strips. A click on a note shows its place, and the other way round. */
import { computed, nextTick } from 'vue'
import type { Schemas } from '@/api/client'
import StandsOn from '@/shared/StandsOn.vue'
import { differences } from '@/shared/materials'
import { useProject } from '@/shared/project'
import { said, show } from '@/shared/units'
import SinceLastRun from './SinceLastRun.vue'
import type { SheetState } from './useSheet'

const props = defineProps<{ state: SheetState }>()
const project = useProject()
const emit = defineEmits<{ place: [strip: number, layer: string | null] }>()
const elementId = computed(() => props.state.sheet.value?.element.id)
type Verdict = Schemas['Verdict']
const notes = computed(() =>
  props.state.works.value.map((w, index) => {
    const live = props.state.liveState(w)
    const verdict = w.run.verdict ?? null
    return { w, index, live, verdict, over: w.figures.over_limits }
  }),
)
function wettest(verdict: Verdict): string {
  const p = verdict.worst_point
  const aside = p.judged ? '' : `; ${p.why_not}, reported and not judged`
  return `Wettest point: ${p.name}, ${Math.min(100, p.worst_month_rh * 100).toFixed(0)} % in ${p.worst_month}${aside}.`
}
/** Of the strip in hand: as found there is no work, and nothing to say. */
const matched = computed(() => props.state.work.value?.figures.matched ?? [])
const cautions = computed(() => props.state.work.value?.figures.cautions ?? [])
/** Layers whose material has a newer edition: what differs, and a way to take it. */
const older = computed(() =>
  props.state.works.value.flatMap((w, strip) =>
    w.layers.flatMap((layer) => {
      const material = project.materials.get(layer.material)
      const newest = material?.own && project.materials.get(material.own.newest)
      if (!material?.own || !newest || newest.id === material.id) return []
      const where = strip ? `Option ${strip}` : 'As found'
      return [
        {
          key: `${w.id} ${layer.id}`,
          strip,
          layer: layer.id,
          newest: newest.id,
          edition: material.own.newest_edition,
          words: `${where} stands on “${material.name}”, edition ${material.own.edition}: since then ${differences(material, newest) || 'its source'}.`,
        },
      ]
    }),
  ),
)
function takeNewest(strip: number, layer: string, material: string): void {
  emit('place', strip, layer)
  void nextTick(() => props.state.change({ material }))
}
const assumed = computed(() => props.state.works.value[0]?.layers.filter((l) => l.known === 'assumed').length ?? 0)
const notJudged = computed(() => notes.value.find((n) => n.verdict)?.verdict?.not_judged ?? [])
function showPlace(index: number, layer: string | undefined): void {
  const w = props.state.works.value[index]
  emit('place', index, w?.layers.some((l) => l.id === layer) ? (layer ?? null) : null)
}
const saved = computed(() => {
  const [found, ...rest] = props.state.works.value
  const w = props.state.work.value
  const option = w && w.role !== 'as_found' ? w : rest[0]
  if (!found?.figures.loss_kwh_m2a || !option?.figures.loss_kwh_m2a) return null
  return { name: option.name, before: found.figures.loss_kwh_m2a, after: option.figures.loss_kwh_m2a }
})
</script>

<template>
  <section v-for="n in notes" :key="n.w.id" class="note" :class="{ here: n.index === state.at.strip }" data-note>
    <ElButton text class="block head" @click="showPlace(n.index, n.verdict?.worst?.layer_id)">
      <span class="ring" aria-hidden="true">{{ n.index }}</span>
      <h3>
        <template v-if="n.live === 'not available'">{{ n.index ? `Option ${n.index}` : 'As found' }}: not run</template>
        <template v-else-if="!n.verdict">{{ n.index ? `Option ${n.index}` : 'As found' }}: {{ n.live }}</template>
        <template v-else-if="n.index === 0">As found{{ n.live === 'out of date' ? ', out of date' : '' }}</template>
        <template v-else>Option {{ n.index }}: {{ n.live === 'current' ? n.verdict.state : n.live }}</template>
      </h3>
    </ElButton>
    <p v-if="n.live === 'not available'">{{ n.w.run.doing || n.w.figures.transient_refused }}.</p>
    <template v-else-if="n.verdict && n.live === 'current'">
      <p>
        <template v-if="n.index">{{ said(n.verdict.worst?.sentence) }}</template>
        {{ wettest(n.verdict) }}
      </p>
      <template v-if="n.index === state.at.strip">
        <p>{{ said(n.verdict.driver) }}</p>
        <p v-if="n.index" class="soft">{{ said(n.verdict.drying_in) }}</p>
        <StandsOn v-if="n.w.tests.study_runs && elementId" :element-id="elementId" :option-id="n.w.id" />
      </template>
      <p v-if="n.w.run.older" class="over">
        Computed with an older solver or older criteria.
        <ElButton link @click="state.runAgain(project.page?.project.id ?? 0)">
          Run all of these in the project again
        </ElButton>
      </p>
    </template>
    <p v-else-if="n.verdict && n.live === 'out of date'">
      The layers, the survey or the climate changed since the years were run. Run them again, or take the edit back.
    </p>
    <p v-else-if="n.live === 'not run'" class="soft">The hourly years were not run yet.</p>
    <p v-if="n.live === 'failed'" class="complaint">{{ n.w.run.error }}</p>
    <SinceLastRun v-if="n.index === state.at.strip && n.verdict" :w="n.w" />
    <p v-for="t in n.w.figures.traps" :key="t.outer + t.inner" :class="t.tight ? 'over' : 'soft'">
      <ElButton link @click="showPlace(n.index, t.outer)">{{ said(t.sentence) }}</ElButton>
    </p>
    <p v-for="o in n.over" :key="o.metric" class="over">{{ said(o) }}</p>
    <p v-for="g in n.w.figures.background" :key="g.metric" class="over">{{ said(g) }}</p>
  </section>
  <template v-if="saved">
    <h3>What the heat did</h3>
    <p>
      As found {{ show(saved.before, 'energyPerArea') }} flow out through each part of the face, and help it dry. “{{
        saved.name
      }}” leaves {{ show(saved.after, 'energyPerArea') }}.
    </p>
  </template>
  <p v-if="notJudged.length" class="soft">Not judged: {{ notJudged.map(said).join(', ') }}.</p>
  <p v-if="assumed" class="soft">
    {{ assumed }} layer{{ assumed === 1 ? '' : 's' }} as found {{ assumed === 1 ? 'is' : 'are' }} only assumed: open up
    before deciding.
  </p>
  <template v-if="older.length">
    <h3>An older edition</h3>
    <p v-for="o in older" :key="o.key">
      {{ o.words }}
      <ElButton link @click="takeNewest(o.strip, o.layer, o.newest)">Take edition {{ o.edition }}</ElButton>
    </p>
  </template>
  <p v-for="m in matched" :key="m.metric" class="soft">{{ said(m) }}</p>
  <h3>Caution</h3>
  <p v-for="c in cautions" :key="c.metric" class="soft">{{ said(c) }}</p>
  <p class="soft">Nothing here is certified; local code and who is licensed decide.</p>
</template>

<style scoped>
.note {
  border-left: 3px solid transparent;
  margin-left: -11px;
  padding-left: 8px;
}
.note.here {
  border-left-color: var(--ink);
}
.head {
  padding: 0;
}
.head :deep(> span) {
  align-items: baseline;
  gap: 7px;
}
.ring {
  border: 1.3px solid var(--ink);
  border-radius: 50%;
  width: 19px;
  height: 19px;
  line-height: 16px;
  text-align: center;
  font-size: 12px;
  flex: none;
}
h3 {
  margin-top: 2px;
}
</style>
