<script setup lang="ts">
/** What the decision rests on: trials, tests, letters, and who was asked for a specification, when, and what they answered. */
import { computed, reactive, ref } from 'vue'
import { api, take, type Schemas } from '@/api/client'
import DateField from '@/shared/DateField.vue'
import { day, today } from '@/shared/dates'
import FileButton from '@/shared/FileButton.vue'
import { newUid } from '@/shared/outbox'
import { useAct, useAnswer } from '@/shared/query'
import SelectField from '@/shared/SelectField.vue'
import TextField from '@/shared/TextField.vue'

type Basis = Schemas['BasisOut']
type Body = Schemas['BasisBody']
const props = defineProps<{ projectId: number; elementId: number; options: { id: number; name: string }[] }>()
const KINDS: Basis['kind'][] = ['specification', 'trial panel', 'pull test', 'sample', 'letter', 'calculation', 'other']
const answer = useAnswer(
  () => ['bases', props.projectId],
  () => take(api.GET('/api/projects/{project_id}/bases', { params: { path: { project_id: props.projectId } } })),
  { fresh: true },
)
const mine = computed(() => (answer.data.value ?? []).filter((b) => b.element_id === props.elementId))
const { complaint, busy, act } = useAct()
const editing = ref<string | null>(null)
const empty = (): Body => ({
  element_id: props.elementId,
  option_id: null,
  kind: 'specification',
  who: '',
  on: today(),
  text: '',
  answer: '',
  answered_on: null,
  photos: [],
})
const body = reactive<Body>(empty())
function edit(b: Basis | null): void {
  Object.assign(body, empty(), b ? { ...b, base_revision: b.revision } : {})
  editing.value = b?.uid ?? 'new'
}
const path = (uid: string) => ({ params: { path: { project_id: props.projectId, uid } } })
const keep = (): Promise<boolean> =>
  act(async () => {
    const uid = editing.value === 'new' ? newUid() : editing.value!
    const { element_id, option_id, kind, who, on, text, answer: said, answered_on, photos, base_revision } = body
    await take(
      api.PUT('/api/projects/{project_id}/bases/{uid}', {
        ...path(uid),
        body: { element_id, option_id, kind, who, on, text, answer: said, answered_on, photos, base_revision },
      }),
    )
    editing.value = null
    await answer.load()
  })
const attach = (uid: string, file: File): Promise<boolean> =>
  act(async () => {
    const form = new FormData()
    form.append('file', file)
    await take(
      api.POST('/api/projects/{project_id}/bases/{uid}/document', {
        ...path(uid),
        body: { file: '' },
        bodySerializer: () => form,
      }),
    )
    await answer.load()
  })
const remove = (uid: string): Promise<boolean> =>
  act(async () => {
    await take(api.DELETE('/api/projects/{project_id}/bases/{uid}', path(uid)))
    await answer.load()
  })
const optionName = (id: number | null | undefined): string => props.options.find((o) => o.id === id)?.name ?? ''
</script>

<template>
  <section class="bases" aria-label="What the decision rests on">
    <h2>What it rests on</h2>
    <p v-if="complaint || answer.complaint.value" class="complaint" role="alert">
      {{ complaint || answer.complaint.value }}
    </p>
    <p v-if="!mine.length" class="soft">
      Nothing yet: a trial panel, a pull test, a letter, or whom you asked for a specification and what they answered.
    </p>
    <div v-for="b in mine" :key="b.uid" class="basis" :data-basis="b.uid">
      <p>
        <b>{{ b.kind }}</b><template v-if="b.who"
          >, {{ b.kind === 'specification' ? 'asked of ' : '' }}{{ b.who }}</template
        ><template v-if="b.on">, {{ day(b.on) }}</template
        ><template v-if="optionName(b.option_id)">, for “{{ optionName(b.option_id) }}”</template>: {{ b.text }}
      </p>
      <p v-if="b.answer || b.kind === 'specification'">
        <span class="soft">answered{{ b.answered_on ? ` ${day(b.answered_on)}` : '' }}:</span>
        {{ b.answer || 'not yet' }}
      </p>
      <p class="acts">
        <a v-if="b.document" :href="`/api/projects/${projectId}/bases/${b.uid}/document`">{{ b.document }}</a>
        <FileButton
          :words="b.document ? 'Another PDF' : 'Attach a PDF'"
          accept="application/pdf,.pdf"
          @file="(file: File) => attach(b.uid, file)"
        />
        <ElButton link @click="edit(b)">change</ElButton>
        <ElButton link :disabled="busy" @click="remove(b.uid)">remove</ElButton>
        <span class="soft">{{ b.by }}</span>
      </p>
    </div>
    <ElForm v-if="editing" class="form" @submit.prevent="keep">
      <div class="row">
        <SelectField v-model="body.kind" label="What">
          <ElOption v-for="k in KINDS" :key="k" :value="k" :label="k" />
        </SelectField>
        <TextField v-model="body.who" :label="body.kind === 'specification' ? 'Asked of' : 'By'" maxlength="150" />
        <DateField v-model="body.on" label="On" />
      </div>
      <TextField v-model="body.text" label="What it was, or showed" type="textarea" :rows="2" maxlength="4000" />
      <div v-if="body.kind === 'specification'" class="row">
        <TextField v-model="body.answer" label="What they answered" maxlength="4000" />
        <DateField v-model="body.answered_on" label="Answered on" />
      </div>
      <ElButton type="primary" native-type="submit" :disabled="busy">Keep it</ElButton>
      <ElButton @click="editing = null">Leave it</ElButton>
    </ElForm>
    <ElButton v-else @click="edit(null)">Note what it rests on</ElButton>
  </section>
</template>

<style scoped>
.bases {
  margin-top: 18px;
  max-width: 760px;
}
.basis {
  border-top: 1px solid var(--rule);
  padding: 4px 0;
}
.basis p {
  margin: 1px 0;
}
.acts {
  display: flex;
  gap: 10px;
  align-items: center;
}
.row {
  display: grid;
  grid-template-columns: 1fr 1fr 160px;
  gap: 12px;
}
</style>
