<script setup lang="ts">
import SubNav from '#web/parts/SubNav.vue'
</script>

<template>
  <SubNav
    label="Clockwork"
    :links="[
      { to: '/clockwork/templates', name: 'Templates' },
      { to: '/clockwork/series', name: 'Series' },
      { to: '/clockwork/round', name: 'Round' },
      { to: '/clockwork/rules', name: 'Rules' },
      { to: '/clockwork/log', name: 'Run log' },
      { to: '/clockwork/why', name: 'Why not?' },
    ]"
  >
    <slot />
  </SubNav>
</template>
