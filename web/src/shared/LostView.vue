<script setup lang="ts">
import { RouterLink } from 'vue-router'
import SheetPage from './SheetPage.vue'
</script>

<template>
  <SheetPage title="Not found">
    <h1>There is nothing at this address</h1>
    <p>It was moved, or it is somebody else's. <RouterLink to="/projects">Go to your projects</RouterLink>.</p>
  </SheetPage>
</template>
