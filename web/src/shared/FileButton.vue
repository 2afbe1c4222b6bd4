<script setup lang="ts">
/** A button that takes a file, or a photo from the camera of a tablet; what it is for is the page's to do. */
import { onMounted, ref } from 'vue'
import type { UploadFile, UploadInstance } from 'element-plus'

const props = defineProps<{ words: string; accept: string; camera?: boolean; multiple?: boolean }>()
const emit = defineEmits<{ file: [file: File] }>()
const upload = ref<UploadInstance>()
onMounted(() => {
  const input = (upload.value?.$el as HTMLElement).querySelector('input')
  input?.setAttribute('aria-label', props.words)
  if (props.camera) input?.setAttribute('capture', 'environment')
})
function take(chosen: UploadFile): void {
  if (chosen.raw) emit('file', chosen.raw)
  upload.value?.clearFiles()
}
</script>

<template>
  <ElUpload
    ref="upload"
    class="filebutton"
    :show-file-list="false"
    :auto-upload="false"
    :accept="accept"
    :multiple="multiple"
    @change="take"
  >
    <span class="el-button">{{ words }}</span>
  </ElUpload>
</template>
