<script setup lang="ts">
/** What may not change, or only so far, and why. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import QuantityInput from '@/shared/QuantityInput.vue'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'
import { unitOf } from '@/shared/units'

type Limit = Schemas['BriefLimit']
const limits = defineModel<Limit[]>({ required: true })
defineProps<{ bodies: Schemas['BriefOut']['bodies'] }>()
const LIMITS: [Limit['kind'], string][] = [
  ['face', 'the face may not change'],
  ['eaves', 'eaves line'],
  ['verge', 'verge'],
  ['reveal', 'reveals of windows and doors'],
  ['room', 'room sizes'],
  ['boundary', 'boundary'],
]
const FACINGS = ['', 'N', 'NE', 'E', 'SE', 'S', 'SW', 'W', 'NW'] as const
const limitColumns = computed<Column<Limit>[]>(() => [
  { name: 'what', head: 'What', mark: 'kind' },
  { name: 'part', head: 'Part', mark: 'part' },
  { name: 'facing', head: 'Facing', mark: 'facing' },
  { name: 'most', head: `May grow by, ${unitOf('thickness').unit}`, mark: 'mm' },
  { name: 'because', head: 'Because', mark: 'grow' },
  { name: 'act' },
])
</script>

<template>
  <RuledTable class="limits" :rows="limits" :columns="limitColumns">
    <template #what="{ row: limit, index }">
      <ElSelect v-model="limit.kind" :aria-label="`Limit ${index + 1}, what`">
        <ElOption v-for="[kind, words] in LIMITS" :key="kind" :value="kind" :label="words" />
      </ElSelect>
    </template>
    <template #part="{ row: limit, index }">
      <ElSelect v-model="limit.body" :aria-label="`Limit ${index + 1}, part of the building`">
        <ElOption value="" label="whole building" />
        <ElOption v-for="b in bodies" :key="b.id" :value="b.id" :label="b.name" />
      </ElSelect>
    </template>
    <template #facing="{ row: limit, index }">
      <ElSelect v-model="limit.facing" :aria-label="`Limit ${index + 1}, facing`">
        <ElOption v-for="f in FACINGS" :key="f" :value="f" :label="f || 'all'" />
      </ElSelect>
    </template>
    <template #most="{ row: limit, index }">
      <QuantityInput
        v-model="limit.most_mm"
        :label="`Limit ${index + 1}`"
        bare
        quantity="thickness"
        :least="0"
        :most="3000"
      />
    </template>
    <template #because="{ row: limit, index }">
      <ElInput v-model="limit.reason" maxlength="300" :aria-label="`Limit ${index + 1}, because`" />
    </template>
    <template #act="{ index }">
      <ElButton link :aria-label="`Remove limit ${index + 1}`" @click="limits.splice(index, 1)"> remove </ElButton>
    </template>
  </RuledTable>
</template>

<style scoped>
.el-table .el-select {
  min-width: 96px;
}
.el-table :deep(.kind) .el-select {
  min-width: 158px;
}
.el-table :deep(.facing) .el-select {
  min-width: 72px;
}
.el-table :deep(.mm > .cell) {
  min-width: 100px;
}
.el-table :deep(.grow) {
  width: 50%;
}
</style>
