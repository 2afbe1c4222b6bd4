<script setup lang="ts">
/** Edit and remove of one reading in its table; what else can be done with it stands before them. */
defineProps<{ place: string }>()
const emit = defineEmits<{ edit: []; remove: [] }>()
</script>

<template>
  <slot />
  <ElButton link :aria-label="`Edit the reading at ${place}`" @click="emit('edit')">edit</ElButton>
  <ElButton link :aria-label="`Remove the reading at ${place}`" @click="emit('remove')"> remove </ElButton>
</template>
