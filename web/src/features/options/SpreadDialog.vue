<script setup lang="ts">
/** The same option on other elements: pick them, and read what became of each. */
import { computed, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { api, take, type Schemas } from '@/api/client'
import { useProject } from '@/shared/project'
import { useAct } from '@/shared/query'
import { said, show } from '@/shared/units'

const props = defineProps<{ optionId: number; elementId: number; name: string; kind: string; projectId: number }>()
const open = defineModel<boolean>({ required: true })
const project = useProject()
const picked = ref<number[]>([])
const made = ref<Schemas['SpreadOut'][] | null>(null)
const { complaint, busy, act } = useAct()
const others = computed(() => project.layered.filter((e) => e.id !== props.elementId && e.kind === props.kind))
watch(open, (now) => {
  if (!now) return
  picked.value = []
  made.value = null
  complaint.value = ''
})
const spread = (): Promise<boolean> =>
  act(async () => {
    made.value = await take(
      api.POST('/api/options/{option_id}/spread', {
        params: { path: { option_id: props.optionId } },
        body: { elements: picked.value },
      }),
    )
  })
</script>

<template>
  <ElDialog v-model="open" :title="`“${name}” on other elements`" width="560">
    <template v-if="!made">
      <p class="soft">
        Each gets it on its own construction: one for one where it is made alike, else what is new around what was found
        there. Limits and verdict are its own.
      </p>
      <ElCheckboxGroup v-model="picked" class="others">
        <ElCheckbox v-for="e in others" :key="e.id" :value="e.id" :label="e.name" />
      </ElCheckboxGroup>
      <p v-if="!others.length" class="soft">There is no other {{ kind }} in this project.</p>
      <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
      <div class="actions">
        <ElButton v-if="others.length > 1" link @click="picked = others.map((e) => e.id)">all</ElButton>
        <ElButton @click="open = false">Leave it</ElButton>
        <ElButton type="primary" :disabled="!picked.length || busy" @click="spread">Put it there</ElButton>
      </div>
    </template>
    <template v-else>
      <p v-for="one in made" :key="one.element_id">
        <RouterLink :to="{ name: 'options', params: { project: projectId, element: one.element_id } }">{{
          one.name
        }}</RouterLink>:
        <template v-if="one.refused">not put there: {{ one.refused }}.</template>
        <template v-else>
          {{ one.u_w_m2k === null ? 'U refused' : `U ${show(one.u_w_m2k, 'transmittance')}` }}
          <span v-for="o in one.over_limits" :key="o.metric" class="over">{{ said(o) }}</span>
        </template>
      </p>
      <div class="actions"><ElButton type="primary" @click="open = false">Good</ElButton></div>
    </template>
  </ElDialog>
</template>

<style scoped>
.others {
  display: grid;
  max-height: 320px;
  overflow: auto;
}
.actions {
  display: flex;
  justify-content: flex-end;
  gap: 8px;
  margin-top: 10px;
}
</style>
