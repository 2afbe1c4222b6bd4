<script setup lang="ts">
/** Find a material by name or group; what matters of it stands beside the name. */
import { computed, ref } from 'vue'
import DataSheetDrawer from '@/shared/DataSheetDrawer.vue'
import PickDialog from '@/shared/PickDialog.vue'
import { useProject, type Material } from '@/shared/project'
import { show } from '@/shared/units'

defineProps<{ title: string }>()
const emit = defineEmits<{ pick: [material: Material] }>()
const open = defineModel<boolean>({ required: true })
const project = useProject()
const entering = ref(false)
const looked = ref('')
/** What is offered: generic materials, and the newest edition of mine that are on the list. */
const offered = computed(() =>
  [...project.materials.values()].filter((m) => !m.own || (m.own.newest === m.id && !m.own.retired)),
)
const items = computed(() =>
  offered.value.map((material) => ({
    key: material.id,
    also: `${material.group} ${material.family}${material.own ? ' own' : ''}`,
    label: material.name,
    note: facts(material),
    material,
  })),
)
function enter(words: string): void {
  open.value = false
  looked.value = words
  entering.value = true
}
function facts(m: Material): string {
  const own = m.own ? 'own, ' : ''
  return own + values(m)
}
function values(m: Material): string {
  if (m.kind === 'air') return 'air'
  if (m.kind !== 'solid') return m.sd_m ? `sd ${show(m.sd_m, 'sd')}` : 'sd follows RH'
  return `λ ${show(m.conductivity_w_mk, 'conductivity')}, μ ${m.mu}${m.capillary_active ? ', capillary-active' : ''}`
}
</script>

<template>
  <PickDialog
    v-model="open"
    :title="title"
    hint="wood fibre, membrane, lime …"
    :items="items"
    nothing="The library has no such material."
    @pick="(item) => emit('pick', item.material)"
  >
    <template #more="{ text }">
      <ElButton link @click="enter(text)">Not there? Enter it from its data sheet</ElButton>
    </template>
  </PickDialog>
  <DataSheetDrawer v-model="entering" :name="looked" @kept="(material) => emit('pick', material)" />
</template>
