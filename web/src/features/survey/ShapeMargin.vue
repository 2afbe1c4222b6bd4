<script setup lang="ts">
/** What the shape comes to, where it differs from what was typed, and what it leaves out. */
import type { Schemas } from '@/api/client'
import { useProject } from '@/shared/project'
import { said, show } from '@/shared/units'

defineProps<{ found: Schemas['ShapeOut'] | null; kept: Schemas['ShapeOut'] | null }>()
const emit = defineEmits<{ follow: [element: number, field: Schemas['Disagreement']['field']] }>()
const project = useProject()
const FIELD: Record<string, string> = {
  area_m2: 'area',
  facing_deg: 'facing',
  slope_deg: 'slope',
  factor_b: 'b',
  volume_m3: 'volume',
  floor_area_m2: 'floor area',
}
const asRead = (value: number, field: string): string =>
  field === 'area_m2' || field === 'floor_area_m2'
    ? show(value, 'area')
    : field === 'volume_m3'
      ? show(value, 'volume')
      : String(Math.round(value * 100) / 100)
</script>

<template>
  <template v-if="found && found.derived.length">
    <h3>{{ show(found.volume_m3, 'volume') }}, {{ show(found.floor_area_m2, 'area', 0) }}</h3>
    <p>
      Heated volume and floor area; envelope {{ show(found.envelope_m2, 'area', 0) }}, footprint
      {{ show(found.footprint_m2, 'area', 0) }}.
    </p>
    <p v-for="words in found.arithmetic" :key="words.metric" class="soft">{{ said(words) }}</p>
    <p v-for="words in found.notes" :key="words.metric">{{ said(words) }}.</p>
  </template>
  <template v-if="found?.found">
    <h3>What the scheme does to it</h3>
    <ul v-if="found.moved.length" class="moved">
      <li v-for="words in found.moved" :key="words">{{ words }}</li>
    </ul>
    <p v-else class="soft">Nothing yet: as found.</p>
    <p class="soft">
      As found {{ show(found.found.volume_m3, 'volume') }}, {{ show(found.found.floor_area_m2, 'area', 0) }}, envelope
      {{ show(found.found.envelope_m2, 'area', 0) }}. A correction of the shape as found goes through to it.
    </p>
    <p v-for="words in found.lost" :key="words" class="over">Not in it: {{ words }}.</p>
  </template>
  <template v-if="kept?.disagreements.length">
    <h3>Typed by hand</h3>
    <p v-for="d in kept.disagreements" :key="`${d.element_id} ${d.field}`">
      <b>{{ d.name }}</b>: {{ FIELD[d.field] ?? d.field }} {{ asRead(d.by_hand, d.field) }} stays; the shape says
      {{ asRead(d.shape_says, d.field) }}.
      <ElButton link v-if="d.element_id !== null" @click="emit('follow', d.element_id, d.field)">
        follow the shape
      </ElButton>
    </p>
  </template>
  <template v-if="kept?.gone.length">
    <h3>No longer in the shape</h3>
    <p>
      {{ kept.gone.length }} element{{ kept.gone.length === 1 ? '' : 's' }} kept with options and evidence:
      {{
        project.elements
          .filter((e) => kept!.gone.includes(e.id))
          .map((e) => e.name)
          .join(', ')
      }}. Remove them under Elements if they are not wanted.
    </p>
  </template>
  <h3>What the shape leaves out</h3>
  <p class="soft">
    Valleys between roofs, bays and dormers are not cut: correct the areas by hand under Elements; what is typed stays.
  </p>
</template>

<style scoped>
.moved {
  padding-left: 16px;
  margin: 4px 0;
}
</style>
