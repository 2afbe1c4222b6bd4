<script setup lang="ts">
/** What the survey states of a layer beside its thickness: metal, frost, air barrier, fixings, measured uptake. */
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import type { Schemas } from '@/api/client'
import CountInput from '@/shared/CountInput.vue'
import { useProject } from '@/shared/project'
import { show } from '@/shared/units'
import GroundMore from './GroundMore.vue'
import FramingMore from './FramingMore.vue'
import ProductMore from './ProductMore.vue'
import type { SheetState } from './useSheet'
import { isStill } from './work'

type Metal = NonNullable<Schemas['Metal']>
const props = defineProps<{ state: SheetState }>()
const project = useProject()
const layer = computed(() => props.state.selected.value!)
const material = computed(() => project.materials.get(layer.value.material))
const PARTS: Metal['part'][] = ['fixings', 'ties', 'plates', 'studs', 'lintel', 'cramps']
const KINDS: Metal['kind'][] = ['iron', 'steel, galvanised', 'stainless steel', 'other']
const masonry = computed(() => ['masonry', 'plaster'].includes(material.value?.group ?? ''))
const insulation = computed(() => material.value?.group === 'insulation')
const draws = computed(
  () => material.value?.a_value_kg_m2s05 !== null && material.value?.a_value_kg_m2s05 !== undefined,
)
const airy = computed(() => material.value?.kind === 'membrane' || material.value?.kind === 'solid')
const change = (part: Parameters<SheetState['change']>[0]): void => void props.state.change(part)

type Layer = Schemas['BuildUpLayer']
const STATED: Layer['role'][] = ['weather skin', 'sheathing', 'structure', 'lining', 'soil or ballast']
/** What the layer is taken for, with the reason, as the figures say it. */
const roles = computed(() => {
  const found = props.state.work.value?.figures.roles.find((one) => one.layer_id === layer.value.id)
  return Object.entries(found?.roles ?? {}) as [string, string][]
})

/** The sun that the face in the weather takes up, by its colour; of a new layer its material's, else what the element says. */
const COLOURS: [number, string][] = [
  [0.3, 'light (0.3 of the sun)'],
  [0.5, 'mid (0.5)'],
  [0.7, 'dark (0.7)'],
  [0.9, 'black (0.9)'],
]
const inWeather = computed(
  () =>
    props.state.sheet.value?.element.adjoining === 'outside' &&
    props.state.work.value?.layers[0]?.id === layer.value.id,
)
const usualColour = computed(() => {
  const own = material.value?.absorptance
  return layer.value.existing || own === null || own === undefined ? 'as the element says' : `its usual (${own})`
})
const ownColour = computed(
  () => layer.value.absorptance != null && !COLOURS.some(([v]) => v === layer.value.absorptance),
)
function metal(part: string): void {
  change({ metal: part ? { kind: layer.value.metal?.kind ?? 'iron', part: part as Metal['part'] } : null })
}
</script>

<template>
  <div class="more" role="group" aria-label="What else is stated of the layer">
    <ElCheckbox
      v-if="masonry"
      :model-value="layer.frost_proof"
      @update:model-value="(v: unknown) => change({ frost_proof: Boolean(v) })"
      >known to stand frost</ElCheckbox
    >
    <ElCheckbox
      v-if="material?.kind === 'solid'"
      :model-value="layer.carries"
      @update:model-value="(v: unknown) => change({ carries: Boolean(v) })"
      >braces or carries</ElCheckbox
    >
    <ElCheckbox
      v-if="airy"
      :model-value="layer.air_barrier"
      @update:model-value="(v: unknown) => change({ air_barrier: Boolean(v) })"
      >declared the air barrier</ElCheckbox
    >
    <ElCheckbox
      v-if="material?.kind !== 'air' && material?.kind !== 'coating'"
      :model-value="layer.sheds_water"
      @update:model-value="(v: unknown) => change({ sheds_water: Boolean(v) })"
      >declared to shed the water</ElCheckbox
    >
    <ElCheckbox
      v-if="isStill(material)"
      :model-value="layer.goes_round"
      @update:model-value="(v: unknown) => change({ goes_round: Boolean(v) })"
      >room air gets behind the boards (dabs, battens, sockets)</ElCheckbox
    >
    <span class="roles" data-roles>
      <span class="soft">what it is </span>
      <template v-if="roles.length">
        <template v-for="[role, why] in roles" :key="role"
          ><b>{{ role }}</b> <span class="soft">({{ why }})</span>&ensp;</template
        >
      </template>
      <span v-else class="soft">none of its own&ensp;</span>
      <ElSelect
        v-if="material?.kind !== 'coating'"
        :model-value="layer.role"
        size="small"
        aria-label="what the layer is"
        style="width: 150px"
        @update:model-value="(role: Layer['role']) => change({ role })"
      >
        <ElOption value="" label="as it looks" />
        <ElOption v-for="r in STATED" :key="r" :value="r" :label="`this is the ${r}`" /></ElSelect
    ></span>
    <GroundMore v-if="masonry" :state="state" />
    <span
      ><span class="soft">metal at its inner face </span>
      <ElSelect
        :model-value="layer.metal?.part ?? ''"
        size="small"
        placeholder="none"
        aria-label="metal at the inner face"
        style="width: 110px"
        @update:model-value="metal"
      >
        <ElOption value="" label="none" />
        <ElOption v-for="p in PARTS" :key="p" :value="p" />
      </ElSelect>
      <ElSelect
        v-if="layer.metal"
        :model-value="layer.metal.kind"
        size="small"
        aria-label="kind of metal"
        style="width: 150px"
        @update:model-value="(kind: Metal['kind']) => change({ metal: { part: layer.metal!.part, kind } })"
      >
        <ElOption v-for="k in KINDS" :key="k" :value="k" /></ElSelect
    ></span>
    <FramingMore v-if="layer.framing" :state="state" />
    <ProductMore v-if="insulation" :state="state" />
    <template v-if="insulation">
      <span
        ><span class="soft">gaps (ISO 6946)</span>
        <ElSelect
          :model-value="layer.gaps"
          size="small"
          aria-label="gaps in the insulation"
          style="width: 150px"
          @update:model-value="(gaps: number) => change({ gaps })"
        >
          <ElOption :value="0" label="none" />
          <ElOption :value="1" label="through one layer" />
          <ElOption :value="2" label="air round the warm side" /></ElSelect
      ></span>
      <CountInput
        :model-value="layer.fixings?.per_m2 ?? 0"
        label="fixings a m², steel"
        spoken="fixings through the insulation, a square metre"
        :most="50"
        :width="90"
        @update:model-value="
          (n: number) =>
            change({
              fixings: n
                ? { conductivity_w_mk: 50, section_mm2: 20, depth_share: 1, ...layer.fixings, per_m2: n }
                : null,
            })
        "
      />
      <CountInput
        :model-value="layer.inverted?.rain_mm_day ?? 0"
        label="rain on the sheet under it, mm a day"
        spoken="inverted roof, rain of the heating season"
        :most="30"
        :step="0.5"
        :width="90"
        @update:model-value="
          (n: number) => change({ inverted: n ? { factor: 0.04, ...layer.inverted, rain_mm_day: n } : null })
        "
      />
    </template>
    <span v-if="inWeather" data-colour>
      <span class="soft">colour outside </span>
      <ElSelect
        :model-value="layer.absorptance ?? ''"
        size="small"
        aria-label="colour of its outer face"
        style="width: 190px"
        @update:model-value="(v: number | '') => change({ absorptance: v === '' ? null : v })"
      >
        <ElOption value="" :label="usualColour" />
        <ElOption v-for="[v, words] in COLOURS" :key="v" :value="v" :label="words" />
        <ElOption v-if="ownColour" :value="layer.absorptance!" :label="`takes up ${layer.absorptance} of the sun`" />
      </ElSelect>
    </span>
    <span v-if="draws">
      <span class="soft">water uptake </span>
      <template v-if="layer.a_value_kg_m2s05">
        <b>{{ show(layer.a_value_kg_m2s05, 'uptake') }}, measured</b> (library
        {{ show(material!.a_value_kg_m2s05!, 'uptake') }})&ensp;
        <ElButton size="small" @click="change({ a_value_kg_m2s05: null })">take the library’s</ElButton>
      </template>
      <template v-else>
        {{ show(material!.a_value_kg_m2s05!, 'uptake') }}, the library’s ·
        <RouterLink :to="`/p/${state.sheet.value!.project.id}/survey/readings`"
          >measured? note it in Readings</RouterLink
        >
      </template>
    </span>
  </div>
</template>

<style scoped>
.more {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
  align-items: center;
  flex-basis: 100%;
  border-top: 1px dotted var(--rule);
  padding-top: 3px;
}
</style>
