import { ElForm } from 'element-plus'
import { defineComponent, ref } from 'vue'
import { describe, expect, it, vi } from 'vitest'
import { mount } from '@vue/test-utils'
import StateMark from '@/shared/StateMark.vue'
import QuantityInput from '@/shared/QuantityInput.vue'
import TextField from '@/shared/TextField.vue'
import { useForm } from '@/shared/form'
import { system } from '@/shared/units'

describe('a state', () => {
  it('is told by shape and word, never by colour alone', () => {
    const shapes = ['within limits', 'marginal', 'over a limit', 'not run'].map((state) => {
      const mark = mount(StateMark, { props: { state } })
      expect(mark.text()).toBe(state)
      return mark.find('svg').element.innerHTML
    })
    expect(new Set(shapes).size).toBe(4)
  })
})

describe('a form', () => {
  it('is not sent while a figure in it is not understood or a name is missing', async () => {
    system.value = 'metric'
    const sent = vi.fn()
    const one = mount(
      defineComponent({
        components: { ElForm, TextField, QuantityInput },
        setup: () => ({ whenRight: useForm(), sent, name: ref(''), depth: ref(100) }),
        template: `<ElForm ref="form" :model="{}" @submit.prevent="whenRight(sent)">
          <TextField v-model="name" label="Name" must="It needs a name." />
          <QuantityInput v-model="depth" label="Depth" quantity="thickness" />
        </ElForm>`,
      }),
    )
    const send = async (name: string, depth: string): Promise<void> => {
      await one.findAll('input')[0]!.setValue(name)
      await one.findAll('input')[1]!.setValue(depth)
      await one.findAll('input')[1]!.trigger('change')
      await one.find('form').trigger('submit')
      await new Promise((done) => setTimeout(done, 150))
    }
    await send('', '80')
    expect(one.text()).toContain('It needs a name.')
    await send('Gable', 'eighty')
    expect(one.text()).toContain('“eighty” is no number in mm')
    expect(sent).not.toHaveBeenCalled()
    await send('Gable', '80')
    expect(sent).toHaveBeenCalledOnce()
  })
})

describe('a field with a unit', () => {
  const field = (props: object) =>
    mount(QuantityInput, { props: { modelValue: 100, label: 'Depth', quantity: 'thickness', ...props } as never })
  async function typed(text: string, props: object = {}) {
    system.value = 'metric'
    const one = field(props)
    await one.find('input').setValue(text)
    await one.find('input').trigger('change')
    return { one, sent: one.emitted('update:modelValue')?.at(-1)?.[0] }
  }
  it('takes either unit and commits metric', async () => {
    expect((await typed('80')).sent).toBe(80)
    expect((await typed('2 in')).sent).toBeCloseTo(50.8)
  })
  it('complains in words and keeps what was typed', async () => {
    const { one, sent } = await typed('eighty')
    expect(sent).toBeUndefined()
    await expect.poll(() => one.find('[role=alert]').text()).toContain('“eighty” is no number in mm')
    expect((one.find('input').element as HTMLInputElement).value).toBe('eighty')
    expect(one.find('input').attributes('aria-invalid')).toBe('true')
  })
  it('holds to its bounds', async () => {
    const { one, sent } = await typed('900', { least: 1, most: 500 })
    expect(sent).toBeUndefined()
    await expect.poll(() => one.find('[role=alert]').text()).toBe('must lie in 1 to 500')
  })
  it('may be emptied only where nothing is an answer', async () => {
    expect((await typed('', { optional: true })).sent).toBeNull()
    const { one } = await typed('')
    await expect.poll(() => one.find('[role=alert]').exists()).toBe(true)
  })
  it('shows the other system at once', async () => {
    system.value = 'metric'
    const one = field({})
    system.value = 'imperial'
    await one.vm.$nextTick()
    expect((one.find('input').element as HTMLInputElement).value).toBe('3.94')
    expect(one.text()).toContain('Depth, in')
  })
})
