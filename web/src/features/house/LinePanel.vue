<script setup lang="ts">
/** Where the heated line runs: as found dashed, after the works drawn through; each space beside the rooms is taken in or left out. */
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { api, take } from '@/api/client'
import type { House } from '@/shared/house'
import { useAct } from '@/shared/query'

const props = defineProps<{ house: House; projectId: number }>()
const emit = defineEmits<{ moved: [] }>()
const line = computed(() => props.house.line)
const { complaint, busy, act } = useAct()
type Space = House['line']['spaces'][number]
const move = (space: Space, inside: boolean): Promise<boolean> =>
  act(async () => {
    await take(
      api.POST('/api/schemes/{scheme_id}/line', {
        params: { path: { scheme_id: line.value.scheme_id } },
        body: { move: { body: space.body, space: space.space, inside } },
      }),
    )
    emit('moved')
  })
const was = (s: Space): string =>
  s.inside_before === null
    ? 'new'
    : s.inside_before === s.inside
      ? s.inside
        ? 'heated as found'
        : 'not heated as found'
      : s.inside
        ? 'taken in by the scheme'
        : 'left out by the scheme'
defineExpose({ move })
</script>

<template>
  <section class="line" aria-label="The heated line">
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
    <p v-for="words in line.lost" :key="words" class="over">Not in it: {{ words }}.</p>
    <ul>
      <li v-for="s in line.spaces" :key="`${s.body}/${s.space}`" data-space>
        <ElSwitch
          :model-value="s.inside"
          :disabled="busy || !!s.why_not"
          :aria-label="`${s.name}, in the heated line`"
          @change="(v: unknown) => move(s, v === true)"
        />
        <b>{{ s.name }}</b> <span class="soft">{{ s.why_not || was(s) }}</span>
      </li>
    </ul>
    <p class="soft">
      In the scheme “{{ line.scheme }}”. What is new (an extension, rooflights, windows closed) is drawn in
      <RouterLink
        :to="{ name: 'survey', params: { project: projectId, view: 'shape' }, query: { scheme: line.scheme_id } }"
        >its shape</RouterLink
      >; areas, volume and what each element borders on follow in Heat.
    </p>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 6px 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(330px, 1fr));
  gap: 4px 18px;
}
li > * {
  margin-right: 8px;
}
</style>
