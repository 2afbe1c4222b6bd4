<script setup lang="ts">
/** A name, a role and a date over the hash of a report's file. */
import { ref } from 'vue'
import type { Schemas } from '@/api/client'
import DateField from '@/shared/DateField.vue'
import { today } from '@/shared/dates'
import { useForm } from '@/shared/form'
import SelectField from '@/shared/SelectField.vue'
import TextField from '@/shared/TextField.vue'
import type { Report } from './useDossier'

const props = defineProps<{ report: Report; roles: Schemas['RoleEntry'][] }>()
const emit = defineEmits<{ sign: [body: Schemas['SignatureBody']]; leave: [] }>()
const ROLES = ['client', 'consultant', 'structural engineer', 'heating designer', 'heritage officer', 'builder']
const name = ref('')
const role = ref('consultant')
const on = ref<string | null>(today())
const whenInOrder = useForm()
function pick(chosen: string): void {
  const known = props.roles.find((r) => r.role === chosen)
  if (known?.name && !name.value) name.value = known.name
}
const send = (): Promise<void> =>
  whenInOrder(() => on.value && emit('sign', { name: name.value, role: role.value, on: on.value }))
</script>

<template>
  <ElDialog :model-value="true" title="A name under this report" width="460" @close="emit('leave')">
    <ElForm ref="form" class="sign" :model="{}" hide-required-asterisk @submit.prevent="send">
      <p class="soft">
        A name over the hash of the file, {{ report.sha256.slice(0, 12) }}. It says who stands by it; it is no
        certificate.
      </p>
      <SelectField v-model="role" label="Role" @change="pick">
        <ElOption v-for="r in ROLES" :key="r" :value="r" :label="r" />
      </SelectField>
      <TextField v-model="name" label="Name" maxlength="150" must="A name is needed." />
      <DateField v-model="on" label="On" />
      <div class="actions">
        <ElButton @click="emit('leave')">Leave it</ElButton>
        <ElButton type="primary" native-type="submit">Put the name under it</ElButton>
      </div>
    </ElForm>
  </ElDialog>
</template>

<style scoped>
.sign {
  display: grid;
  gap: 10px;
}
.actions {
  display: flex;
  justify-content: flex-end;
  gap: 8px;
}
</style>
