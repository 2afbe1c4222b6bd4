<script setup lang="ts">
/** What a material does by RH; asked for when it is looked at. */
import { ref, watch } from 'vue'
import { api, sentence, take, type Schemas } from '@/api/client'
import CurvePicture from '@/drawing/CurvePicture.vue'

const props = defineProps<{ id: string; when: boolean }>()
const curves = ref<Schemas['Curves'] | null>(null)
const complaint = ref('')
watch(
  () => props.when,
  async (now) => {
    if (!now || curves.value) return
    try {
      curves.value = await take(
        api.GET('/api/library/curves/{material_key}', { params: { path: { material_key: props.id } } }),
      )
    } catch (error) {
      complaint.value = sentence(error)
    }
  },
  { immediate: true },
)
</script>

<template>
  <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
  <div v-if="curves" class="curves">
    <CurvePicture v-for="c in curves.curves" :key="c.name" :rh="curves.rh" :curve="c" />
  </div>
</template>

<style scoped>
.curves {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(200px, 1fr));
  gap: 8px 14px;
  max-width: 920px;
}
</style>
