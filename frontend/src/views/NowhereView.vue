<script setup lang="ts">
import { RouterLink } from 'vue-router'
</script>

<template>
  <div class="p-3">
    <h1>Not there</h1>
    <p>There is nothing at this address.</p>
    <RouterLink class="btn" to="/calls">back to Calls</RouterLink>
  </div>
</template>
