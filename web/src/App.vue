<script setup lang="ts">
import { useDark } from '@vueuse/core'
import { mdiBellOutline, mdiMagnify, mdiThemeLightDark } from '@mdi/js'
import { computed, nextTick, useTemplateRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useTheme } from 'vuetify'
import { whenSignedOut } from './api/client.ts'
import CarriedSlip from './drag/CarriedSlip.vue'
import AskFirst from './parts/AskFirst.vue'
import DayRibbon from './parts/DayRibbon.vue'
import Glyph from './parts/Glyph.vue'
import MessageFoot from './parts/MessageFoot.vue'
import PersonMark from './parts/PersonMark.vue'
import Sprig from './parts/Sprig.vue'
import TipFoot from './parts/TipFoot.vue'
import UnderWayFoot from './parts/UnderWayFoot.vue'
import { sendFor, waiting } from './api/offline-queue.ts'
import { useFindBox } from './state/findBox.ts'
import { useAgain } from './state/again.ts'
import { onChange, useLive } from './state/live.ts'
import { useOldAnswers } from './state/resource.ts'
import { useMessages } from './state/messages.ts'
import { useSession } from './state/session.ts'
import LineMenu from './parts/LineMenu.vue'
import { toWork } from './parts/to-work.ts'
import { useTypedOver } from './parts/typed-over.ts'
import { useFocusKept } from './parts/focus-kept.ts'
import { useKeysAnywhere } from './parts/useKeysAnywhere.ts'
import { later } from './state/later.ts'

const FindBox = later(() => import('./parts/find/FindBox.vue'))

const session = useSession()
const find = useFindBox()
const messages = useMessages()
const live = useLive()
const route = useRoute()
const router = useRouter()
const theme = useTheme()
const dark = useDark({
  selector: 'html',
  attribute: 'data-theme',
  valueDark: 'dark',
  valueLight: 'light',
})
// Whoever likes one of the two has it on every device.
watch(
  () => session.me?.ways.theme,
  (likes) => {
    if (likes) dark.value = likes === 'dark'
  },
  { immediate: true },
)
watch(dark, (on) => theme.change(on ? 'dark' : 'light'), { immediate: true })

watch(
  () => session.me?.id,
  (id) => {
    messages.forget()
    sendFor(id ?? null, messages.fault)
  },
  { immediate: true },
)
watch(
  () => session.me?.id,
  (id) => (id === undefined ? live.close() : live.open()),
  { immediate: true },
)
whenSignedOut(() => {
  if (!session.me) return
  session.me = null
  void router.push({ path: '/door', query: { to: route.fullPath } })
})
useOldAnswers()
// What had the focus went with the page before: it goes to the new one, not nowhere.
watch(
  () => route.path,
  async () => {
    await nextTick()
    if (document.activeElement === document.body)
      document.getElementById('main')?.focus({ preventScroll: true })
  },
  { flush: 'post' },
)
useKeysAnywhere()
useFocusKept()
useTypedOver()
/** Changes that alter what there is to choose from. */
const CHOICES = new Set([
  'all',
  'people',
  'timeOff',
  'teams',
  'teamMembers',
  'clients',
  'projects',
  'shares',
  'phases',
  'templates',
  'series',
  'stateSets',
  'clientStates',
  'states',
  'tags',
  'fields',
])
let choices = false
const again = useAgain(async () => {
  const all = choices
  choices = false
  return session.refresh(all).catch(() => 0)
})
onChange((change) => {
  choices ||= change.entities.some((entity) => CHOICES.has(entity))
  again.hear(change, choices || change.on.includes(session.me?.id ?? 0) ? 'now' : 'later')
})

const desks = computed(() => [
  { to: '/today', name: 'Today' },
  { to: '/work', name: 'Work' },
  ...(session.me?.may.member ? [{ to: '/clients', name: 'Clients' }] : []),
  ...(session.me?.may.member
    ? [{ to: session.me.may.structure ? '/people' : '/people/teams', name: 'People' }]
    : []),
  ...(session.me?.may.member ? [{ to: '/clockwork', name: 'Clockwork' }] : []),
])
const nav = useTemplateRef<HTMLElement>('nav')
// Where the desks have no room side by side, the one that is open is in sight.
watch(
  () => route.path,
  async () => {
    await nextTick()
    const on = nav.value?.querySelector('.on')
    on?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
  },
)
async function leave(): Promise<void> {
  await session.signOut()
  await router.push('/door')
}
</script>

<template>
  <v-app>
    <v-btn class="skip" @click="toWork">Skip to the work</v-btn>
    <header v-if="session.me && !route.meta['bare']" class="bar">
      <v-btn variant="plain" to="/today" class="mark" aria-label="Fernwick, to Today">
        <Sprig :size="20" />
        <span>Fernwick</span>
      </v-btn>
      <nav ref="nav" aria-label="Desks">
        <v-btn
          variant="plain"
          v-for="desk in desks"
          :key="desk.to"
          :to="desk.to"
          :class="{
            on:
              route.path.startsWith(desk.to) ||
              route.path.startsWith(`/${desk.name.toLowerCase()}/`),
          }"
        >
          {{ desk.name }}
        </v-btn>
      </nav>
      <span class="gap" />
      <span v-if="waiting" class="offline" role="status">
        No connection: {{ waiting === 1 ? 'a change is' : `${waiting} changes are` }} kept, and sent
        when it is back
      </span>
      <span v-else-if="!live.connected" class="offline" role="status">
        Connection lost, trying again
      </span>
      <v-btn variant="plain" class="tool find" @click="find.show()">
        <Glyph :path="mdiMagnify" />
        <span>Find or note</span>
        <kbd>/</kbd>
      </v-btn>
      <v-btn
        variant="plain"
        to="/notices"
        class="tool"
        :class="{ on: route.path.startsWith('/notices') }"
        :aria-label="`Notices, ${session.me.unread} unread`"
      >
        <Glyph :path="mdiBellOutline" />
        <b v-if="session.me.unread">{{ session.me.unread }}</b>
      </v-btn>
      <v-btn variant="plain" class="tool" aria-label="Light or dark" @click="dark = !dark">
        <Glyph :path="mdiThemeLightDark" />
      </v-btn>
      <LineMenu
        :label="`Signed in as ${session.me.name}`"
        :lines="[
          { name: 'My account', to: '/me' },
          { name: 'Keys', to: '/keys' },
          { name: 'Sign out', run: leave },
        ]"
      >
        <template #default="{ props }">
          <v-btn
            v-bind="props"
            variant="plain"
            class="tool"
            :aria-label="`Signed in as ${session.me.name}`"
          >
            <PersonMark :person="session.me" plain />
          </v-btn>
        </template>
        <template #head>
          <p class="who">
            <b>{{ session.me.name }}</b>
            <br />
            <span class="quiet">{{ session.me.title }}, {{ session.firm }}</span>
          </p>
        </template>
      </LineMenu>
    </header>
    <DayRibbon v-if="session.me && !route.meta['bare']" />
    <!-- Between a session that ran out and the door there is nobody to show anything to. -->
    <div id="main" tabindex="-1"><router-view v-if="session.me || route.meta['open']" /></div>
    <FindBox v-if="session.me" />
    <CarriedSlip />
    <MessageFoot />
    <UnderWayFoot />
    <AskFirst />
    <TipFoot />
  </v-app>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  height: 48px;
  padding: 0 20px;
  background: var(--bar);
  color: var(--bar-ink);
  gap: 14px;
}
.mark svg {
  color: var(--marigold);
}
.mark {
  font: 600 20px/1 var(--display);
  display: flex;
  gap: 8px;
  align-items: center;
  margin-right: 8px;
}
nav {
  display: flex;
  height: 100%;
}
nav a {
  color: var(--bar-ink-2);
  padding: 0 13px;
  display: flex;
  align-items: center;
  font-weight: 500;
  border-block: 3px solid transparent;
}
nav a.on {
  color: var(--bar-ink);
  border-bottom-color: var(--marigold);
}
.gap {
  flex: 1;
}
.tool {
  display: flex;
  align-items: center;
  gap: 4px;
  height: 32px;
  padding: 0 6px;
  border-radius: 4px;
  color: var(--bar-ink-2);
}
.tool:hover,
.tool.on {
  color: var(--bar-ink);
}
.tool > b:not(.person) {
  background: var(--marigold);
  color: #20180a;
  border-radius: 9px;
  font: 600 11px/1 var(--sans);
  padding: 3px 6px;
}
.find {
  border: 1px solid color-mix(in srgb, var(--bar-ink-2) 45%, transparent);
  padding: 0 8px;
  font-size: 12.5px;
}
.find kbd {
  font: 600 11px var(--sans);
  border: 1px solid color-mix(in srgb, var(--bar-ink-2) 45%, transparent);
  border-radius: 3px;
  padding: 0 4px;
}
.bar :focus-visible {
  outline-color: var(--marigold);
}
.offline {
  background: #b02a37;
  color: #fff;
  border-radius: 4px;
  padding: 4px 9px;
  font-size: 12.5px;
}
.keys {
  display: block;
  padding: 5px 9px;
}
.who {
  padding: 6px 9px 8px;
  border-bottom: 1px solid var(--rule);
  margin-bottom: 4px;
}
.skip {
  position: absolute;
  left: -999px;
}
.skip:focus {
  left: 8px;
  top: 8px;
  background: var(--sheet);
  padding: 6px 10px;
  z-index: 9;
}
#main:focus {
  outline: none;
}
@media (max-width: 700px) {
  .bar {
    padding: 0 6px;
    gap: 2px;
  }
  .tool {
    padding: 0 4px;
    flex: none;
  }
  .mark span {
    display: none;
  }
  .mark {
    margin-right: 0;
  }
  .find span,
  .find kbd {
    display: none;
  }
  nav {
    min-width: 0;
    overflow-x: auto;
    scrollbar-width: none;
  }
  nav a {
    padding: 0 6px;
    flex: none;
  }
  .offline {
    position: fixed;
    bottom: 8px;
    left: 8px;
    z-index: 5;
  }
}
</style>
