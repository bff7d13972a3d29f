<script setup lang="ts">
import { computed, ref } from 'vue'
import type { MadeToken, TokenRow } from '#contract/tokens.ts'
import { remove } from '#web/api/client.ts'
import LoadState from '#web/parts/LoadState.vue'
import { plural } from '#web/parts/say.ts'
import TokenRows from '#web/parts/TokenRows.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useResource } from '#web/state/resource.ts'
import ShownOnce from './ShownOnce.vue'
import TokenAdd from './TokenAdd.vue'

/** Tokens by which programs ask in one's name: made, shown once, ended. */
const messages = useMessages()
const { attempt } = useAttempt()
const { data, error, reload } = useResource<TokenRow[]>(
  () => '/tokens',
  () => false,
)
const adding = ref(false)
const made = ref<MadeToken | null>(null)
const standing = computed(() => (data.value?.length ? plural(data.value.length, 'token') : 'none'))
async function added(token: MadeToken): Promise<void> {
  adding.value = false
  made.value = token
  await reload()
}
const end = (token: TokenRow) =>
  attempt(async () => {
    await remove(`/tokens/${token.id}`)
    if (made.value?.id === token.id) made.value = null
    messages.say(`“${token.name}” opens nothing any more.`)
    await reload()
  })
</script>

<template>
  <section aria-labelledby="me-tokens">
    <h2 id="me-tokens" class="section">
      Tokens for programs
      <span>{{ standing }}</span>
    </h2>
    <LoadState v-if="!data" :error="error" @retry="reload" />
    <template v-else>
      <ShownOnce v-if="made" what="token" :secret="made.secret" @kept="made = null">
        This is the token of “{{ made.name }}”. It is shown this once: keep it where its program
        finds it.
      </ShownOnce>
      <p v-if="!data.length" class="small quiet">
        By a token a program asks and changes in your name, as far as you let it. What it changes is
        named in the journal.
      </p>
      <TokenRows v-else :tokens="data" @stop="end" />
      <v-btn @click="adding = true">Make a token</v-btn>
    </template>
    <TokenAdd v-if="adding" @close="adding = false" @done="added" />
  </section>
</template>
