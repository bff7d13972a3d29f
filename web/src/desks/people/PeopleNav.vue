<script setup lang="ts">
import { computed } from 'vue'
import SubNav from '#web/parts/SubNav.vue'
import { useSession } from '#web/state/session.ts'

/** The parts of the People desk: everybody and the firm, for managers; teams, for everybody inside. */
const session = useSession()
const links = computed(() => [
  ...(session.me?.may.structure
    ? [{ to: '/people', name: 'People', own: /^\/people(\/\d+.*)?$/ }]
    : []),
  { to: '/people/teams', name: 'Teams' },
  ...(session.me?.may.structure ? [{ to: '/people/firm', name: 'The firm' }] : []),
])
</script>

<template><SubNav label="Parts of People" :links="links" /></template>
