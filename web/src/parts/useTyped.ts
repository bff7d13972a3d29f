import { computed, ref, watch, type Ref } from 'vue'

/** What a text was read as, or why it cannot be. */
export type Read<T> = { readonly value: T } | { readonly wrong: string }

/**
 * Something that is typed and taken when it is left: what is being typed stays as it is, whatever
 * arrives meanwhile; what cannot be read stays too, and says what would be right. `say` is how the
 * value stands in the field, `read` reads a text, `take` is told what was read, where it is another.
 */
export function useTyped<T>({
  value,
  say,
  read,
  take,
}: {
  readonly value: Readonly<Ref<T>>
  readonly say: (value: T) => string
  readonly read: (text: string) => Read<T>
  readonly take: (value: T) => void
}) {
  /** What is being typed; null while nobody has typed anything. */
  const typed = ref<string | null>(null)
  const wrong = ref('')
  /** What was taken last, until it or something else arrives. */
  const sent = ref<string | null>(null)
  const text = computed(() => typed.value ?? sent.value ?? say(value.value))
  // What arrives while nothing is typed is the answer to a text that was not understood, too.
  watch(value, () => {
    sent.value = null
    if (wrong.value === '') return
    typed.value = null
    wrong.value = ''
  })
  /** What the text being typed would be read as; null while nothing is, or where it cannot be. */
  const heard = computed<T | null>(() => {
    const found = typed.value === null ? null : read(typed.value)
    return found && 'value' in found ? found.value : null
  })
  function type(next: string): void {
    typed.value = next
    wrong.value = ''
  }
  /** Reads what was typed; false where it cannot be read. */
  function leave(): boolean {
    if (typed.value === null) return true
    const found = read(typed.value)
    if ('wrong' in found) {
      wrong.value = found.wrong
      return false
    }
    typed.value = null
    wrong.value = ''
    if (say(found.value) === say(value.value)) return true
    sent.value = say(found.value)
    take(found.value)
    return true
  }
  /** Puts back what stood there; false where nothing had been typed. */
  function back(): boolean {
    const was = typed.value !== null
    typed.value = sent.value = null
    wrong.value = ''
    return was
  }
  return { text, wrong, typing: computed(() => typed.value !== null), heard, type, leave, back }
}
