<script setup lang="ts">
/** One construction given to many elements, there only assumed: those alike that have none are ticked. */
import { computed, ref } from 'vue'
import { api, sentence, take, type Schemas } from '@/api/client'
import { useProject } from '@/shared/project'

type Made = Schemas['MadeElement']
const props = defineProps<{ projectId: number; from: Made; elements: Made[] }>()
const emit = defineEmits<{ done: [given: { given: number; entry: number }]; close: [] }>()
const project = useProject()
const open = ref(true)
const complaint = ref('')
const busy = ref(false)
const others = computed(() =>
  props.elements
    .filter((e) => e.element_id !== props.from.element_id)
    .sort(
      (a, b) =>
        Number(b.alike === props.from.alike) - Number(a.alike === props.from.alike) ||
        Number(a.stated) - Number(b.stated) ||
        Number(b.kind === props.from.kind) - Number(a.kind === props.from.kind),
    ),
)
const chosen = ref<number[]>(
  props.elements
    .filter((e) => !e.stated && e.element_id !== props.from.element_id && e.alike === props.from.alike)
    .map((e) => e.element_id),
)
const replaced = computed(() => others.value.filter((e) => e.stated && chosen.value.includes(e.element_id)))

async function give(): Promise<void> {
  busy.value = true
  try {
    const given = await take(
      api.POST('/api/projects/{project_id}/constructions', {
        params: { path: { project_id: props.projectId } },
        body: { from_element: props.from.element_id, to_elements: chosen.value },
      }),
    )
    await project.open(props.projectId)
    emit('done', given)
  } catch (error) {
    complaint.value = sentence(error)
  }
  busy.value = false
}
</script>

<template>
  <ElDialog v-model="open" :title="`The construction of ${from.name}, given to`" width="560" @closed="emit('close')">
    <ElSelect
      v-model="chosen"
      multiple
      filterable
      aria-label="Elements that get this construction"
      placeholder="elements built alike"
      style="width: 100%"
    >
      <ElOption
        v-for="e in others"
        :key="e.element_id"
        :value="e.element_id"
        :label="e.stated ? `${e.name} (has one)` : e.name"
      />
    </ElSelect>
    <p class="soft">
      Its layers are assumed there until somebody looks; photos stay where they were taken. Ticked are those of the same
      part and storey without a construction. An element with options drawn on its own layers is refused.
    </p>
    <p v-if="replaced.length">Replaces what is stated of {{ replaced.map((e) => e.name).join(', ') }}.</p>
    <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
    <template #footer>
      <ElButton @click="open = false">Cancel</ElButton>
      <ElButton type="primary" :disabled="!chosen.length || busy" @click="give">
        Give it to {{ chosen.length }} {{ chosen.length === 1 ? 'element' : 'elements' }}
      </ElButton>
    </template>
  </ElDialog>
</template>
