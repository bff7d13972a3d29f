<script setup lang="ts">
import SubNav from '#web/parts/SubNav.vue'
import { useSession } from '#web/state/session.ts'

const session = useSession()
</script>

<template>
  <SubNav
    label="Notices"
    :links="[
      { to: '/notices', name: 'Notices' },
      ...(session.me?.demo ? [{ to: '/notices/mail', name: 'Mail tray' }] : []),
    ]"
  >
    <slot />
  </SubNav>
</template>
