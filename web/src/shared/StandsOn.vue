<script setup lang="ts">
/** The conditions an option stands on, as its study found them; each is looked at later, by what was measured. */
import { computed, reactive, ref } from 'vue'
import { api, take, type Schemas } from '@/api/client'
import DateField from './DateField.vue'
import { day, today } from './dates'
import QuantityInput from './QuantityInput.vue'
import { useAct, useAnswer } from './query'
import StateMark from './StateMark.vue'
import TextField from './TextField.vue'
import { capital, said, show } from './units'

const props = defineProps<{ elementId: number; optionId: number }>()
type Row = Schemas['StandsOn']
type Name = NonNullable<Row['check']>['name']
const answer = useAnswer(
  () => ['conditions', props.elementId],
  () => take(api.GET('/api/elements/{element_id}/conditions', { params: { path: { element_id: props.elementId } } })),
)
const mine = computed(() => answer.data.value?.find((o) => o.option_id === props.optionId))
const { complaint, busy, act } = useAct()
const editing = ref<Row | null>(null)
const body = reactive({ measured: null as number | null, proof: '', on: today() as string | null, note: '' })
const quantity = (row: Row) => (row.condition.name === 'air leakage' ? 'airFlowArea' : 'plain')
const unit = (row: Row): string => (row.condition.name === 'air leakage' ? '' : ` ${row.condition.unit}`)
const figure = (row: Row, value: number): string => `${show(value, quantity(row), 2)}${unit(row)}`

function edit(row: Row): void {
  const { check, condition } = row
  Object.assign(body, {
    measured: check?.measured ?? null,
    proof: check?.proof || condition.proof,
    on: check?.on ?? today(),
    note: check?.note ?? '',
  })
  editing.value = row
}
const use = (offer: Schemas['Offer']): void => void Object.assign(body, offer)
const path = (row: Row) => ({
  params: { path: { option_id: props.optionId, name: row.condition.name as Name } },
})
const keep = (): Promise<boolean> =>
  act(async () => {
    if (body.measured === null) throw new Error('Type what was measured.')
    answer.put(
      await take(
        api.PUT('/api/options/{option_id}/conditions/{name}', {
          ...path(editing.value!),
          body: { ...body, measured: body.measured },
        }),
      ),
    )
    editing.value = null
  })
const takeBack = (row: Row): Promise<boolean> =>
  act(async () => {
    answer.put(await take(api.DELETE('/api/options/{option_id}/conditions/{name}', path(row))))
    editing.value = null
  })
</script>

<template>
  <div v-if="mine?.stands.length" data-stands-on>
    <p v-if="mine.out_of_date" class="over">The study is out of date: the option or its place changed since.</p>
    <div v-for="row in mine.stands" :key="row.condition.name" class="condition" data-condition>
      <span>{{ capital(said(row.condition.words)) }}.</span>
      <StateMark
        v-if="row.check"
        :state="row.holds ? 'within limits' : 'over a limit'"
        :words="`${row.holds ? 'holds' : 'does not hold'}: ${figure(row, row.check.measured)}${row.check.on ? `, ${day(row.check.on)}` : ''}`"
      />
      <span v-if="row.check" class="soft">{{ row.check.proof }}{{ row.check.note ? `: ${row.check.note}` : '' }}</span>
      <span v-else class="soft">Not looked at yet; by {{ row.condition.proof }}.</span>
      <ElButton link @click="edit(row)">{{ row.check ? 'change' : 'looked at' }}</ElButton>
    </div>
    <p v-if="complaint && !editing" class="complaint" role="alert">{{ complaint }}</p>
    <ElDialog
      v-if="editing"
      :model-value="true"
      :title="`Looked at: ${editing.condition.name}`"
      width="460"
      align-center
      append-to-body
      @close="editing = null"
    >
      <p>{{ capital(said(editing.condition.words)) }}.</p>
      <p v-for="(offer, i) in editing.offers" :key="i" class="offer" data-offer>
        Measured already: {{ figure(editing, offer.measured) }}, {{ offer.proof
        }}{{ offer.on ? `, ${day(offer.on)}` : '' }}: {{ offer.note }}.
        <ElButton link @click="use(offer)">Take this reading</ElButton>
      </p>
      <ElForm id="looked-at" class="looked" @submit.prevent="keep">
        <QuantityInput
          v-model="body.measured"
          :label="`Measured${unit(editing) && `,${unit(editing)}`}`"
          :quantity="quantity(editing)"
          :digits="2"
          optional
        />
        <DateField v-model="body.on" label="On" />
        <TextField v-model="body.proof" class="wide" label="By what" maxlength="200" />
        <TextField v-model="body.note" class="wide" label="Note" maxlength="1000" />
      </ElForm>
      <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
      <template #footer>
        <ElButton v-if="editing.check" :disabled="busy" @click="takeBack(editing)">Take it back</ElButton>
        <ElButton @click="editing = null">Leave it</ElButton>
        <ElButton type="primary" native-type="submit" form="looked-at" :disabled="busy">Keep it</ElButton>
      </template>
    </ElDialog>
  </div>
</template>

<style scoped>
.condition {
  margin-bottom: 6px;
}
.condition > * {
  margin-right: 6px;
}
.looked {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px 14px;
}
.wide {
  grid-column: 1 / -1;
}
</style>
