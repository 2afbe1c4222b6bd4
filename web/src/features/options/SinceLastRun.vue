<script setup lang="ts">
/** What changed since the last run of something else than what is drawn, and what that run had said. */
import { api, take } from '@/api/client'
import { useAnswer } from '@/shared/query'
import { said } from '@/shared/units'
import type { Work } from './useSheet'

const props = defineProps<{ w: Work }>()
const { data } = useAnswer(
  () => ['since', props.w.id, props.w.figures.case_hash],
  () =>
    take(
      api.POST('/api/options/{option_id}/since', {
        params: { path: { option_id: props.w.id } },
        body: { build_up: props.w.figures.build_up },
      }),
    ),
)
const list = (words: string[]): string => words.join('; ')
</script>

<template>
  <p v-if="data?.was && data.changed.length" data-since>
    <b>Since the last run:</b> {{ list(data.changed.map(said)) }}. It was: {{ said(data.was) }}.
  </p>
</template>
