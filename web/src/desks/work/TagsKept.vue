<script setup lang="ts">
import { ref } from 'vue'
import { PALETTE, type TagRow } from '#contract/fields.ts'
import { call, post, put, sentence } from '#web/api/client.ts'
import TypeIn from '#web/parts/TypeIn.vue'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** The tags there are: named, coloured, made, removed. */
defineProps<{ may: boolean }>()
const session = useSession()
const messages = useMessages()
const tag = ref({ name: '', colour: 'teal' })
async function tagged(work: () => Promise<unknown>, said: string): Promise<boolean> {
  try {
    messages.did(said, await work())
    await session.read()
    return true
  } catch (problem) {
    messages.fault(sentence(problem))
    return false
  }
}
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
          <select
            class="inp"
            :value="t.colour"
            :aria-label="`Colour of ${t.name}`"
            @change="saveTag(t, { colour: ($event.target as HTMLSelectElement).value })"
          >
            <option v-for="c in PALETTE" :key="c" :value="c">{{ c }}</option>
          </select>
        </template>
        <button
          v-if="may"
          class="btn flat"
          @click="
            tagged(
              () => call('DELETE', `/tags/${t.id}`),
              `The tag “${t.name}” is gone from every task.`,
            )
          "
        >
          Remove
        </button>
      </li>
    </ul>
    <form v-if="session.me?.may.member" class="btns" @submit.prevent="addTag">
      <input
        v-model="tag.name"
        class="inp short"
        maxlength="40"
        placeholder="A new tag"
        aria-label="Name of a new tag"
        required
      />
      <select v-model="tag.colour" class="inp auto-w" aria-label="Colour of the new tag">
        <option v-for="c in PALETTE" :key="c" :value="c">{{ c }}</option>
      </select>
      <button class="btn">Make it</button>
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
.tags :deep(.inp) {
  width: 140px;
}
.tags .tint {
  min-width: 92px;
}
.short {
  width: 180px;
}
.auto-w {
  width: auto;
}
@media (max-width: 900px) {
  .tags {
    columns: 1;
  }
  .tags li {
    flex-wrap: wrap;
  }
  .tags :deep(.inp) {
    width: 104px;
  }
}
</style>
