<script setup lang="ts">
import { ref } from 'vue'
import { useSession } from '#web/state/session.ts'
import { later } from '#web/state/later.ts'

const RichText = later(() => import('./RichText.vue'))

/** Something somebody said: who, when and what; whoever said it may reword it. */
const props = defineProps<{
  said: {
    readonly author: { readonly name: string } | null
    readonly at: number
    readonly body: string
    readonly mine: boolean
  }
  /** What the words are called while they are reworded. */
  label: string
  /** Who can be named in them. */
  around?: readonly { id: number; name: string }[]
  /** Saves other words, none to take it away; answers whether they were saved. */
  reword: (body: string) => Promise<boolean>
}>()
const session = useSession()
/** How it will read; null while nobody rewords it. */
const words = ref<string | null>(null)
async function save(): Promise<void> {
  if (words.value !== null && (await props.reword(words.value))) words.value = null
}
</script>

<template>
  <div class="note">
    <div class="k">
      <span>
        {{ said.author?.name ?? 'Fernwick' }}
        <slot />
      </span>
      <span>
        {{ session.sayAt(said.at) }}
        <v-btn v-if="said.mine" variant="plain" class="auto edit" @click="words = said.body">
          reword
        </v-btn>
      </span>
    </div>
    <template v-if="words !== null">
      <RichText v-model="words" :label="label" :around="around" @send="save" />
      <p class="btns">
        <v-btn variant="flat" @click="save">Save</v-btn>
        <v-btn @click="words = null">Leave it</v-btn>
        <span class="small quiet">Emptied, it is removed.</span>
      </p>
    </template>
    <!-- eslint-disable-next-line vue/no-v-html -- made safe by the server -->
    <div v-else class="rich" v-html="said.body" />
  </div>
</template>

<style scoped>
.edit {
  margin-left: 8px;
}
</style>
