<script setup lang="ts">
import { ref } from 'vue'
import { PALETTE, type TagRow } from '#contract/fields.ts'
import { call, post, put } from '#web/api/client.ts'
import ColourField from '#web/parts/ColourField.vue'
import TypeIn from '#web/parts/TypeIn.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** The tags there are: named, coloured, made, removed. */
defineProps<{ may: boolean }>()
const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
const tag = ref<{ name: string; colour: string }>({ name: '', colour: 'teal' })
const tagged = (work: () => Promise<unknown>, said: string): Promise<boolean> =>
  attempt(async () => {
    messages.did(said, await work())
    await session.read()
  })
async function addTag(): Promise<void> {
  if (await tagged(() => post('/tags', tag.value), `The tag “${tag.value.name}” is made.`))
    tag.value = { name: '', colour: PALETTE[session.directory.tags.length % PALETTE.length]! }
}
const saveTag = (t: TagRow, change: Partial<TagRow>) =>
  tagged(
    () => put(`/tags/${t.id}`, { name: change.name ?? t.name, colour: change.colour ?? t.colour }),
    'The tag is saved.',
  )
</script>

<template>
  <section>
    <h2 class="section">Tags</h2>
    <ul class="tags">
      <li v-for="t in session.directory.tags" :key="t.id">
        <span class="tint" :class="`c-${t.colour}`">{{ t.name }}</span>
        <template v-if="session.me?.may.member">
          <TypeIn
            :most="40"
            :value="t.name"
            :label="`Name of the tag ${t.name}`"
            @typed="saveTag(t, { name: $event })"
          />
          <ColourField
            :model-value="t.colour"
            :label="`Colour of ${t.name}`"
            @update:model-value="saveTag(t, { colour: $event })"
          />
        </template>
        <v-btn
          variant="text"
          v-if="may"
          @click="
            tagged(
              () => call('DELETE', `/tags/${t.id}`),
              `The tag “${t.name}” is gone from every task.`,
            )
          "
        >
          Remove
        </v-btn>
      </li>
    </ul>
    <form v-if="session.me?.may.member" class="btns" @submit.prevent="addTag">
      <v-text-field
        v-model="tag.name"
        class="short"
        maxlength="40"
        placeholder="A new tag"
        aria-label="Name of a new tag"
        required
      />
      <ColourField v-model="tag.colour" label="Colour of the new tag" />
      <v-btn type="submit">Make it</v-btn>
    </form>
  </section>
</template>

<style scoped>
.tags {
  list-style: none;
  padding: 0;
  columns: 2;
  max-width: 900px;
}
.tags li {
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 3px 0;
  break-inside: avoid;
}
.tags :deep(.v-input) {
  width: 140px;
}
.tags .tint {
  min-width: 92px;
}
.short {
  width: 180px;
}
@media (max-width: 900px) {
  .tags {
    columns: 1;
  }
  .tags li {
    flex-wrap: wrap;
  }
  .tags :deep(.v-input) {
    width: 104px;
  }
}
</style>
