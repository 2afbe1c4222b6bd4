<script setup lang="ts">
/** The selected layer: its thickness as it is typed, material, how it is known, framing, and its place. */
import type { InputInstance } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useProject } from '@/shared/project'
import { bare, show, unitOf } from '@/shared/units'
import LayerMore from './LayerMore.vue'
import SwapDialog from './SwapDialog.vue'
import type { SheetState } from './useSheet'
import { giveKeysBack } from '@/shared/keys'

const props = defineProps<{ state: SheetState }>()
const emit = defineEmits<{ find: [mode: 'insert' | 'swap'] }>()
const project = useProject()
const field = ref<InputInstance>()
const layer = computed(() => props.state.selected.value)
const material = computed(() => (layer.value ? project.materials.get(layer.value.material) : undefined))
const thick = computed(() => layer.value?.thickness_mm !== null && layer.value?.thickness_mm !== undefined)
const shown = computed(
  () =>
    props.state.typed.value ??
    (layer.value?.thickness_mm
      ? bare(
          layer.value.thickness_mm,
          'thickness',
          unitOf('thickness').unit === 'mm' && layer.value.thickness_mm % 1 ? 1 : undefined,
        )
      : ''),
)
const frames = computed(() =>
  [...project.materials.values()].filter(
    (m) => ['timber', 'masonry'].includes(m.group) || m.id === 'steel_plate' || m.own?.newest === m.id,
  ),
)
const more = ref(false)
const having = ref(false)
const share = ref('')
watch(layer, (now) => (share.value = now?.framing ? String(Math.round(now.framing.share * 1000) / 10) : ''), {
  immediate: true,
})

/** Open the field within the key press itself, so that the browser types the key into it and none is lost. */
function begin(): void {
  field.value?.input?.focus() // not by the library's focus(), which comes a tick later
  field.value?.select()
}
defineExpose({ begin })

async function leave(): Promise<void> {
  await props.state.commitTyped()
}
/** Enter gives the keys back to the drawing at once; what was not understood takes them again. */
async function enter(): Promise<void> {
  const kept = props.state.commitTyped()
  field.value?.blur()
  if (!(await kept)) begin()
}
/** What was chosen is done, and the keys go back to the drawing. */
function set(value: string, act: (value: string) => unknown): void {
  void act(value)
  giveKeysBack()
}
async function drop(): Promise<void> {
  await props.state.dropTyped()
  field.value?.blur()
}
function frame(materialId: string): void {
  const percent = Number(share.value.replace(',', '.')) || 15
  void props.state.change({
    framing: materialId
      ? materialId === 'steel_plate'
        ? { material: materialId, share: 0.001, spacing_mm: 600, flange_mm: 50, web_mm: 0.6, plates: 0 }
        : { material: materialId, share: Math.min(Math.max(percent, 0.1), 99) / 100, plates: 0 }
      : null,
  })
}
function setShare(): void {
  const percent = Number(share.value.replace(',', '.'))
  if (layer.value?.framing && percent > 0 && percent < 100)
    void props.state.change({ framing: { ...layer.value.framing, share: percent / 100 } })
}
</script>

<template>
  <div v-if="layer" class="bar" role="group" :aria-label="`Layer ${material?.name}`">
    <ElButton link class="name" title="Swap the material" @click="emit('find', 'swap')">
      {{ material?.name }}
    </ElButton>
    <label v-if="thick" class="thick">
      <span class="hidden">Thickness</span>
      <ElInput
        ref="field"
        class="thickness"
        data-field="thickness"
        :model-value="shown"
        :aria-invalid="!!state.work.value?.complaint"
        autocomplete="off"
        @update:model-value="state.type"
        @change="leave"
        @keydown.enter.prevent="enter"
        @keydown.esc.stop.prevent="drop"
      />
      {{ unitOf('thickness').unit }}
    </label>
    <span v-else class="soft">not to scale, sd {{ material?.sd_m ? show(material.sd_m, 'sd') : 'by RH' }}</span>
    <span
      ><span class="soft">known</span>
      <ElSelect
        :model-value="layer.known"
        aria-label="known, how the layer is known"
        @change="set($event, (value) => state.change({ known: value as never }))"
      >
        <ElOption value="seen" label="seen" />
        <ElOption value="probed" label="probed" />
        <ElOption value="drawing" label="from a drawing" />
        <ElOption value="assumed" label="assumed" /> </ElSelect
    ></span>
    <span v-if="thick"
      ><span class="soft">framing</span>
      <ElSelect
        :model-value="layer.framing?.material ?? ''"
        aria-label="framing, its material"
        @change="set($event, frame)"
      >
        <ElOption value="" label="none" />
        <ElOption
          v-for="m in frames"
          :key="m.id"
          :value="m.id"
          :label="m.id === 'steel_plate' ? 'light steel stud' : m.name"
        />
      </ElSelect>
      <template v-if="layer.framing?.spacing_mm"> {{ (layer.framing.share * 100).toFixed(1) }} %</template>
      <template v-else-if="layer.framing"
        ><ElInput v-model="share" class="share" aria-label="Framing share in percent" @change="setShare" /> %</template
      >
    </span>
    <span v-if="thick"
      ><span class="soft">water at start</span>
      <ElSelect
        :model-value="layer.start_rh ?? ''"
        aria-label="water built in, RH at the start"
        @change="set($event, (value) => state.change({ start_rh: value ? Number(value) : null }))"
      >
        <ElOption value="" label="as the project" />
        <ElOption
          v-for="rh in [0.9, 0.95, 0.98, 0.99, 1]"
          :key="rh"
          :value="rh"
          :label="`wet, ${Math.round(rh * 100)} %`"
        /> </ElSelect
    ></span>
    <span class="acts">
      <ElButton link :aria-expanded="more" @click="more = !more">more</ElButton>
      <ElButton link title="A supplier’s list: what moves, before it is accepted" @click="having = true"
        >what can be had</ElButton
      >
      <ElButton link @click="emit('find', 'insert')">insert</ElButton>
      <ElButton v-if="layer.thickness_mm" link title="Two layers of half its thickness" @click="state.split()"
        >split</ElButton
      >
      <ElButton link title="Alt and left arrow" @click="state.move(-1)">outward</ElButton>
      <ElButton link title="Alt and right arrow" @click="state.move(1)">inward</ElButton>
      <ElButton link title="Delete" @click="state.remove()">remove</ElButton>
    </span>
    <LayerMore v-if="more" :state="state" />
    <SwapDialog v-model="having" :state="state" />
    <span class="hidden" aria-live="polite">{{ show(layer.thickness_mm, 'thickness') }}</span>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 12px;
  padding: 4px 8px;
  margin: 3px 0;
  background: #f0ebdd;
  border: 1px solid var(--ink);
  font-size: 13.5px;
}
.name {
  font-weight: 600;
}
.thickness {
  width: 70px;
  font-weight: 600;
}
.share {
  width: 44px;
}
.bar .el-select {
  width: 130px;
  margin-left: 5px;
}
.acts {
  margin-left: auto;
}
</style>
