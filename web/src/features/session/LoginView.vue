<script setup lang="ts">
import { ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { sentence } from '@/api/client'
import { useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { useForm } from '@/shared/form'

const session = useSession()
const route = useRoute()
const router = useRouter()
const username = ref('')
const password = ref('')
const complaint = ref('')
const busy = ref(false)
document.title = 'Sign in · Wendrick'

async function enter(): Promise<void> {
  complaint.value = ''
  busy.value = true
  try {
    await session.signIn(username.value, password.value)
    const next = String(route.query.next ?? '/projects')
    await router.push(next.startsWith('/') && !next.startsWith('//') ? next : '/projects')
  } catch (error) {
    complaint.value = sentence(error)
  } finally {
    busy.value = false
  }
}
const whenRight = useForm()
</script>

<template>
  <main>
    <ElForm ref="form" :model="{}" hide-required-asterisk @submit.prevent="whenRight(enter)">
      <h1>Wendrick</h1>
      <p class="soft">How much heat is saved, and what happens to the wetting and to the drying.</p>
      <TextField first label="Name" v-model="username" name="username" autocomplete="username" must="Type your name." />
      <TextField
        label="Password"
        v-model="password"
        name="password"
        type="password"
        autocomplete="current-password"
        must="Type your password."
      />
      <p v-if="complaint" class="complaint" role="alert">{{ complaint }}</p>
      <ElButton type="primary" native-type="submit" :disabled="busy">Sign in</ElButton>
    </ElForm>
  </main>
</template>

<style scoped>
main {
  min-height: 100%;
  display: grid;
  place-items: center;
}
form {
  width: 330px;
  display: grid;
  gap: 12px;
  background: var(--sheet);
  border: 1px solid var(--ink);
  padding: 28px;
}
h1 {
  font-size: 30px;
}
</style>
