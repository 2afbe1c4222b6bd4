<script setup lang="ts">
/** What was seen at a pin: big enough for a thumb, everything but the kind optional. */
import { computed, ref } from 'vue'
import { api, sentence, take, type Schemas } from '@/api/client'
import PhotoStrip from '@/shared/PhotoStrip.vue'
import QuantityInput from '@/shared/QuantityInput.vue'
import { useProject } from '@/shared/project'
import type { EvidenceState, Pin } from './useEvidence'
import PinReadings from './PinReadings.vue'
import ChoiceBar from '@/shared/ChoiceBar.vue'
import FileButton from '@/shared/FileButton.vue'
import SelectField from '@/shared/SelectField.vue'
import DateField from '@/shared/DateField.vue'
import TextField from '@/shared/TextField.vue'

const props = defineProps<{ state: EvidenceState; projectId: number }>()
const project = useProject()
const draft = computed(() => props.state.draft.value!)
const readings = ref(Object.values(draft.value.pin.readings).some((v) => v !== null))
function set<K extends keyof Pin>(key: K, value: Pin[K]): void {
  props.state.change({ pin: { ...draft.value.pin, [key]: value } })
}
function element(value: number | ''): void {
  props.state.change({ element: value === '' ? null : value })
}
const COMES: [Pin['comes'], string][] = [
  ['not_known', 'not known'],
  ['after_rain', 'after rain'],
  ['cold_spells', 'in cold spells'],
  ['humid_heat', 'in humid heat'],
  ['after_use', 'after bath or cooking'],
  ['always', 'always'],
  ['damp_weather', 'in damp weather'],
  ['dry_weather', 'in dry weather'],
  ['clear_nights', 'on clear nights'],
  ['after_thaw', 'as it thaws'],
]
const PARTS: Pin['part'][] = [
  'face',
  'joist end',
  'sill',
  'socket or pipe',
  'partition',
  'post or plate',
  'lap or seam',
  'tie or tray',
]
const SALTS: [Pin['salt_source'], string][] = [
  ['none', 'none known'],
  ['flue', 'a flue'],
  ['byre', 'a byre or stable'],
  ['ground', 'the ground'],
  ['gypsum', 'gypsum'],
  ['road', 'road salt'],
]
/** The layers as found, read when somebody asks for them. */
const made = ref<Schemas['MadePage'] | null>(null)
const complaint = ref('')
const layers = computed(() => made.value?.elements.find((e) => e.element_id === draft.value.element)?.layers ?? [])
async function openLayers(): Promise<void> {
  try {
    made.value = await take(
      api.GET('/api/projects/{project_id}/made', { params: { path: { project_id: props.projectId } } }),
    )
  } catch (error) {
    complaint.value = sentence(error)
  }
}
if (draft.value.pin.layer_id) void openLayers()
function height(value: number | null): void {
  if (value !== null) set('place', { ...draft.value.pin.place, y_m: value })
}
const SIDES = [
  ['outside', 'outside'],
  ['inside', 'inside'],
] as const
const EXTENTS: Pin['extent'][] = ['spot', 'patch', 'band', 'whole']
</script>

<template>
  <ElForm class="pinform" :aria-label="draft.fresh ? 'New pin' : 'Change the pin'" @submit.prevent="state.keep()">
    <fieldset class="kinds">
      <legend>What is seen</legend>
      <ChoiceBar
        label="What is seen"
        :model-value="draft.pin.kind"
        :options="(state.page.value?.kinds ?? []).map((k) => [k.id as Pin['kind'], k.name] as const)"
        @update:model-value="(kind) => kind && set('kind', kind)"
      />
    </fieldset>
    <div class="row">
      <ChoiceBar
        label="Side"
        :model-value="draft.pin.side"
        :options="SIDES"
        @update:model-value="(side) => side && set('side', side)"
      />
      <ChoiceBar
        label="Extent"
        :model-value="draft.pin.extent"
        :options="EXTENTS.map((e) => [e, e] as const)"
        @update:model-value="(extent) => extent && set('extent', extent)"
      />
    </div>
    <div class="grid">
      <SelectField label="It comes" :model-value="draft.pin.comes" @change="set('comes', $event)">
        <ElOption v-for="[c, words] in COMES" :key="c" :value="c" :label="words" />
      </SelectField>
      <SelectField label="Part of it" :model-value="draft.pin.part" @change="set('part', $event)">
        <ElOption v-for="p in PARTS" :key="p" :value="p" :label="p" />
      </SelectField>
      <SelectField
        label="Salts may come from"
        :model-value="draft.pin.salt_source"
        @change="set('salt_source', $event)"
      >
        <ElOption v-for="[s, words] in SALTS" :key="s" :value="s" :label="words" />
      </SelectField>
      <QuantityInput
        v-if="draft.pin.place.view !== 'plan'"
        :model-value="draft.pin.place.y_m"
        label="Height"
        quantity="length"
        :least="-50"
        :most="100"
        @update:model-value="height"
      />
      <SelectField label="Element" :model-value="draft.element ?? ''" name="pin-element" @change="element">
        <ElOption value="" label="none" />
        <ElOption v-for="e in project.elements" :key="e.id" :value="e.id" :label="e.name" />
      </SelectField>
      <DateField label="Seen on" :model-value="draft.pin.seen_on" @update:model-value="set('seen_on', $event)" />
      <QuantityInput
        :model-value="draft.pin.size_m2"
        label="Size"
        quantity="area"
        :least="0.01"
        :most="10000"
        optional
        @update:model-value="(v) => set('size_m2', v)"
      />
    </div>
    <TextField
      label="Note"
      type="textarea"
      :rows="2"
      maxlength="2000"
      :model-value="draft.pin.note"
      @update:model-value="set('note', $event ?? '')"
    />
    <div class="row">
      <FileButton words="Take a photo" accept="image/*" camera multiple class="photo" @file="state.photograph" />
      <ElCheckbox class="check" :model-value="draft.pin.pipes_near" @change="set('pipes_near', $event === true)"
        >pipes near</ElCheckbox
      >
      <ElCheckbox class="check" :model-value="draft.pin.wet_work" @change="set('wet_work', $event === true)"
        >wet work of late</ElCheckbox
      >
      <ElButton link :aria-expanded="readings" @click="readings = !readings">readings</ElButton>
      <ElButton link v-if="draft.element && !made" @click="openLayers">inside a layer</ElButton>
    </div>
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
    <div v-if="draft.element && made" class="grid">
      <SelectField label="In the layer" :model-value="draft.pin.layer_id" @change="set('layer_id', $event)">
        <ElOption value="" label="on the face" />
        <ElOption v-for="l in layers" :key="l.layer.id" :value="l.layer.id" :label="l.name" />
      </SelectField>
      <QuantityInput
        v-if="draft.pin.layer_id"
        :model-value="draft.pin.depth_mm"
        label="Depth in it"
        quantity="thickness"
        :least="0"
        :most="3000"
        optional
        @update:model-value="(v) => set('depth_mm', v)"
      />
    </div>
    <PhotoStrip :project-id="projectId" :photos="draft.photos" :captions="state.captions.value" />
    <PinReadings
      v-if="readings"
      class="grid"
      :readings="draft.pin.readings"
      :species="state.page.value?.species ?? []"
      @change="(now) => set('readings', now)"
    />
    <div class="actions">
      <ElButton @click="state.leave()">Leave it</ElButton>
      <ElButton type="primary" native-type="submit">{{ draft.fresh ? 'Keep the pin' : 'Keep the change' }}</ElButton>
    </div>
  </ElForm>
</template>

<style scoped>
.pinform {
  display: grid;
  gap: 9px;
  align-content: start;
}
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
}
legend {
  color: var(--soft);
  font-size: 13px;
  margin-bottom: 3px;
}
.kinds :deep(.choicebar) {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(84px, 1fr));
  gap: 4px;
  grid-column: 1 / -1;
}
.kinds :deep(.el-radio-button__inner) {
  width: 100%;
  height: 100%;
  padding: 3px 5px;
  font-size: 13px;
  text-align: left;
  white-space: normal;
  border: 1px solid var(--rule);
  border-radius: 2px;
}
/* nothing that is reached by key or finger hides behind the buttons that stay */
.pinform button,
.pinform input,
.pinform .el-select,
.pinform textarea {
  scroll-margin-bottom: 76px;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: center;
}
.grid {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 12px;
  align-items: end;
}
.check {
  display: flex;
  gap: 6px;
  align-items: center;
}
.actions {
  display: flex;
  justify-content: flex-end;
  gap: 8px;
  padding: 8px 0;
}
@media (max-width: 900px), (pointer: coarse) {
  .kinds :deep(.choicebar) {
    grid-template-columns: repeat(4, 1fr);
  }
  .kinds :deep(.el-radio-button__inner),
  .el-button,
  .check {
    min-height: 46px;
    padding: 8px 12px;
  }
  .grid {
    grid-template-columns: repeat(4, 1fr);
  }
  .photo {
    display: flex;
    align-items: center;
  }
  .actions {
    position: sticky;
    bottom: 0;
    background: var(--sheet);
  }
  .actions .el-button {
    flex: 1;
    font-size: 17px;
  }
}
</style>
