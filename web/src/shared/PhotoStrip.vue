<script setup lang="ts">
/** Photos as small pictures with their captions; a click shows one large. Those not sent yet come from the outbox. */
import { computed, ref } from 'vue'
import { localPhotos } from './outbox'

const props = defineProps<{ projectId: number; photos: string[]; captions?: Record<string, string> }>()
const large = ref<string | null>(null)
function source(uid: string, small: boolean): string {
  return localPhotos.get(uid) ?? `/api/projects/${props.projectId}/photos/${uid}${small ? '?small=true' : ''}`
}
const caption = computed(() => (uid: string) => props.captions?.[uid] || 'photo')
</script>

<template>
  <div v-if="photos.length" class="photos">
    <ElButton v-for="uid in photos" :key="uid" text class="photo" @click="large = uid">
      <img :src="source(uid, true)" :alt="caption(uid)" loading="lazy" />
    </ElButton>
    <ElDialog
      :model-value="large !== null"
      :title="large ? caption(large) : ''"
      width="min(92vw, 1100px)"
      align-center
      @close="large = null"
    >
      <img v-if="large" class="large" :src="source(large, false)" :alt="caption(large)" />
    </ElDialog>
  </div>
</template>

<style scoped>
.photos {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin: 6px 0;
}
.photos .photo {
  border: 1px solid var(--rule);
  padding: 0;
  cursor: zoom-in;
}
.photos img {
  display: block;
  height: 66px;
  max-width: 110px;
  object-fit: cover;
}
.photos .large {
  width: 100%;
  height: auto;
  max-width: none;
}
</style>
