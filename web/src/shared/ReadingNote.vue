<script setup lang="ts">
/** What stands on a sheet until it has been read: what that is, and lines in its place once it takes a while. */
defineProps<{ what?: string }>()
</script>

<template>
  <div>
    <p class="soft" role="status">{{ what ? `Reading ${what} …` : 'Reading …' }}</p>
    <ElSkeleton class="lines" :rows="5" :throttle="400" animated />
  </div>
</template>

<style scoped>
.lines {
  max-width: 640px;
}
</style>
