<script setup lang="ts">
/** Heat loss of the building before and after the chosen options, with the arithmetic open. */
import { computed, ref } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { api, take, type Schemas } from '@/api/client'
import HeatTabs from '@/shared/HeatTabs.vue'
import SheetPage from '@/shared/SheetPage.vue'
import WhichFigures from '@/shared/WhichFigures.vue'
import { useProject } from '@/shared/project'
import { bare, byShare, said, show, unitOf } from '@/shared/units'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'
import { useAnswer } from '@/shared/query'

type Row = Schemas['HeatRow']
const route = useRoute()
const project = useProject()
const projectId = computed(() => Number(route.params.project))
const notReady = computed(() =>
  project.elements.filter(
    (e) => e.chosen_id !== null && project.page?.readiness[e.id] && project.page.readiness[e.id]!.state !== 'ready',
  ),
)
const { data: heat, complaint } = useAnswer(
  () => ['heat', projectId.value],
  () => take(api.GET('/api/projects/{project_id}/heat', { params: { path: { project_id: projectId.value } } })),
)
const opened = ref<string | null>(null)

const most = computed(() => Math.max(...(heat.value?.rows ?? []).map((r) => Math.max(r.before_w_k, r.after_w_k)), 1))
function px(value: number): string {
  return `${(value / most.value) * 100}%`
}
/** Like for like where the line moves: of the rooms heated after the works. */
const cutWords = computed(() => {
  const h = heat.value
  if (!h || h.total.before_w_k <= 0) return 'Nothing is known yet'
  const after = h.total.after_w_k
  if (!h.line.moved.length) {
    const words = byShare(h.total.before_w_k, after)
    return words === 'no change' ? 'Nothing is cut yet' : `Together ${words} heat loss`
  }
  const like = h.line.like_for_like_w_k
  if (!like) return 'The line moves: like for like is not known while something is not stated'
  return `Like for like ${byShare(like, after)}, of the rooms heated after the works`
})
const unchosen = computed(() => project.layered.filter((e) => e.chosen_id === null && e.in_line !== 'before'))
type Figure = number | null | undefined
function arithmetic(r: Row): string {
  if (r.area_m2 === null || r.area_m2 === undefined) return said(r.note)
  const one = (area: Figure, u: Figure, b: Figure, h: number): string =>
    `${show(area, 'area')} × ${show(u, 'transmittance', 3)}${b === 1 ? '' : ` × b ${b?.toFixed(2)}`} = ${show(h, 'coefficient', 1)}`
  const before = r.stands === 'after' ? '' : `before ${one(r.area_m2, r.u_before, r.factor_b, r.before_w_k)}`
  const after = r.stands === 'before' ? '' : `after ${one(r.area_after_m2, r.u_after, r.factor_after, r.after_w_k)}`
  return [before, after].filter(Boolean).join('; ')
}
const STANDS: Record<string, string> = { before: 'before only', after: 'new', both: '' }
const heated = computed(() => heat.value?.line)
const perFloor = (w: number | null | undefined): string => show(w, 'lossPerArea')
const biggest = computed(() => [...(heat.value?.rows ?? [])].sort((a, b) => b.after_w_k - a.after_w_k)[0])
const rowKey = (r: Row): string => r.name + r.element_id
/** A figure of one line; nothing where the element is not in that one. */
const here = (r: Row, when: 'before' | 'after', words: string): string =>
  r.stands === 'both' || r.stands === when ? words : '–'
/** As found and after, beside each other; the head names what it is, with its unit. */
function pair(
  of: 'w_k' | 'kwh' | 'w',
  head: string,
  quantity: Parameters<typeof bare>[1],
  digits?: number,
): Column<Row>[] {
  return (['before', 'after'] as const).map((when) => ({
    name: `${when}_${of}`,
    head: when === 'before' ? head : 'after',
    figure: true,
    mark: when === 'after' ? 'strong' : undefined,
    text: (r) => here(r, when, bare(r[`${when}_${of}`], quantity, digits)),
  }))
}
const columns = computed<Column<Row>[]>(() => [
  { name: 'element', head: 'Element' },
  { name: 'stair', head: unitOf('coefficient').unit, mark: 'stair' },
  ...pair('w_k', 'before', 'coefficient'),
  ...pair('kwh', `loss before, ${unitOf('energy').unit}`, 'energy'),
  ...pair('w', `design load before, ${unitOf('power').unit}`, 'power', 2),
])
</script>

<template>
  <SheetPage title="Heat" written>
    <HeatTabs :project-id="projectId" view="heat" title="Heat loss before and after" />
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
    <p v-else-if="!heat" class="soft">Adding up …</p>
    <template v-else>
      <p class="soft">
        Outline as found, solid after the chosen options. {{ heat.climate_label }}, {{ heat.climate_origin }}, set-point
        {{ show(heat.set_point_c, 'temperature', 0) }}. Loss, not need.
      </p>
      <ul v-if="heat.missing.length" class="complaint missing">
        <li v-for="m in heat.missing" :key="m">{{ m }}</li>
      </ul>
      <RuledTable
        class="heat"
        sums
        label="Heat loss by element"
        :rows="heat.rows"
        :columns="columns"
        :key-of="rowKey"
        :opened="(r) => opened === r.name"
      >
        <template #element="{ row }">
          <ElButton link :aria-expanded="opened === row.name" @click="opened = opened === row.name ? null : row.name">
            {{ row.name }}
          </ElButton>
          <span v-if="STANDS[row.stands]" class="soft"> {{ STANDS[row.stands] }}</span>
        </template>
        <template #stair="{ row }">
          <span v-if="row.before_w_k" class="before" :style="{ width: px(row.before_w_k) }" aria-hidden="true"
            ><span class="after" :style="{ width: `${(row.after_w_k / row.before_w_k) * 100}%` }"
          /></span>
          <span v-else class="before new" :style="{ width: px(row.after_w_k) }" aria-hidden="true"
            ><span class="after" style="width: 100%"
          /></span>
        </template>
        <template #below="{ row }">
          {{ arithmetic(row) }}<template v-if="row.area_m2">. {{ said(row.note) }}.</template>
          <RouterLink
            v-if="row.element_id && row.kind !== 'window' && row.kind !== 'door'"
            :to="{ name: 'options', params: { project: projectId, element: row.element_id } }"
            >To its options</RouterLink
          >
        </template>
        <template #sum-element>Building{{ heat.complete ? '' : ', known parts only' }}</template>
        <template #sum-before_w_k>{{ bare(heat.total.before_w_k, 'coefficient') }}</template>
        <template #sum-after_w_k>{{ bare(heat.total.after_w_k, 'coefficient') }}</template>
        <template #sum-before_kwh>{{ bare(heat.total.before_kwh, 'energy') }}</template>
        <template #sum-after_kwh>{{ bare(heat.total.after_kwh, 'energy') }}</template>
        <template #sum-before_w>{{ bare(heat.total.before_w, 'power', 2) }}</template>
        <template #sum-after_w>{{ bare(heat.total.after_w, 'power', 2) }}</template>
      </RuledTable>
      <details open class="arithmetic">
        <summary>The arithmetic</summary>
        <ol>
          <li v-for="line in heat.arithmetic" :key="line.metric">{{ said(line) }}</li>
        </ol>
      </details>
    </template>
    <template #margin>
      <p v-if="notReady.length" class="ready" data-readiness>
        Chosen but not ready to be covered:
        <template v-for="(e, i) in notReady" :key="e.id"
          >{{ i ? '; ' : '' }}{{ e.name }} ({{ project.page?.readiness[e.id]?.state }})</template
        >. <RouterLink :to="{ name: 'water', params: { project: projectId } }">Water</RouterLink>
      </p>
      <template v-if="heat">
        <h2 class="big">
          {{ bare(heat.line.like_for_like_w_k ?? heat.total.before_w_k, 'coefficient') }} →
          {{ show(heat.total.after_w_k, 'coefficient') }}
        </h2>
        <p>
          <template v-if="!heat.complete"><b>Of the known parts only.</b> </template>
          <span data-cut>{{ cutWords }}: </span>
          <span v-for="(credit, i) in heat.credits" :key="credit.what.metric" data-credit
            >{{ i ? '; ' : '' }}{{ said(credit.what) }} {{ show(credit.w_k, 'coefficient') }}</span
          >. Design load at {{ show(heat.design_c, 'temperature') }} goes from
          {{ show(heat.total.before_w, 'power') }} to {{ show(heat.total.after_w, 'power') }}.
        </p>
        <template v-if="heated && (heated.moved.length || heated.lost.length)">
          <h3>The heated line moves</h3>
          <ul class="list">
            <li v-for="words in heated.moved" :key="words">{{ words }}</li>
          </ul>
          <p v-for="words in heated.lost" :key="words" class="over">Not in it: {{ words }}.</p>
          <p>
            {{ show(heated.volume_before_m3, 'volume') }} → {{ show(heated.volume_after_m3, 'volume') }},
            {{ show(heated.floor_before_m2, 'area', 0) }} → {{ show(heated.floor_after_m2, 'area', 0) }}. For each m²
            heated: {{ perFloor(heated.before_w_m2k) }} → {{ perFloor(heated.after_w_m2k) }}; on what was heated before
            {{ perFloor(heated.after_on_floor_before_w_m2k) }}. As it is heated today the house loses
            {{ show(heat.total.before_w_k, 'coefficient') }}.
          </p>
        </template>
        <template v-if="biggest">
          <h3>Largest after</h3>
          <p>{{ biggest.name }}, {{ show(biggest.after_w_k, 'coefficient') }}: {{ said(biggest.note) }}.</p>
        </template>
        <template v-if="unchosen.length">
          <h3>Not chosen yet</h3>
          <ul class="list">
            <li v-for="e in unchosen" :key="e.id">
              <RouterLink :to="{ name: 'compare', params: { project: projectId, element: e.id } }">{{
                e.name
              }}</RouterLink>
            </li>
          </ul>
        </template>
        <h3>Not in it</h3>
        <p class="soft">
          Joints, reheat; gains of sun and people stand in Balance. The heating designer decides the load.
        </p>
        <h3>Fresh air</h3>
        <p class="soft">
          Tightening cuts the air that comes in by leaks. What is left of it stands in
          <RouterLink :to="{ name: 'balance', params: { project: projectId } }">Balance</RouterLink>, with open flues
          and radon; licensed practice rules.
        </p>
      </template>
      <WhichFigures :project-id="projectId" here="heat" />
    </template>
  </SheetPage>
</template>

<style scoped>
.ready {
  border: 1px solid var(--ink);
  padding: 6px 9px;
}
.heat :deep(.stair) {
  width: 30%;
}
.before {
  display: block;
  height: 14px;
  border: 1.4px solid var(--heat);
  margin-top: 3px;
}
.after {
  display: block;
  height: 100%;
  background: var(--heat);
}
.heat :deep(.strong) {
  font-weight: 600;
}
.heat :deep(.el-table__expanded-cell) {
  color: var(--soft);
}
.arithmetic {
  margin-top: 18px;
  max-width: 760px;
}
.missing {
  padding-left: 18px;
}
.list {
  padding-left: 16px;
  margin-top: 4px;
}
.big {
  margin-bottom: 4px;
}
</style>
