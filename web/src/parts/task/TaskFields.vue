<script setup lang="ts">
import { computed } from 'vue'
import { inUnits, readMoney } from '#core/money/money.ts'
import { readNumber } from '#core/text/read.ts'
import type { CustomField, FieldValue } from '#contract/fields.ts'
import type { TaskSheet } from '#contract/tasks.ts'
import { useSession } from '#web/state/session.ts'
import { toggling, type Edit } from './edits.ts'
import DateField from '#web/parts/DateField.vue'
import TypeIn from '#web/parts/TypeIn.vue'
import SeveralField from '#web/parts/SeveralField.vue'

/** A task's tags and custom fields, as pairs for the sheet's grid. */
const props = defineProps<{ task: TaskSheet }>()
const emit = defineEmits<{ save: [edit: Edit] }>()
const session = useSession()
const tagged = computed(() => props.task.tags.map((t) => t.id))
const toggle = (id: number) => emit('save', toggling('tags', id))
const set = (field: CustomField, value: FieldValue) =>
  emit('save', { fields: { [field.id]: value } })
const value = (field: CustomField) => props.task.fields[field.id]
const currency = (field: CustomField) => field.options.currency ?? 'GBP'
const choices = (field: CustomField) =>
  field.kind === 'choice'
    ? (field.options.choices ?? []).map((c) => ({ value: c.key, title: c.name }))
    : field.kind === 'person'
      ? session.active.map((p) => ({ value: p.id, title: p.name }))
      : [
          { value: true, title: 'Yes' },
          { value: false, title: 'No' },
        ]
const read = (field: CustomField, text: string): FieldValue =>
  field.kind === 'number'
    ? readNumber(text)
    : field.kind === 'money'
      ? readMoney(text, currency(field))
      : text.trim() || null
const check = (field: CustomField) => (text: string) =>
  text.trim() === '' || read(field, text) !== null
    ? null
    : `“${text}” is no number. Write 12 or 1,250.50.`
</script>

<template>
  <template v-if="task.may.give || task.tags.length">
    <label for="ts-tags">Tags</label>
    <SeveralField
      id="ts-tags"
      label="Tags"
      to="tag"
      none="none"
      :chosen="tagged"
      :items="session.directory.tags"
      :readonly="!task.may.give"
      @toggle="toggle"
    />
  </template>
  <template
    v-for="f in task.customFields.filter((f) => task.may.give || value(f) !== undefined)"
    :key="f.id"
  >
    <label :for="`cf-${f.id}`">{{ f.name }}</label>
    <v-autocomplete
      v-if="f.kind === 'choice' || f.kind === 'person' || f.kind === 'yes-no'"
      :id="`cf-${f.id}`"
      :readonly="!task.may.give"
      :clearable="task.may.give"
      :model-value="value(f) ?? null"
      :items="choices(f)"
      @update:model-value="set(f, $event ?? null)"
    />
    <DateField
      v-else-if="f.kind === 'date'"
      :id="`cf-${f.id}`"
      :model-value="(value(f) as string | undefined) ?? null"
      :disabled="!task.may.give"
      @update:model-value="set(f, $event)"
    />
    <span v-else class="one">
      <TypeIn
        :id="`cf-${f.id}`"
        :type="f.kind === 'link' ? 'url' : 'text'"
        :inputmode="f.kind === 'number' || f.kind === 'money' ? 'decimal' : undefined"
        :check="check(f)"
        :readonly="!task.may.give"
        :value="
          value(f) === undefined
            ? ''
            : String(f.kind === 'money' ? inUnits(Number(value(f)), currency(f)) : value(f))
        "
        @typed="set(f, read(f, $event))"
      />
      <span v-if="f.kind === 'money'" class="small quiet">{{ currency(f) }}</span>
      <v-btn
        variant="plain"
        v-if="f.kind === 'link' && value(f)"
        class="auto"
        :href="String(value(f))"
        target="_blank"
        rel="noopener noreferrer nofollow"
      >
        open
      </v-btn>
    </span>
  </template>
</template>

<style scoped>
label {
  color: var(--ink-2);
  font-size: 12.5px;
  overflow-wrap: anywhere;
}
.tags {
  display: flex;
  gap: 4px;
  flex-wrap: wrap;
  padding: 3px 0;
}
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
