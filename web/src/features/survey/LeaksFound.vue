<script setup lang="ts">
/** Where air was felt or seen to come in while the fan ran. */
import { useProject } from '@/shared/project'
import type { MeasurementBody } from './useMeasurements'

const body = defineModel<MeasurementBody>({ required: true })
const emit = defineEmits<{ change: [] }>()
const project = useProject()
</script>

<template>
  <h2>Leaks found</h2>
  <div v-for="(leak, i) in body.leaks" :key="i" class="leak">
    <ElInput v-model.lazy="leak.place" :aria-label="`Leak ${i + 1}, place`" maxlength="200" @change="emit('change')" />
    <ElSelect
      :model-value="leak.element_id ?? ''"
      @update:model-value="(now) => (leak.element_id = now === '' ? null : now)"
      :aria-label="`Leak ${i + 1}, element`"
      @change="emit('change')"
    >
      <ElOption value="" label="no element" />
      <ElOption v-for="e in project.elements" :key="e.id" :value="e.id" :label="e.name" />
    </ElSelect>
    <ElSelect v-model="leak.size" :aria-label="`Leak ${i + 1}, size`" @change="emit('change')">
      <ElOption v-for="s in ['small', 'medium', 'large']" :key="s" :value="s" :label="s" />
    </ElSelect>
    <ElButton link :aria-label="`Remove leak ${i + 1}`" @click="(body.leaks.splice(i, 1), emit('change'))">
      ×
    </ElButton>
  </div>
  <ElButton link @click="body.leaks.push({ place: 'new place', element_id: null, size: 'medium' })">
    Add a leak
  </ElButton>
</template>

<style scoped>
h2 {
  margin: 14px 0 6px;
}
.leak {
  display: grid;
  grid-template-columns: 1fr 90px 84px auto;
  gap: 4px;
  margin-bottom: 4px;
}
.leak .el-select {
  width: 100%;
  margin-left: 0;
}
.leak > * {
  min-width: 0;
}
</style>
