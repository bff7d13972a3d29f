<script setup lang="ts">
import { computed, useId } from 'vue'
import { parseEdit, type Plain } from '#core/fields/parse.ts'
import { inBox } from '#core/fields/say.ts'
import { isChosen } from '#core/fields/parse.ts'
import { choicesFor, fieldOf } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'
import DateField from '#web/parts/DateField.vue'
import { sayMinutes } from '#web/parts/say.ts'
import TokenPick from '#web/parts/TokenPick.vue'
import TypeIn from '#web/parts/TypeIn.vue'

/** What a field is set to, as its type is chosen or written; nothing empties it. */
const value = defineModel<Plain>({ required: true })
const props = defineProps<{ path: string; label: string; known: Known; locked?: boolean }>()
const id = useId()
const field = computed(() => fieldOf(props.known, props.path))
const NOTHING = ''
const options = computed(() => {
  const choices =
    field.value?.type === 'yes-no'
      ? [
          { value: 1, name: 'yes' },
          { value: 0, name: 'no' },
        ]
      : choicesFor(props.known, props.path).map(({ value: of, name }) => ({ value: of, name }))
  return field.value?.needed ? choices : [...choices, { value: NOTHING, name: 'nothing' }]
})
const chosen = computed(() =>
  typeof value.value === 'boolean' ? Number(value.value) : (value.value ?? NOTHING),
)
const choose = (next: string | number) =>
  (value.value = next === NOTHING ? null : field.value?.type === 'yes-no' ? next === 1 : next)
const text = computed(() => {
  if (!field.value || value.value === null) return ''
  return field.value.type === 'minutes'
    ? sayMinutes(Number(value.value))
    : inBox(field.value, value.value)
})
/** The value that an edit sets, however it is kept in it. */
function read(typed: string): Plain {
  if (!field.value) return null
  const [set] = Object.values(
    parseEdit(field.value, typed, { today: props.known.today, choices: [] }),
  )
  return typeof set === 'object' && set !== null
    ? (Object.values(set as Record<string, Plain>)[0] ?? null)
    : ((set as Plain | undefined) ?? null)
}
function check(typed: string): string | null {
  try {
    read(typed)
    return null
  } catch (error) {
    return error instanceof Error ? error.message : String(error)
  }
}
</script>

<template>
  <TokenPick
    v-if="field && isChosen(field.type)"
    :model-value="chosen"
    :options="options"
    :label="label"
    tone="value"
    :disabled="locked"
    @update:model-value="choose($event)"
  />
  <DateField
    v-else-if="field?.type === 'date'"
    :id="id"
    :label="label"
    :model-value="value === null ? null : String(value)"
    :disabled="locked"
    @update:model-value="value = $event"
  />
  <span v-else class="one">
    <TypeIn
      :label="label"
      :value="text"
      :check="check"
      :readonly="locked"
      placeholder="nothing"
      @typed="value = read($event)"
    />
  </span>
</template>

<style scoped>
.one {
  display: inline-block;
  width: 200px;
  max-width: 100%;
}
</style>
