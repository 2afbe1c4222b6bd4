/** Who is signed in. */
import { defineStore } from 'pinia'
import { belongsTo } from './outbox'
import { queries } from './query'
import { ref } from 'vue'
import { api, setCsrf, setPerson, take, type Schemas } from '@/api/client'

export const useSession = defineStore('session', () => {
  const person = ref<Schemas['Person'] | null>(null)
  const asked = ref(false)
  /** Whether the made-up gauge and price list that ship are attached. */
  const standIns = ref(false)

  function accept(session: Schemas['Session']): void {
    if (person.value?.username !== session.person?.username) queries.clear() // nothing of it is for the next person
    person.value = session.person
    setCsrf(session.csrf_token)
    setPerson(session.person?.username ?? '')
    void belongsTo(session.person?.username ?? '')
    standIns.value = session.stand_ins
    asked.value = true
  }
  async function ask(): Promise<void> {
    accept(await take(api.GET('/api/session')))
  }
  async function signIn(username: string, password: string): Promise<void> {
    accept(await take(api.POST('/api/session', { body: { username, password } })))
  }
  async function signOut(): Promise<void> {
    accept(await take(api.DELETE('/api/session')))
  }
  return { person, asked, standIns, ask, signIn, signOut }
})
