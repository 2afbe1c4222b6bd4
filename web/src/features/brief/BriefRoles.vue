<script setup lang="ts">
/** Who answers for what. */
import type { Schemas } from '@/api/client'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'

type Brief = Schemas['Brief']
const roles = defineModel<Brief['roles']>({ required: true })
const ROLES = [
  'client',
  'consultant',
  'structural engineer',
  'heating designer',
  'heritage officer',
  'builder',
] as const
const ROLE_COLUMNS: Column<Brief['roles'][number]>[] = [
  { name: 'role', mark: 'kind' },
  { name: 'name' },
  { name: 'answers', mark: 'grow' },
  { name: 'act' },
]
</script>

<template>
  <RuledTable class="roles" headless :rows="roles" :columns="ROLE_COLUMNS">
    <template #role="{ row: entry, index }">
      <ElSelect v-model="entry.role" :aria-label="`Role ${index + 1}`">
        <ElOption v-for="r in ROLES" :key="r" :value="r" :label="r" />
      </ElSelect>
    </template>
    <template #name="{ row: entry, index }">
      <ElInput
        v-model="entry.name"
        maxlength="120"
        :aria-label="`Role ${index + 1}, name`"
        placeholder="name, if known"
      />
    </template>
    <template #answers="{ row: entry, index }">
      <ElInput
        v-model="entry.answers_for"
        maxlength="400"
        :aria-label="`Role ${index + 1}, answers for`"
        placeholder="answers for"
      />
    </template>
    <template #act="{ index }">
      <ElButton link :aria-label="`Remove role ${index + 1}`" @click="roles.splice(index, 1)"> remove </ElButton>
    </template>
  </RuledTable>
</template>

<style scoped>
.el-table .el-select {
  min-width: 158px;
}
.el-table :deep(.grow) {
  width: 50%;
}
</style>
