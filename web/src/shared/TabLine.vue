<script setup lang="ts">
/** The views of one thing, side by side. */
import { RouterLink, type RouteLocationRaw } from 'vue-router'

defineProps<{ label: string; tabs: readonly { name: string; words: string; to: RouteLocationRaw }[]; here: string }>()
</script>

<template>
  <nav :aria-label="label">
    <RouterLink v-for="t in tabs" :key="t.name" :to="t.to" :aria-current="t.name === here ? 'page' : undefined">{{
      t.words
    }}</RouterLink>
  </nav>
</template>

<style scoped>
nav {
  margin-left: auto;
  display: flex;
  border: 1px solid var(--ink);
}
nav a {
  padding: 3px 12px;
  text-decoration: none;
  white-space: nowrap;
}
nav a + a {
  border-left: 1px solid var(--ink);
}
nav a[aria-current] {
  background: var(--ink);
  color: var(--sheet);
}
</style>
