<script setup lang="ts">
import { computed, ref } from 'vue'
import { CUSTOM_KINDS, CUSTOM_NAMES, type CustomField } from '#contract/fields.ts'
import { put } from '#web/api/client.ts'
import { FIELD_OWNER_NAMES } from '#contract/words.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import FieldForm from './FieldForm.vue'

/** Custom fields: what tasks, projects and clients carry besides the usual. */
defineProps<{ may: boolean }>()
const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
const fields = computed(() => session.directory.fields)
const editing = ref<CustomField | 'new' | null>(null)
const hide = (field: CustomField) =>
  attempt(async () => {
    const { id: _, ...body } = field
    messages.did(
      field.hidden
        ? `“${field.name}” is shown again.`
        : `“${field.name}” is hidden; its values stay.`,
      await put(`/fields/${field.id}`, { ...body, hidden: !field.hidden }),
    )
    await session.read()
  })
const whose = (f: CustomField) =>
  f.projectId
    ? (session.directory.projects.find((p) => p.id === f.projectId)?.name ??
      'a project that is closed')
    : f.templateId
      ? `projects of “${session.directory.templates.find((t) => t.id === f.templateId)?.name ?? 'a template'}”`
      : 'everywhere'
</script>

<template>
  <section>
    <h2 class="section">
      Fields
      <span>what tasks, projects and clients carry besides the usual</span>
    </h2>
    <v-table v-if="fields.length">
      <thead>
        <tr>
          <th>Name</th>
          <th>Type</th>
          <th>Of</th>
          <th>Where</th>
          <th>Choices</th>
          <th><span class="sr">Change</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="f in fields" :key="f.id" :class="{ off: f.hidden }">
          <td>{{ f.name }}</td>
          <td>
            {{ CUSTOM_NAMES[f.kind]
            }}{{ f.kind === 'money' ? `, ${f.options.currency ?? 'GBP'}` : '' }}
          </td>
          <td>{{ FIELD_OWNER_NAMES[f.of] }}</td>
          <td>{{ whose(f) }}</td>
          <td>
            <span v-for="c in f.options.choices" :key="c.key" class="tint" :class="`c-${c.colour}`">
              {{ c.name }}
            </span>
          </td>
          <td>
            <div v-if="may" class="btns tight">
              <v-btn @click="editing = f">Change</v-btn>
              <v-btn @click="hide(f)">
                {{ f.hidden ? 'Show again' : 'Hide' }}
              </v-btn>
            </div>
          </td>
        </tr>
      </tbody>
    </v-table>
    <p v-else class="quiet">
      None yet. A field is something every task, project or client can say: an amount, a reference,
      a choice.
    </p>
    <p v-if="may" class="btns">
      <v-btn @click="editing = 'new'">Make a field</v-btn>
    </p>
    <FieldForm
      v-if="editing"
      :field="editing === 'new' ? null : editing"
      :kinds="CUSTOM_KINDS"
      @done="editing = null"
      @close="editing = null"
    />
  </section>
</template>

<style scoped>
.off td {
  color: var(--ink-3);
}
.tight {
  flex-wrap: nowrap;
}
td .tint {
  margin-right: 4px;
}
</style>
