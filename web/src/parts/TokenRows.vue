<script setup lang="ts">
import type { TokenRow } from '#contract/tokens.ts'
import { SCOPE_NAMES } from './scopes.ts'
import { useSession } from '#web/state/session.ts'

/** Tokens in force: what each may, when it was used and when it ends; each can be stopped. */
defineProps<{ tokens: readonly TokenRow[] }>()
const emit = defineEmits<{ stop: [token: TokenRow] }>()
const session = useSession()
const used = ({ usedAt }: TokenRow) =>
  usedAt === null ? 'never used' : `last used ${session.sayAt(usedAt)}`
</script>

<template>
  <ul>
    <li v-for="token in tokens" :key="token.id">
      <span>
        <b>{{ token.name }}</b>
        {{ token.scopes.map((scope) => SCOPE_NAMES[scope]).join('; ') }}
        <span class="quiet small">{{ used(token) }}, ends {{ session.sayAt(token.endsAt) }}</span>
      </span>
      <v-btn variant="text" :aria-label="`Stop ${token.name}`" @click="emit('stop', token)">
        Stop
      </v-btn>
    </li>
  </ul>
</template>

<style scoped>
li span span {
  display: block;
}
</style>
