<script setup lang="ts">
import { ref } from 'vue'
import { CUSTOM_NAMES, PALETTE, type CustomField, type CustomKind } from '#contract/fields.ts'
import type { FieldBody } from '#contract/setup.ts'
import { useSession } from '#web/state/session.ts'

/** Makes or changes a custom field. The type of one that is there stays. */
const props = defineProps<{
  field: CustomField | null
  wrong: string
  kinds: readonly CustomKind[]
}>()
const emit = defineEmits<{ save: [body: FieldBody]; close: [] }>()
const session = useSession()
const name = ref(props.field?.name ?? '')
const kind = ref<CustomKind>(props.field?.kind ?? 'text')
/** Everywhere, one project (p12) or the projects of one template (t3). */
const where = ref(
  props.field?.projectId
    ? `p${props.field.projectId}`
    : props.field?.templateId
      ? `t${props.field.templateId}`
      : '',
)
const currency = ref(props.field?.options.currency ?? 'GBP')
const choices = ref((props.field?.options.choices ?? []).map((c) => ({ ...c })))
const word = ref('')
function add(): void {
  const text = word.value.trim()
  if (!text || choices.value.some((c) => c.name.toLowerCase() === text.toLowerCase())) return
  choices.value.push({
    key: `${text
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .slice(0, 28)}-${choices.value.length + 1}`,
    name: text,
    colour: PALETTE[choices.value.length % PALETTE.length]!,
  })
  word.value = ''
}
function save(): void {
  add()
  emit('save', {
    name: name.value,
    kind: kind.value,
    options:
      kind.value === 'choice'
        ? { choices: choices.value }
        : kind.value === 'money'
          ? { currency: currency.value.toUpperCase() }
          : {},
    projectId: where.value.startsWith('p') ? Number(where.value.slice(1)) : null,
    templateId: where.value.startsWith('t') ? Number(where.value.slice(1)) : null,
    hidden: props.field?.hidden ?? false,
  })
}
</script>

<template>
  <form class="dialog" @submit.prevent="save">
    <h3>{{ field ? 'Change the field' : 'A new field' }}</h3>
    <div class="field">
      <label for="ff-name">Name</label>
      <input id="ff-name" v-model="name" class="inp" maxlength="60" required />
    </div>
    <div class="field">
      <label for="ff-kind">Type</label>
      <select id="ff-kind" v-model="kind" class="inp" :disabled="field !== null">
        <option v-for="k in kinds" :key="k" :value="k">{{ CUSTOM_NAMES[k] }}</option>
      </select>
    </div>
    <div v-if="kind === 'money'" class="field">
      <label for="ff-cur">Currency (ISO 4217)</label>
      <input
        id="ff-cur"
        v-model="currency"
        class="inp"
        maxlength="3"
        pattern="[A-Za-z]{3}"
        required
      />
    </div>
    <div v-if="kind === 'choice'" class="field">
      <span class="label">Choices, in order</span>
      <div v-for="(c, i) in choices" :key="c.key" class="ch">
        <input v-model="c.name" class="inp" maxlength="60" :aria-label="`Choice ${i + 1}`" />
        <select v-model="c.colour" class="inp" :aria-label="`Colour of ${c.name}`">
          <option v-for="p in PALETTE" :key="p" :value="p">{{ p }}</option>
        </select>
        <button type="button" class="btn flat" @click="choices.splice(i, 1)">Remove</button>
      </div>
      <div class="ch">
        <input
          v-model="word"
          class="inp"
          maxlength="60"
          placeholder="Another choice"
          aria-label="Another choice"
          @keydown.enter.prevent="add"
        />
        <button type="button" class="btn" @click="add">Add</button>
      </div>
    </div>
    <div class="field">
      <label for="ff-where">Where</label>
      <select id="ff-where" v-model="where" class="inp">
        <option value="">everywhere</option>
        <option v-for="t in session.directory.templates" :key="`t${t.id}`" :value="`t${t.id}`">
          in projects of “{{ t.name }}”
        </option>
        <option v-for="p in session.directory.projects" :key="p.id" :value="`p${p.id}`">
          only in {{ p.name }}
        </option>
      </select>
    </div>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <div class="btns">
      <button class="btn pri">Save</button>
      <button type="button" class="btn" @click="emit('close')">Leave it</button>
    </div>
  </form>
</template>

<style scoped>
.ch {
  display: flex;
  gap: 6px;
}
.ch select {
  width: 100px;
}
</style>
