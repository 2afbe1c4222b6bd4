<script setup lang="ts">
/** Heat loss of the building before and after the chosen options, with the arithmetic open. */
import { computed, ref, shallowRef, watch } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { api, sentence, take, type Schemas } from '@/api/client'
import AppFrame from '@/shared/AppFrame.vue'
import { useProject } from '@/shared/project'
import { bare, said, show, unitOf } from '@/shared/units'

type Row = Schemas['HeatRow']
const route = useRoute()
const project = useProject()
const projectId = computed(() => Number(route.params.project))
const notReady = computed(() =>
  project.elements.filter(
    (e) => e.chosen_id !== null && project.page?.readiness[e.id] && project.page.readiness[e.id]!.state !== 'ready',
  ),
)
const heat = shallowRef<Schemas['HeatOut'] | null>(null)
const complaint = ref('')
const opened = ref<string | null>(null)

watch(
  projectId,
  async (id) => {
    complaint.value = ''
    try {
      heat.value = await take(api.GET('/api/projects/{project_id}/heat', { params: { path: { project_id: id } } }))
    } catch (error) {
      complaint.value = sentence(error)
    }
  },
  { immediate: true },
)
const most = computed(() => Math.max(...(heat.value?.rows ?? []).map((r) => Math.max(r.before_w_k, r.after_w_k)), 1))
function px(value: number): string {
  return `${(value / most.value) * 100}%`
}
const cut = computed(() =>
  heat.value && heat.value.total.before_w_k > 0 ? 1 - heat.value.total.after_w_k / heat.value.total.before_w_k : 0,
)
const unchosen = computed(() => project.layered.filter((e) => e.chosen_id === null))
function arithmetic(r: Row): string {
  if (r.area_m2 === null || r.area_m2 === undefined) return said(r.note)
  const b = r.factor_b === 1 ? '' : ` × b ${r.factor_b}`
  const one = (u: number | null | undefined, h: number): string =>
    `${show(r.area_m2, 'area')} × ${show(u, 'transmittance', 3)}${b} = ${show(h, 'coefficient', 1)}`
  return `before ${one(r.u_before, r.before_w_k)}; after ${one(r.u_after, r.after_w_k)}`
}
const biggest = computed(() => [...(heat.value?.rows ?? [])].sort((a, b) => b.after_w_k - a.after_w_k)[0])
</script>

<template>
  <AppFrame title="Heat" :project-id="projectId">
    <h1>Heat loss before and after</h1>
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
      <table class="ruled heat">
        <thead>
          <tr>
            <th>Element</th>
            <th class="stair">{{ unitOf('coefficient').unit }}</th>
            <th class="figure">before</th>
            <th class="figure">after</th>
            <th class="figure">loss before, {{ unitOf('energy').unit }}</th>
            <th class="figure">after</th>
            <th class="figure">design load before, {{ unitOf('power').unit }}</th>
            <th class="figure">after</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="r in heat.rows" :key="r.name + r.element_id">
            <tr>
              <td>
                <ElButton link :aria-expanded="opened === r.name" @click="opened = opened === r.name ? null : r.name">
                  {{ r.name }}
                </ElButton>
              </td>
              <td class="stair" aria-hidden="true">
                <span class="before" :style="{ width: px(r.before_w_k) }"
                  ><span class="after" :style="{ width: r.before_w_k ? `${(r.after_w_k / r.before_w_k) * 100}%` : 0 }"
                /></span>
              </td>
              <td class="figure">{{ bare(r.before_w_k, 'coefficient') }}</td>
              <td class="figure strong">{{ bare(r.after_w_k, 'coefficient') }}</td>
              <td class="figure">{{ bare(r.before_kwh, 'energy') }}</td>
              <td class="figure strong">{{ bare(r.after_kwh, 'energy') }}</td>
              <td class="figure">{{ bare(r.before_w, 'power', 2) }}</td>
              <td class="figure strong">{{ bare(r.after_w, 'power', 2) }}</td>
            </tr>
            <tr v-if="opened === r.name" class="open">
              <td colspan="8">
                {{ arithmetic(r) }}<template v-if="r.area_m2">. {{ said(r.note) }}.</template>
                <RouterLink
                  v-if="r.element_id && r.kind !== 'window' && r.kind !== 'door'"
                  :to="{ name: 'options', params: { project: projectId, element: r.element_id } }"
                  >To its options</RouterLink
                >
              </td>
            </tr>
          </template>
        </tbody>
        <tfoot>
          <tr>
            <th>Building{{ heat.complete ? '' : ', known parts only' }}</th>
            <td class="stair"></td>
            <td class="figure">{{ bare(heat.total.before_w_k, 'coefficient') }}</td>
            <td class="figure strong">{{ bare(heat.total.after_w_k, 'coefficient') }}</td>
            <td class="figure">{{ bare(heat.total.before_kwh, 'energy') }}</td>
            <td class="figure strong">{{ bare(heat.total.after_kwh, 'energy') }}</td>
            <td class="figure">{{ bare(heat.total.before_w, 'power', 2) }}</td>
            <td class="figure strong">{{ bare(heat.total.after_w, 'power', 2) }}</td>
          </tr>
        </tfoot>
      </table>
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
          {{ bare(heat.total.before_w_k, 'coefficient') }} → {{ show(heat.total.after_w_k, 'coefficient') }}
        </h2>
        <p>
          <template v-if="!heat.complete"><b>Of the known parts only.</b> </template>
          Together {{ cut > 0 ? `they cut the heat loss by ${Math.round(cut * 100)} %` : 'nothing is cut yet' }}:
          <span v-for="(credit, i) in heat.credits" :key="credit.what.metric" data-credit
            >{{ i ? '; ' : '' }}{{ said(credit.what) }} {{ show(credit.w_k, 'coefficient') }}</span
          >. Design load at {{ show(heat.design_c, 'temperature') }} goes from
          {{ show(heat.total.before_w, 'power') }} to {{ show(heat.total.after_w, 'power') }}.
        </p>
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
          Joints, gains from sun and people, reheat. Infiltration is a rule of thumb. The heating designer decides the
          load.
        </p>
        <h3>Fresh air</h3>
        <p class="soft">
          Tightening cuts the air that comes in by leaks. Check ventilation and open-flued appliances before any
          sealing; licensed practice rules.
        </p>
      </template>
    </template>
  </AppFrame>
</template>

<style scoped>
.ready {
  border: 1px solid var(--ink);
  padding: 6px 9px;
}
.heat td,
.heat th {
  padding: 4px 8px 4px 0;
}
.stair {
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
.strong {
  font-weight: 600;
}
tfoot th,
tfoot td {
  border-top: 1.5px solid var(--ink);
  font-weight: 600;
}
.open td {
  color: var(--soft);
  background: #f5f1e6;
  padding-left: 10px !important;
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
