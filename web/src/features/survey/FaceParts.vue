<script setup lang="ts">
/** A face made in parts: their names and shares, which stay one whole. */
import type { Schemas } from '@/api/client'
import QuantityInput from '@/shared/QuantityInput.vue'
import TextField from '@/shared/TextField.vue'

const parts = defineModel<Schemas['Shape']['parts'][number]>({ required: true })
const emit = defineEmits<{ together: [] }>()
function share(index: number, percent: number | null): void {
  const all = parts.value.parts
  if (percent === null) return
  const last = index === all.length - 1 ? 0 : all.length - 1
  all[index]!.share = Math.round(percent * 10) / 1000
  const rest = 1 - all.reduce((sum, p, i) => (i === last ? sum : sum + p.share), 0)
  all[last]!.share = Math.round(rest * 1000) / 1000
}
</script>

<template>
  <div class="parts">
    <p class="soft">This face is made in parts; each is an element of its own, drawn in this order from below.</p>
    <div v-for="(p, i) in parts.parts" :key="p.id" class="part">
      <TextField label="Part" v-model.lazy="p.name" maxlength="80" />
      <QuantityInput
        :model-value="p.share * 100"
        label="Share, %"
        quantity="plain"
        :digits="0"
        :least="1"
        :most="99"
        @update:model-value="(v) => share(i, v)"
      />
    </div>
    <ElButton link @click="emit('together')">One make again</ElButton>
  </div>
</template>

<style scoped>
.part {
  display: grid;
  grid-template-columns: 2fr 1fr;
  gap: 10px;
}
</style>
