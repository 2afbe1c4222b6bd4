<script setup lang="ts">
/** One wall over the hours shown: its name and what its years say, the names of its layers, the picture. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { spread } from '@/drawing/chart'
import StateMark from '@/shared/StateMark.vue'
import { said } from '@/shared/units'
import FieldPicture from './FieldPicture.vue'
import type { Year } from './lines'

const props = defineProps<{
  year: Year
  /** of the run, as the sheet says now */
  live: Schemas['RunState']['state'] | undefined
  span: [number, number]
  /** px of the whole span, of the height, and of what stands left of the picture */
  plot: number
  height: number
  left: number
  watched: string
}>()
const to = computed(() => Math.min(props.span[1], props.year.hours))
const width = computed(() => Math.round((props.plot * (to.value - props.span[0])) / (props.span[1] - props.span[0])))
/** Names of layers beside the picture, pushed apart. */
const names = computed(() =>
  spread(
    props.year.edges.map((edge) => ({
      text: edge.name,
      y: ((edge.from_mm + edge.to_mm) / 2 / props.year.depth_mm) * props.height,
      thin: edge.membrane,
    })),
    13,
    props.height - 4,
  ),
)
const headline = computed(() => {
  const verdict = props.year.state.verdict
  if (props.live !== 'current' || !verdict) return { state: '', words: props.live ?? '' }
  return props.year.role === 'as_found'
    ? { state: '', words: said(verdict.as_found_words) }
    : { state: verdict.state, words: said(verdict.headline) }
})
</script>

<template>
  <div>
    <div class="title" :style="{ paddingLeft: `${left}px` }">
      <b>{{ year.role === 'as_found' ? 'As found' : year.option_name }}</b>
      <StateMark v-bind="headline" />
    </div>
    <div class="row">
      <div class="names" :style="{ width: `${left - 8}px`, height: `${height}px` }">
        <span v-for="n in names" :key="n.text + n.y" :style="{ top: `${n.y - 8}px` }" :title="n.text">{{
          n.text
        }}</span>
      </div>
      <FieldPicture :year="year" :from="span[0]" :to="to" :width="width" :height="height" :watched="watched" />
    </div>
  </div>
</template>

<style scoped>
.title {
  display: flex;
  justify-content: space-between;
  padding: 5px 12px 2px 0;
}
.row {
  display: flex;
}
.names {
  position: relative;
  margin-right: 8px;
  flex: none;
}
.names span {
  position: absolute;
  right: 0;
  max-width: 100%;
  font-size: 11px;
  line-height: 14px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  color: var(--soft);
}
</style>
