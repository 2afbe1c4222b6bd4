<script setup lang="ts">
/** Find a material by name or group; what matters of it stands beside the name. */
import { computed } from 'vue'
import PickDialog from '@/shared/PickDialog.vue'
import { useProject, type Material } from '@/shared/project'
import { show } from '@/shared/units'

defineProps<{ title: string }>()
const emit = defineEmits<{ pick: [material: Material] }>()
const open = defineModel<boolean>({ required: true })
const project = useProject()
const items = computed(() =>
  [...project.materials.values()].map((material) => ({
    key: material.id,
    also: material.group,
    label: material.name,
    note: facts(material),
    material,
  })),
)
function facts(m: Material): string {
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
  />
</template>
