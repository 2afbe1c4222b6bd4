<script setup lang="ts">
/** What of an element may be reached, and what lies open now. */
import { api, take, type Schemas } from '@/api/client'
import { useAct } from '@/shared/query'

const props = defineProps<{ element: Schemas['ElementOut'] }>()
const emit = defineEmits<{ changed: [] }>()
const { complaint, busy, act } = useAct()
const change = (part: Partial<Schemas['AccessBody']>): Promise<boolean> =>
  act(async () => {
    const { outside_untouchable, inside_untouchable, plaster_off, escape_route } = props.element
    await take(
      api.PUT('/api/elements/{element_id}/access', {
        params: { path: { element_id: props.element.id } },
        body: { outside_untouchable, inside_untouchable, plaster_off, escape_route, ...part },
      }),
    )
    emit('changed')
  })
</script>

<template>
  <p class="access">
    <ElCheckbox
      :model-value="element.outside_untouchable"
      :disabled="busy"
      @update:model-value="(v: unknown) => change({ outside_untouchable: Boolean(v) })"
      >the outside may not be touched</ElCheckbox
    >
    <ElCheckbox
      :model-value="element.inside_untouchable"
      :disabled="busy"
      @update:model-value="(v: unknown) => change({ inside_untouchable: Boolean(v) })"
      >the inside is not touched</ElCheckbox
    >
    <ElCheckbox
      :model-value="element.escape_route"
      :disabled="busy"
      @update:model-value="(v: unknown) => change({ escape_route: Boolean(v) })"
      >it lies on an escape route</ElCheckbox
    >
    <ElCheckbox
      :model-value="element.plaster_off"
      :disabled="busy"
      @update:model-value="(v: unknown) => change({ plaster_off: Boolean(v) })"
      >the plaster or lining is off now</ElCheckbox
    >
    <span v-if="complaint" class="complaint" role="alert">{{ complaint }}</span>
  </p>
</template>

<style scoped>
.access {
  margin: 0 0 4px;
}
</style>
