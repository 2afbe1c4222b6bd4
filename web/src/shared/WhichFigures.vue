<script setup lang="ts">
/** Which peak and which yearly figure is which: those of every sheet of heat beside each other, asked for when it is opened. */
import { computed, ref } from 'vue'
import { api, take, type Schemas } from '@/api/client'
import { useAnswer } from '@/shared/query'
import { bare, said, show } from '@/shared/units'

type Figure = Schemas['WhichFigure']
const props = defineProps<{ projectId: number; here: Figure['sheet'] | 'schemes' }>()
const opened = ref<string[]>([])
const { data, complaint } = useAnswer(
  () => ['which-figures', props.projectId],
  () =>
    take(api.GET('/api/projects/{project_id}/which-figures', { params: { path: { project_id: props.projectId } } })),
  { when: () => opened.value.length > 0 },
)
const KINDS: [Figure['kind'], string][] = [
  ['peak', 'Most at once'],
  ['year', 'In a year'],
]
const groups = computed(() =>
  KINDS.map(([kind, head]) => ({ head, rows: (data.value ?? []).filter((one) => one.kind === kind) })),
)
/** Schemes shows those of Loss. */
const mine = computed(() => (props.here === 'schemes' ? 'heat' : props.here))
function figures(one: Figure): string {
  if (one.before === null || one.after === null) return 'not known yet'
  const [quantity, digits] = one.kind === 'peak' ? (['power', 1] as const) : (['energy', undefined] as const)
  return `${bare(one.before, quantity, digits)} → ${show(one.after, quantity, digits)}`
}
</script>

<template>
  <ElCollapse v-model="opened" class="which" data-which-figures>
    <ElCollapseItem title="Which figure is which" name="which">
      <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
      <p v-else-if="!data && opened.length" class="soft">Reckoning every sheet …</p>
      <template v-for="group in groups" v-else :key="group.head">
        <h4>{{ group.head }}</h4>
        <p v-for="one in group.rows" :key="one.name">
          <b :class="{ mine: one.sheet === mine }">{{ one.name }}</b> {{ figures(one)
          }}<template v-if="one.sizes"><b>, to size by</b></template
          >. <span class="soft">{{ said(one.why) }}</span>
        </p>
      </template>
    </ElCollapseItem>
  </ElCollapse>
</template>

<style scoped>
.which {
  margin: 10px 0;
  --el-collapse-header-bg-color: transparent;
  --el-collapse-content-bg-color: transparent;
  --el-collapse-border-color: var(--rule);
}
h4 {
  margin: 6px 0 2px;
}
.which p {
  margin: 0 0 6px;
}
.mine {
  border-bottom: 2px solid var(--heat);
}
</style>
