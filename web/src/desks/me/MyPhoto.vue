<script setup lang="ts">
import { computed } from 'vue'
import { call, remove } from '#web/api/client.ts'
import FileDrop from '#web/parts/FileDrop.vue'
import PersonMark from '#web/parts/PersonMark.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** My photo, which stands wherever my name does: set, or taken off. */
const session = useSession()
const messages = useMessages()
const { wrong, busy, attempt } = useAttempt('here')
const has = computed(() => session.me !== null && session.photos.has(session.me.id))
const LARGEST = 1024 * 1024
const set = ([file]: File[]) =>
  attempt(async () => {
    if (!file) return
    if (file.size > LARGEST) throw new Error('A photo is 1 MB at most; choose a smaller one.')
    const done = await call<object>('POST', '/me/photo', { bytes: file })
    await session.refresh(true)
    messages.did('That is your photo now.', done)
  })
const takeOff = () =>
  attempt(async () => {
    const done = await remove('/me/photo')
    await session.refresh(true)
    messages.did('Your photo is taken off.', done)
  })
</script>

<template>
  <div class="photo">
    <PersonMark v-if="session.me" class="big" :person="session.me" />
    <FileDrop
      title="My photo: a PNG, JPEG or WebP"
      label="My photo"
      accept="image/png,image/jpeg,image/webp"
      :busy="busy"
      @files="set"
    />
    <v-btn v-if="has" variant="text" @click="takeOff">Take my photo off</v-btn>
  </div>
  <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
</template>

<style scoped>
.photo {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 12px;
  margin: 10px 0;
}
.big {
  width: 56px;
  height: 56px;
  font-size: 20px;
}
</style>
