/**
 * What pages show of the server, by TanStack Query: asked once however many parts want it, shown from memory and asked
 * again behind it, asked again where the server stumbles, watched where something runs, forgotten with who signs out.
 */
import { QueryClient, useMutation, useQuery, type VueQueryPluginOptions } from '@tanstack/vue-query'
import { computed, ref, type Ref } from 'vue'
import { Problem, sentence } from '@/api/client'

export const queries = new QueryClient({
  defaultOptions: {
    queries: {
      refetchOnWindowFocus: false, // what is being typed is not redrawn under the hands
      networkMode: 'always', // offline is for the outbox to say, which knows what was kept
      retry: (failures, error) => failures < 2 && error instanceof Problem && error.status >= 502,
    },
    mutations: { networkMode: 'always' },
  },
})
export const querying: VueQueryPluginOptions = { queryClient: queries }

interface How<T> {
  /** milliseconds until it is asked again, by what it said last; false: not by itself */
  every?: (answer: T | undefined) => number | false
  /** not asked while false */
  when?: () => boolean
  /** never shown from memory: it is copied into what is edited */
  fresh?: boolean
}

/** The answer under a key, its refusal in words, and a way to ask again that waits for the new answer. */
export function useAnswer<T>(key: () => readonly unknown[], ask: () => Promise<T>, how: How<T> = {}) {
  const queryKey = computed(key)
  const query = useQuery(
    {
      queryKey,
      queryFn: ask,
      shallow: true,
      enabled: how.when ?? true,
      gcTime: how.fresh ? 0 : 5 * 60_000,
      refetchInterval: how.every ? ({ state }) => how.every!(state.data as T | undefined) : false,
    },
    queries,
  )
  return {
    data: query.data as Readonly<Ref<T | undefined>>,
    complaint: computed(() => (query.error.value ? sentence(query.error.value) : '')),
    error: query.error,
    load: async (): Promise<void> => void (await query.refetch({ cancelRefetch: true })),
    /** What a change of ours answered is the answer from now on. */
    put: (answer: T): void => void queries.setQueryData(queryKey.value, answer),
  }
}

/** What a person does: under way, refused in words; true when it is done. */
export function useAct() {
  const complaint = ref('')
  const { mutateAsync, isPending } = useMutation(
    { mutationFn: (what: () => unknown) => Promise.resolve(what()) },
    queries,
  )
  async function act(what: () => unknown): Promise<boolean> {
    complaint.value = ''
    try {
      await mutateAsync(what)
      return true
    } catch (error) {
      complaint.value = sentence(error)
      return false
    }
  }
  return { complaint, busy: isPending, act }
}

/** One after another: what is written begins from what the one before it was answered, so that quick hands never meet their own change. */
export function inTurn(): <T>(what: () => Promise<T>) => Promise<T> {
  let last: Promise<unknown> = Promise.resolve()
  return <T>(what: () => Promise<T>): Promise<T> => {
    const mine = last.then(what)
    last = mine.catch(() => undefined)
    return mine
  }
}
