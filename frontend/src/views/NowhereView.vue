<template>
  <p class="m-4">There is no screen at this address. <RouterLink to="/calls">Go to the calls.</RouterLink></p>
</template>
