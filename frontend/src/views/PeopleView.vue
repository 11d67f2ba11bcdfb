<script setup lang="ts">
// Whoever has signed in, and, for a lead, who else works here.
import { onMounted } from 'vue'
import { RouterLink } from 'vue-router'
import { useAttempt } from '../composables/useAttempt'
import AccountTable from '../people/AccountTable.vue'
import OwnAccount from '../people/OwnAccount.vue'
import ShopFields from '../people/ShopFields.vue'
import { usePeople } from '../stores/people'
import { useSession } from '../stores/session'

const session = useSession()
const people = usePeople()
const { trouble, attempt } = useAttempt()
onMounted(() => session.may('people') && attempt(people.load))
</script>

<template>
  <div class="page">
    <h1>People</h1>
    <p v-if="trouble" class="alert-line" role="alert">{{ trouble }}</p>
    <div class="beside">
      <div class="own">
        <OwnAccount />
        <ShopFields v-if="session.may('shop')" />
      </div>
      <AccountTable v-if="session.may('people')" />
    </div>
    <p v-if="session.may('people')" class="onward">
      <RouterLink class="btn" :to="{ name: 'audit' }">the audit: who wrote what, and when</RouterLink>
      <RouterLink class="btn" :to="{ name: 'records' }">records: take them out, bring others in</RouterLink>
    </p>
  </div>
</template>

<style scoped>
.beside {
  display: grid;
  grid-template-columns: minmax(0, 24rem) minmax(0, 44rem);
  gap: 1rem;
  align-items: start;
  margin-bottom: 1rem;
}
.own {
  display: grid;
  gap: 1rem;
}
.onward {
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
}
@media (max-width: 64rem) {
  .beside {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
