<script setup lang="ts">
import { computed, ref } from 'vue'
import type { TrayMail } from '#contract/desks.ts'
import { plural } from '#web/parts/say.ts'
import LoadState from '#web/parts/LoadState.vue'
import { useSession } from '#web/state/session.ts'
import { useResource } from '#web/state/resource.ts'
import NoticeTabs from './NoticeTabs.vue'

const session = useSession()
const { data, error, reload } = useResource<TrayMail[]>(() => '/mail')
const chosen = ref<string | null>(null)
const mail = computed(() => data.value?.find((m) => m.id === chosen.value) ?? data.value?.[0])
</script>

<template>
  <main>
    <NoticeTabs><v-btn @click="reload">Look again</v-btn></NoticeTabs>
    <div class="tray">
      <div class="list">
        <div class="g">
          {{ data ? plural(data.length, 'mail') + ' arrived at the stand-in server' : 'Mail tray' }}
        </div>
        <v-list-item
          v-for="m in data ?? []"
          :key="m.id"
          class="li"
          role="button"
          :class="{ on: m.id === mail?.id }"
          @click="chosen = m.id"
        >
          <b>{{ m.subject }}</b>
          <small>{{ m.to }} · {{ session.sayAt(m.at) }}</small>
        </v-list-item>
      </div>
      <div class="sheet">
        <LoadState v-if="!data" :error="error" @retry="reload" />
        <div v-else-if="!mail" class="empty">
          <h3>No mail has gone out</h3>
          <p>
            In the demo, every mail goes by SMTP to a stand-in server on this machine and can be
            read here. Nothing leaves it.
          </p>
        </div>
        <article v-else>
          <h1>{{ mail.subject }}</h1>
          <div class="sub">
            <span>to {{ mail.to }}</span>
            <span>from {{ mail.from }}</span>
            <span>{{ session.sayAt(mail.at) }}</span>
          </div>
          <pre>{{ mail.body }}</pre>
        </article>
      </div>
    </div>
  </main>
</template>

<style scoped>
.tray {
  display: grid;
  grid-template-columns: 380px minmax(0, 1fr);
  min-height: calc(100dvh - 168px);
}
.li b {
  overflow: hidden;
  text-overflow: ellipsis;
}
h1 {
  font-size: 21px;
}
pre {
  font: inherit;
  white-space: pre-wrap;
  border-top: 1px solid var(--rule);
  padding-top: 12px;
}
@media (max-width: 900px) {
  .tray {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
