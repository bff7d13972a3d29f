<script setup lang="ts">
import { computed } from 'vue'
import { inUnits, readMoney } from '#core/money/money.ts'
import { readNumber } from '#core/text/read.ts'
import type { CustomField, FieldValue } from '#contract/fields.ts'
import DateField from '#web/parts/DateField.vue'
import TypeIn from '#web/parts/TypeIn.vue'
import { useSession } from '#web/state/session.ts'

/** The value of one of the firm's own fields, as its type is written or chosen. */
const props = defineProps<{
  id: string
  field: CustomField
  value: FieldValue | undefined
  readonly?: boolean
}>()
const emit = defineEmits<{ set: [value: FieldValue] }>()
const session = useSession()
const currency = computed(() => props.field.options.currency ?? 'GBP')
const choices = computed(() =>
  props.field.kind === 'choice'
    ? (props.field.options.choices ?? []).map((c) => ({ value: c.key, title: c.name }))
    : props.field.kind === 'person'
      ? session.active.map((p) => ({ value: p.id, title: p.name }))
      : [
          { value: true, title: 'Yes' },
          { value: false, title: 'No' },
        ],
)
const held = computed(() => props.value ?? null)
/** What is kept of yes and no is a number. */
const chosen = computed(() =>
  props.field.kind === 'yes-no' && held.value !== null ? Number(held.value) === 1 : held.value,
)
const text = computed(() =>
  held.value === null
    ? ''
    : String(
        props.field.kind === 'money' ? inUnits(Number(held.value), currency.value) : held.value,
      ),
)
const read = (typed: string): FieldValue =>
  props.field.kind === 'number'
    ? readNumber(typed)
    : props.field.kind === 'money'
      ? readMoney(typed, currency.value)
      : typed.trim() || null
const check = (typed: string) =>
  typed.trim() === '' || read(typed) !== null
    ? null
    : `“${typed}” is no number. Write 12 or 1,250.50.`
</script>

<template>
  <v-autocomplete
    v-if="field.kind === 'choice' || field.kind === 'person' || field.kind === 'yes-no'"
    :id="id"
    :readonly="readonly"
    :clearable="!readonly"
    :model-value="chosen"
    :items="choices"
    @update:model-value="emit('set', $event ?? null)"
  />
  <DateField
    v-else-if="field.kind === 'date'"
    :id="id"
    :model-value="held === null ? null : String(held)"
    :disabled="readonly"
    @update:model-value="emit('set', $event)"
  />
  <span v-else class="one">
    <TypeIn
      :id="id"
      :type="field.kind === 'link' ? 'url' : 'text'"
      :inputmode="field.kind === 'number' || field.kind === 'money' ? 'decimal' : undefined"
      :check="check"
      :readonly="readonly"
      :value="text"
      @typed="emit('set', read($event))"
    />
    <span v-if="field.kind === 'money'" class="small quiet">{{ currency }}</span>
    <v-btn
      variant="plain"
      v-if="field.kind === 'link' && held"
      class="auto"
      :href="String(held)"
      target="_blank"
      rel="noopener noreferrer nofollow"
    >
      open
    </v-btn>
  </span>
</template>

<style scoped>
.one {
  display: flex;
  gap: 6px;
  align-items: center;
  flex-wrap: wrap;
}
.one :deep(.v-input) {
  flex: 1;
  min-width: 60px;
  width: auto;
}
.one :deep(.wrong) {
  flex-basis: 100%;
  order: 1;
}
</style>
