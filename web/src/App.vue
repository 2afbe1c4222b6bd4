<script setup lang="ts">
import { RouterView } from 'vue-router'

/** An empty word and “nothing” are answers that a select shows by their own words. */
const NO_ANSWER = [undefined]
</script>

<template>
  <ElConfigProvider :empty-values="NO_ANSWER">
    <RouterView />
  </ElConfigProvider>
</template>
