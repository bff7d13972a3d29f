import { reactive } from 'vue'
import { useForm, type Faults } from './useForm.ts'

/** Something short that is asked in a dialog and sent once. */
export interface Asked<T> {
  /** What stands there at first. */
  readonly value: T
  /** Does it. @throws ApiProblem */
  readonly send: (value: T) => Promise<unknown>
  /** What is wrong with it, before it is sent. */
  readonly check?: (value: T) => Faults
  /** Called once it is done. */
  readonly done: () => void
}

/** A form in a dialog, from its opening until it is sent or left: give it to FormDialog. */
export function useDialogForm<T extends object>({ value, send, check, done }: Asked<T>) {
  const begun = { value, version: 0 }
  const form = useForm<T>({
    key: () => '',
    held: () => begun,
    async send(written) {
      await send(written)
      return { value: written, version: 0 }
    },
    ...(check && { check }),
  })
  async function submit(): Promise<void> {
    if (await form.save()) done()
  }
  return reactive({ ...form, submit })
}
export type DialogForm<T extends object> = ReturnType<typeof useDialogForm<T>>
