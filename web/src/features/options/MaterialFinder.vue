<script setup lang="ts">
/** Find a material by name or group; what matters of it stands beside the name. */
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import DataSheetDrawer from '@/shared/DataSheetDrawer.vue'
import PickDialog from '@/shared/PickDialog.vue'
import { useProject, type Material } from '@/shared/project'
import { show } from '@/shared/units'

const props = defineProps<{ title: string; kits?: boolean }>()
const emit = defineEmits<{ pick: [material: Material]; kit: [layer: Schemas['BuildUpLayer']] }>()
const open = defineModel<boolean>({ required: true })
const project = useProject()
const entering = ref(false)
const looked = ref('')
/** What is offered: generic materials, and the newest edition of mine that are on the list. */
const offered = computed(() =>
  [...project.materials.values()].filter((m) => !m.own || (m.own.newest === m.id && !m.own.retired)),
)
interface Item {
  key: string
  also: string
  label: string
  note: string
  material?: Material
  layer?: Schemas['BuildUpLayer']
}
/** Battens, studs and rafters with what lies between them, after the materials. */
const ready = computed<Item[]>(() =>
  (props.kits ? (project.library?.kits ?? []) : []).map((kit) => ({
    key: kit.key,
    also: 'members framing battens studs',
    label: kit.name,
    note: `${Math.round((kit.layer.framing?.share ?? 0) * 1000) / 10} % of the face`,
    layer: kit.layer,
  })),
)
const items = computed<Item[]>(() => [
  ...offered.value.map((material) => ({
    key: material.id,
    also: `${material.group} ${material.family}${material.own ? ' own' : ''}`,
    label: material.name,
    note: facts(material),
    material,
  })),
  ...ready.value,
])
function take(item: Item): void {
  if (item.material) emit('pick', item.material)
  else if (item.layer) emit('kit', item.layer)
}
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
    @pick="take"
  >
    <template #more="{ text }">
      <ElButton link @click="enter(text)">Not there? Enter it from its data sheet</ElButton>
    </template>
  </PickDialog>
  <DataSheetDrawer v-model="entering" :name="looked" @kept="(material) => emit('pick', material)" />
</template>
