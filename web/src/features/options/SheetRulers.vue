<script setup lang="ts">
/** Names of the lines through all strips: the datum and the limits on both sides, none lying on another. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { inRows, INSIDE, OUTSIDE, type Scale } from '@/drawing/scale'
import { show } from '@/shared/units'

const props = defineProps<{
  scale: Scale
  /** at the left and the right of the drawing */
  ends: [string, string]
  datum: string
  limits: Schemas['Sheet']['limits'] | undefined
}>()
/** The name of the limit that is the tightest on its side, where it has one. */
const named = (most: number | null | undefined, kinds: readonly string[]): string | undefined =>
  props.limits?.named?.find((one) => one.most === most && kinds.includes(one.kind))?.kind
const labels = computed(() => {
  const all: { text: string; x: number }[] = []
  const { outsideLimit, roomLimit, datum } = props.scale
  if (outsideLimit !== null)
    all.push({
      text:
        props.limits?.outside_mm === 0
          ? 'protected face'
          : `${named(props.limits?.outside_mm, OUTSIDE) ?? 'outside limit'} ${show(props.limits?.outside_mm, 'thickness')}`,
      x: outsideLimit,
    })
  all.push({ text: props.datum, x: datum })
  if (roomLimit !== null)
    all.push({
      text: `${named(props.limits?.room_mm, INSIDE) ?? 'room limit'} ${show(props.limits?.room_mm, 'thickness')}`,
      x: roomLimit,
    })
  all.push(...props.scale.marks)
  return inRows(all)
})
</script>

<template>
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
</template>

<style scoped>
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
</style>
