<script setup lang="ts" generic="Row extends object">
/** Rows under a head that stays in sight, between thin rules. What a column says is its function, or the slot of its name.
 * Columns are as wide as their words: without a least width the library gives each 80 pixels, and a narrow window too many. */
import { computed } from 'vue'
import type { Column } from './table'

const props = defineProps<{
  rows: readonly Row[]
  columns: readonly Column<Row>[]
  /** what names a row; wanted where something can stand under it */
  keyOf?: (row: Row) => string
  /** class of a row */
  mark?: (row: Row) => string
  /** under which rows the slot `below` stands, over the whole width */
  opened?: (row: Row) => boolean
  /** what is said across all columns after the first, instead of them */
  across?: (row: Row) => string | null
  headless?: boolean
  /** the last line, from the slots `sum-…` of the columns */
  sums?: boolean
  label?: string
}>()
const emit = defineEmits<{ pick: [row: Row] }>()
type Slot = (at: { row: Row; index: number }) => unknown
const slots = defineSlots<{ [name: string]: Slot }>()
/** heads and sums have no row */
const none = {} as { row: Row; index: number }
const keys = computed(() => props.opened && props.rows.filter(props.opened).map((row) => props.keyOf!(row)))

function spans({ row, columnIndex }: { row: Row; columnIndex: number }): [number, number] {
  if (!props.across || props.across(row) === null || !columnIndex) return [1, 1]
  return columnIndex === 1 ? [1, props.columns.length - 1] : [0, 0]
}
function cellClass({ row, columnIndex }: { row: Row; columnIndex: number }): string {
  const mark = props.columns[columnIndex]?.mark
  return typeof mark === 'function' ? mark(row) : (mark ?? '')
}
</script>

<template>
  <ElTable
    class="ruled"
    table-layout="auto"
    :data="[...rows]"
    :row-key="keyOf"
    :expand-row-keys="keys"
    :row-class-name="({ row }) => mark?.(row as Row) ?? ''"
    :cell-class-name="cellClass as never"
    :span-method="spans as never"
    :show-header="!headless"
    :show-summary="sums"
    :summary-method="() => columns.map((c) => (slots[`sum-${c.name}`]?.(none) ?? '') as never)"
    :aria-label="label"
    @row-click="(row: unknown) => emit('pick', row as Row)"
  >
    <ElTableColumn
      v-for="(column, at) in columns"
      :key="column.name"
      :align="column.figure ? 'right' : 'left'"
      :class-name="column.figure ? 'figure' : ''"
      :label="column.head ?? ''"
      :min-width="1"
    >
      <template v-if="$slots[`head-${column.name}`]" #header>
        <component :is="() => slots[`head-${column.name}`]!(none)" />
      </template>
      <template #default="{ row, $index }">
        <!-- the library asks once with a row of nothing, numbered -1 -->
        <template v-if="$index < 0" />
        <span v-else-if="at === 1 && across && across(row as Row) !== null" class="soft">{{ across(row as Row) }}</span>
        <slot v-else :name="column.name" :row="row as Row" :index="$index">{{ column.text?.(row as Row) }}</slot>
      </template>
    </ElTableColumn>
    <ElTableColumn v-if="opened" type="expand" width="1" class-name="opener">
      <template #default="{ row, $index }"
        ><slot v-if="$index >= 0" name="below" :row="row as Row" :index="$index"
      /></template>
    </ElTableColumn>
  </ElTable>
</template>
