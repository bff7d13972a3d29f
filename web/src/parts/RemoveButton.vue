<script setup lang="ts">
import { mdiClose } from '@mdi/js'
import Glyph from './Glyph.vue'

/** Takes away, or closes, what it stands beside; its `aria-label` says what. */
</script>

<template>
  <v-btn icon>
    <Glyph :path="mdiClose" :size="15" />
  </v-btn>
</template>
