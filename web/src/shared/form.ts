import type { FormInstance } from 'element-plus'
import { useTemplateRef } from 'vue'

/** An act that is done only when every field of the form (its ref is `form`) is in order. */
export function useForm(): (act: () => unknown) => Promise<void> {
  const form = useTemplateRef<FormInstance>('form')
  return async (act) => {
    if (await form.value!.validate().catch(() => false)) await act()
  }
}
