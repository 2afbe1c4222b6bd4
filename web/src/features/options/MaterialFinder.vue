<script setup lang="ts">
/** Find a material by name or group; what matters of it stands beside the name. */
import { computed, nextTick, ref, watch } from 'vue'
import { useProject, type Material } from '@/shared/project'
import { show } from '@/shared/units'

defineProps<{ title: string }>()
const emit = defineEmits<{ pick: [material: Material] }>()
const open = defineModel<boolean>({ required: true })
const project = useProject()
const text = ref('')
const at = ref(0)
const field = ref<HTMLInputElement>()
const hits = computed(() => {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean)
  return [...project.materials.values()].filter((m) =>
    words.every((w) => `${m.name} ${m.group}`.toLowerCase().includes(w)),
  )
})
watch(open, async (now) => {
  if (!now) return
  text.value = ''
  at.value = 0
  await nextTick()
  setTimeout(() => field.value?.focus(), 60)
})
watch(text, () => (at.value = 0))
function facts(m: Material): string {
  if (m.kind === 'air') return 'air'
  if (m.kind !== 'solid') return m.sd_m ? `sd ${show(m.sd_m, 'sd')}` : 'sd follows RH'
  return `λ ${show(m.conductivity_w_mk, 'conductivity')}, μ ${m.mu}${m.capillary_active ? ', capillary-active' : ''}`
}
function pick(m: Material | undefined): void {
  if (!m) return
  open.value = false
  emit('pick', m)
}
</script>

<template>
  <ElDialog v-model="open" :title="title" width="560" align-center>
    <input
      ref="field"
      v-model="text"
      class="query"
      aria-label="Find a material"
      placeholder="wood fibre, membrane, lime …"
      @keydown.down.prevent="at = Math.min(at + 1, hits.length - 1)"
      @keydown.up.prevent="at = Math.max(at - 1, 0)"
      @keydown.enter.prevent="pick(hits[at])"
    />
    <ul tabindex="-1">
      <li v-for="(m, i) in hits" :key="m.id">
        <button type="button" :class="{ at: i === at }" @click="pick(m)">
          <span>{{ m.name }}</span> <span class="soft">{{ facts(m) }}</span>
        </button>
      </li>
    </ul>
    <p v-if="!hits.length" class="soft">The library has no such material.</p>
  </ElDialog>
</template>

<style scoped>
.query {
  width: 100%;
  padding: 6px 9px;
  border: 1px solid var(--ink);
  background: #fff;
}
ul {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
  max-height: 360px;
  overflow: auto;
}
li button {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  width: 100%;
  background: none;
  border: 0;
  padding: 4px 8px;
  cursor: pointer;
  text-align: left;
}
li button.at,
li button:hover {
  background: #eee8da;
}
</style>
