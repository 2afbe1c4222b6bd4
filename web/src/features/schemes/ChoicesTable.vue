<script setup lang="ts">
/** What the shown scheme does to each element: in which phase, and what stands until then, with the years of both. */
import { RouterLink } from 'vue-router'
import RuledTable from '@/shared/RuledTable.vue'
import type { Column } from '@/shared/table'
import { said } from '@/shared/units'
import type { Choice, Scheme } from './useSchemes'

const props = defineProps<{ projectId: number; scheme: Scheme; rows: Choice[]; busy: boolean }>()
const emit = defineEmits<{
  putIn: [element: number, phase: number | null]
  between: [element: number, option: number | null, phase: number | null]
  run: [choice: Choice]
}>()
const columns: Column<Choice>[] = [
  { name: 'element', head: 'Element' },
  { name: 'option', head: 'Option', text: (c) => c.option },
  { name: 'reason', head: 'Why', text: (c) => `${c.reason}${c.by ? ` (${c.by})` : ''}` },
  { name: 'phase', head: 'Phase' },
  { name: 'between', head: 'Until then' },
]
const place = (id: number | null): number =>
  Math.max(
    props.scheme.phases.findIndex((p) => p.id === id),
    0,
  )
/** How long it stands, and how much of that is computed where it is less. */
function years(c: Choice): string {
  const all = c.years_between === 1 ? 'One year' : `${c.years_between} years`
  return c.years_run === c.years_between ? all : `${all}, of which ${c.years_run} are run`
}
/** The phases before the choice is built. */
const earlier = (c: Choice) => props.scheme.phases.slice(0, place(c.phase_id))
const WORDS: Record<string, string> = {
  'not before it': 'It would not stand before the choice is built.',
  'years not stated': 'State how many years lie between the phases.',
  'not run': '',
  running: 'its years are being computed',
  'out of date': 'out of date: something changed since',
  failed: 'its years failed; see Tests',
}
</script>

<template>
  <RuledTable :rows="rows" :columns="columns" label="Choices of the shown scheme">
    <template #element="{ row: c }">
      <RouterLink :to="{ name: 'compare', params: { project: projectId, element: c.element_id } }">{{
        c.element
      }}</RouterLink>
    </template>
    <template #phase="{ row: c }">
      <ElSelect
        v-if="scheme.phases.length"
        class="pick"
        :model-value="c.phase_id ?? 0"
        size="small"
        :aria-label="`Phase of ${c.element}`"
        @change="(id: number) => emit('putIn', c.element_id, id || null)"
      >
        <ElOption :value="0" :label="`${scheme.phases[0]!.name} (not put)`" />
        <ElOption v-for="p in scheme.phases" :key="p.id!" :value="p.id!" :label="p.name" />
      </ElSelect>
      <span v-else class="soft none">no phases</span>
    </template>
    <template #between="{ row: c }">
      <span v-if="!place(c.phase_id) && !c.between_id" class="soft none">–</span>
      <template v-else>
        <ElSelect
          class="pick"
          :model-value="c.between_id ?? 0"
          size="small"
          :aria-label="`Until then on ${c.element}`"
          @change="
            (id: number) => emit('between', c.element_id, id || null, id ? (earlier(c).at(-1)?.id ?? null) : null)
          "
        >
          <ElOption :value="0" label="as found" />
          <ElOption v-for="o in c.others" :key="o.id" :value="o.id" :label="o.name" />
        </ElSelect>
        <ElSelect
          v-if="c.between_id && earlier(c).length > 1"
          class="pick"
          :model-value="c.between_phase_id ?? 0"
          size="small"
          :aria-label="`From which phase on, ${c.element}`"
          @change="(id: number) => emit('between', c.element_id, c.between_id, id)"
        >
          <ElOption v-for="p in earlier(c)" :key="p.id!" :value="p.id!" :label="`from ${p.name}`" />
        </ElSelect>
        <div v-if="c.between_id" class="words">
          <div v-if="c.years_between" class="soft">
            {{ years(c) }}
          </div>
          <div v-for="words in c.between_words" :key="words.metric">{{ said(words) }}</div>
          <div v-if="WORDS[c.between_state]" class="soft">{{ WORDS[c.between_state] }}</div>
          <ElButton
            v-if="['not run', 'out of date', 'failed'].includes(c.between_state)"
            link
            :disabled="busy"
            @click="emit('run', c)"
            >Run these years</ElButton
          >
          <RouterLink
            v-else-if="c.between_state === 'current'"
            :to="{
              name: 'tests',
              params: { project: projectId, element: c.element_id, view: 'in-between' },
              query: { option: c.option_id },
            }"
            >Its months</RouterLink
          >
        </div>
      </template>
    </template>
  </RuledTable>
</template>

<style scoped>
.ruled .pick {
  width: 150px;
  min-width: 150px;
  margin-bottom: 3px;
}
.none {
  white-space: nowrap;
}
.words {
  max-width: 300px;
}
</style>
