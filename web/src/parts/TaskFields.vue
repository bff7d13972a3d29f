<script setup lang="ts">
import { computed } from 'vue'
import { inUnits, readMoney } from '#core/money/money.ts'
import { readNumber } from '#core/text/read.ts'
import type { CustomField, FieldValue } from '#contract/fields.ts'
import type { TaskSheet } from '#contract/tasks.ts'
import { useSession } from '#web/state/session.ts'
import { toggling, type Edit } from './edits.ts'
import DateField from './DateField.vue'
import TypeIn from './TypeIn.vue'

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
  <template v-if="task.may.edit || task.tags.length">
    <span class="lab">Tags</span>
    <v-menu :close-on-content-click="false" :disabled="!task.may.edit">
      <template #activator="{ props: menu }">
        <button v-bind="menu" class="tags" aria-label="Tags">
          <span v-for="t in task.tags" :key="t.id" class="tint" :class="`c-${t.colour}`">
            {{ t.name }}
          </span>
          <span v-if="!task.tags.length" class="small quiet">none</span>
        </button>
      </template>
      <div class="menu">
        <button
          v-for="t in session.directory.tags"
          :key="t.id"
          :class="[{ on: tagged.includes(t.id) }, `c-${t.colour}`]"
          :aria-pressed="tagged.includes(t.id)"
          @click="toggle(t.id)"
        >
          {{ tagged.includes(t.id) ? '✓ ' : '' }}
          <span class="tint">{{ t.name }}</span>
        </button>
      </div>
    </v-menu>
  </template>
  <template
    v-for="f in task.customFields.filter((f) => task.may.edit || value(f) !== undefined)"
    :key="f.id"
  >
    <label :for="`cf-${f.id}`">{{ f.name }}</label>
    <select
      v-if="f.kind === 'choice' || f.kind === 'person' || f.kind === 'yes-no'"
      :id="`cf-${f.id}`"
      class="inp"
      :disabled="!task.may.edit"
      :value="value(f) ?? ''"
      @change="
        set(
          f,
          ($event.target as HTMLSelectElement).value === ''
            ? null
            : f.kind === 'choice'
              ? ($event.target as HTMLSelectElement).value
              : f.kind === 'person'
                ? Number(($event.target as HTMLSelectElement).value)
                : ($event.target as HTMLSelectElement).value === '1',
        )
      "
    >
      <option value=""></option>
      <template v-if="f.kind === 'choice'">
        <option v-for="c in f.options.choices" :key="c.key" :value="c.key">{{ c.name }}</option>
      </template>
      <template v-else-if="f.kind === 'person'">
        <option v-for="p in session.active" :key="p.id" :value="p.id">{{ p.name }}</option>
      </template>
      <template v-else>
        <option value="1">Yes</option>
        <option value="0">No</option>
      </template>
    </select>
    <DateField
      v-else-if="f.kind === 'date'"
      :id="`cf-${f.id}`"
      :model-value="(value(f) as string | undefined) ?? null"
      :disabled="!task.may.edit"
      @update:model-value="set(f, $event)"
    />
    <span v-else class="one">
      <TypeIn
        :id="`cf-${f.id}`"
        :type="f.kind === 'link' ? 'url' : 'text'"
        :inputmode="f.kind === 'number' || f.kind === 'money' ? 'decimal' : undefined"
        :check="check(f)"
        :readonly="!task.may.edit"
        :value="
          value(f) === undefined
            ? ''
            : String(f.kind === 'money' ? inUnits(Number(value(f)), currency(f)) : value(f))
        "
        @typed="set(f, read(f, $event))"
      />
      <span v-if="f.kind === 'money'" class="small quiet">{{ currency(f) }}</span>
      <a
        v-if="f.kind === 'link' && value(f)"
        class="auto"
        :href="String(value(f))"
        target="_blank"
        rel="noopener noreferrer nofollow"
      >
        open
      </a>
    </span>
  </template>
</template>

<style scoped>
.lab,
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
.one :deep(.inp) {
  flex: 1;
  min-width: 60px;
  width: auto;
}
.one :deep(.wrong) {
  flex-basis: 100%;
  order: 1;
}
</style>
