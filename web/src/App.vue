<script setup lang="ts">
import 'dayjs/locale/en-gb'
import en from 'element-plus/es/locale/lang/en'
import { RouterView } from 'vue-router'

/** Weeks begin on Monday. */
const LOCALE = { ...en, name: 'en-gb' }

/** An empty word and “nothing” are answers that a select shows by their own words. */
const NO_ANSWER = [undefined]
</script>

<template>
  <ElConfigProvider :locale="LOCALE" :empty-values="NO_ANSWER">
    <RouterView />
  </ElConfigProvider>
</template>
