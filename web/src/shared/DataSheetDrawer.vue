<script setup lang="ts">
/** A material of one's own from its data sheet: typed as the sheet states it, read as one types, the rest filled and marked. */
import { useDebounceFn } from '@vueuse/core'
import { computed, reactive, ref, watch } from 'vue'
import { api, Problem, sentence, take, type Schemas } from '@/api/client'
import CurvePicture from '@/drawing/CurvePicture.vue'
import DateField from './DateField.vue'
import { useForm } from './form'
import { emptySheet, FIELDS, isSheet, type DataSheet, type Made } from './materials'
import { useProject, type Material } from './project'
import { useAct } from './query'
import SelectField from './SelectField.vue'
import TextField from './TextField.vue'
import { said } from './units'

/** material: the one a new edition is made of; absent for a new material. */
const props = defineProps<{ material?: Material | null; name?: string }>()
const emit = defineEmits<{ kept: [material: Material] }>()
const open = defineModel<boolean>({ required: true })
const project = useProject()
const sheet = reactive<DataSheet>(emptySheet())
const made = ref<Made | null>(null)
const refused = ref('')
const more = ref(false)
const { complaint, busy, act } = useAct()
const whenInOrder = useForm()

const all = computed(() => project.library?.families ?? [])
/** asked before anything is filled in */
const madeOf = ref('')
const natures = computed(() => [...new Set(all.value.map((f) => f.made_of))])
const families = computed(() => all.value.filter((f) => f.made_of === madeOf.value).map((f) => f.name))
const near = computed(() =>
  [...project.materials.values()].filter((m) => !m.own && m.family === sheet.family && m.kind !== 'air'),
)
const fields = computed(() => FIELDS.filter((f) => (!isSheet(sheet.family) || f.sheet) && (f.first || more.value)))
/** the list has words only */
const outermost = computed({
  get: () => sheet.weather ?? '',
  set: (words: NonNullable<DataSheet['weather']> | '') => (sheet.weather = words || null),
})
const filled = computed(() => {
  const from = new Map<string, string[]>()
  for (const [value, words] of Object.entries(made.value?.filled ?? {})) {
    const name = value.replace(/_(kg|w|j|m|pa|m2|m3|mk|kgk|m2s05)\w*$/, '').replaceAll('_', ' ')
    from.set(words, [...(from.get(words) ?? []), name])
  }
  return [...from]
})

watch(open, (now) => {
  if (!now) return
  Object.assign(sheet, emptySheet(), props.material?.own?.sheet ?? {})
  if (props.material && !props.material.own?.sheet) {
    sheet.name = props.material.name
    sheet.family = props.material.family as DataSheet['family']
  }
  if (!props.material) sheet.name = props.name ?? ''
  madeOf.value = all.value.find((f) => f.name === sheet.family)?.made_of ?? ''
  more.value = FIELDS.some((f) => !f.first && sheet[f.name])
  complaint.value = ''
  void look()
})
let asked = 0
async function look(): Promise<void> {
  const mine = ++asked
  if (!sheet.family) return void (made.value = null)
  try {
    const answer = await take(
      api.POST('/api/library/look', { body: { ...sheet, name: sheet.name.trim() || 'new material' } }),
    )
    if (mine !== asked) return
    made.value = answer
    refused.value = ''
  } catch (error) {
    if (mine === asked) refused.value = error instanceof Problem ? `${error.message} ${error.remedy}` : sentence(error)
  }
}
const lookSoon = useDebounceFn(look, 150)
watch(sheet, () => open.value && void lookSoon())
watch(madeOf, () => {
  if (families.value.includes(sheet.family)) return
  const only = families.value.length === 1 ? families.value[0]! : ''
  sheet.family = only as DataSheet['family']
})
watch(
  () => sheet.family,
  () => (sheet.nearest = near.value.some((m) => m.id === sheet.nearest) ? sheet.nearest : ''),
)

const keep = (): Promise<void> =>
  whenInOrder(() =>
    act(async () => {
      const own = props.material?.own
      const kept: Schemas['MaterialOut'] = own
        ? await take(
            api.PUT('/api/library/materials/{material_id}', {
              params: { path: { material_id: own.material_id } },
              body: { sheet: { ...sheet }, base_edition: own.newest_edition },
            }),
          )
        : await take(api.POST('/api/library/materials', { body: { ...sheet } }))
      await project.loadLibrary(true)
      open.value = false
      emit('kept', kept)
    }),
  )
</script>

<template>
  <ElDrawer
    v-model="open"
    :title="material ? `A new edition of “${material.name}”` : 'A material from its data sheet'"
    size="min(620px, 100%)"
    class="datasheet"
  >
    <ElForm ref="form" :model="{}" hide-required-asterisk @submit.prevent="keep">
      <div class="two">
        <TextField v-model="sheet.name" label="Name" maxlength="80" autofocus must="A name is needed." />
        <SelectField v-model="madeOf" label="What is it made of?">
          <ElOption v-for="n in natures" :key="n" :value="n" :label="n" />
        </SelectField>
        <SelectField v-if="madeOf" v-model="sheet.family" label="Kind">
          <ElOption v-for="f in families" :key="f" :value="f" :label="f" />
        </SelectField>
      </div>
      <p v-if="!sheet.family" class="soft">
        What a sheet does not state is filled in from a material of the same kind; so that comes first.
      </p>
      <div v-if="sheet.family" class="fields">
        <div v-for="f in fields" :key="f.name">
          <TextField v-model="sheet[f.name]" :label="f.label" :placeholder="f.hint" maxlength="60" />
          <p v-if="made && !refused && made.understood[f.name] && sheet[f.name]" class="soft read">
            {{ made.understood[f.name] }}
          </p>
        </div>
      </div>
      <ElButton v-if="sheet.family && (!isSheet(sheet.family) || !more)" link class="more" @click="more = !more">
        {{ more ? 'Only the first four' : 'The sheet says more: water, heat, emissivity' }}
      </ElButton>
      <div v-if="sheet.family" class="two">
        <SelectField v-model="sheet.nearest" label="What it does not say is filled from">
          <ElOption value="" :label="made ? `the nearest: ${project.materialName(made.nearest)}` : 'the nearest'" />
          <ElOption v-for="m in near" :key="m.id" :value="m.id" :label="m.name" />
        </SelectField>
        <SelectField v-model="outermost" label="As the outermost layer">
          <ElOption value="" label="as the one it is filled from" />
          <ElOption value="sheds" label="sheds the weather" />
          <ElOption value="soaks and dries" label="soaks and dries" />
          <ElOption value="must be covered" label="must be covered" />
        </SelectField>
        <TextField v-model="sheet.source" label="Printed by, sheet" maxlength="200" />
        <DateField v-model="sheet.dated" label="Dated" />
      </div>
      <p v-if="refused || complaint" class="complaint" role="alert">{{ complaint || refused }}</p>
      <template v-else-if="made">
        <p v-for="o in made.odd" :key="o.metric" class="odd" role="status">{{ said(o) }}</p>
        <p v-if="made.rests.metric" data-rests>{{ said(made.rests) }}</p>
        <p v-for="[words, values] in filled" :key="words" class="soft">
          <b>{{ values.join(', ') }}</b>: {{ words }}
        </p>
        <div class="curves">
          <CurvePicture v-for="c in made.curves.curves" :key="c.name" :rh="made.curves.rh" :curve="c" />
        </div>
      </template>
      <p v-if="material" class="soft">
        What was computed stands on the edition it was computed with; each sheet says which options still have the old
        one.
      </p>
      <div class="actions">
        <ElButton @click="open = false">Leave it</ElButton>
        <ElButton type="primary" native-type="submit" :disabled="busy || !!refused || !sheet.family">
          {{ material ? 'Keep the new edition' : 'Keep it' }}
        </ElButton>
      </div>
    </ElForm>
  </ElDrawer>
</template>

<style scoped>
.two,
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px 14px;
}
.read {
  margin: 1px 0 0;
  font-size: 12.5px;
}
.more {
  margin: 8px 0;
}
.odd {
  color: var(--marginal);
  font-weight: 600;
}
.curves {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 14px;
  margin: 8px 0;
}
.actions {
  display: flex;
  justify-content: flex-end;
  gap: 8px;
  margin-top: 10px;
}
</style>
