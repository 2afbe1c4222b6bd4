<script setup lang="ts">
/** The scheme that every view shows, in the title strip: another one is shown at once, everywhere. */
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { useProject } from './project'
import { useAct } from './query'

const props = defineProps<{ projectId: number }>()
const project = useProject()
const router = useRouter()
const { complaint, act } = useAct()
const schemes = computed(() => project.page?.schemes ?? [])
const shown = computed(() => schemes.value.find((s) => s.id === project.page?.shown_scheme))
function pick(what: number | 'all'): void {
  if (what === 'all') void router.push({ name: 'schemes', params: { project: props.projectId } })
  else if (what !== project.page?.shown_scheme) void act(() => project.showScheme(what))
}
</script>

<template>
  <ElDropdown trigger="click" @command="pick">
    <ElButton link class="scheme" aria-haspopup="menu" :title="complaint || 'The scheme that every view shows'">
      <span class="soft">scheme</span>&nbsp;{{ shown?.name ?? 'Proposal' }}
    </ElButton>
    <template #dropdown>
      <ElDropdownMenu>
        <ElDropdownItem v-for="s in schemes" :key="s.id" :command="s.id">
          {{ s.name }}<template v-if="s.id === shown?.id">, shown</template>
        </ElDropdownItem>
        <ElDropdownItem command="all" divided>Schemes and phases</ElDropdownItem>
      </ElDropdownMenu>
    </template>
  </ElDropdown>
</template>
