<script setup lang="ts">
// Fetches the dome that the cycle is drawn over.
import { ref, watch } from 'vue'
import type { CycleCorner, Dome, ExpectedCorner, Unit } from '../api/types'
import { useHandbook } from '../stores/handbook'
import { useSettings } from '../stores/settings'
import type { Shown, Spot } from '../stores/visit'
import CyclePicture from './CyclePicture.vue'

const props = defineProps<{ refrigerant: Unit['refrigerant']; corners: CycleCorner[]; expected: ExpectedCorner[]; shown: Map<string, Shown>; selected: Spot }>()
defineEmits<{ press: [spot: Spot] }>()
const book = useHandbook()
const settings = useSettings()

const dome = ref<Dome | null>(null)
watch(
  () => [props.refrigerant, settings.units],
  async () => (dome.value = await book.dome(props.refrigerant)),
  { immediate: true },
)
// The corners come in other units a moment before the dome does, or after.
const agree = () => [...props.corners, ...props.expected].every((corner) => corner.enthalpy.unit === dome.value?.enthalpy_unit)
</script>

<template>
  <CyclePicture v-if="dome && agree()" :dome="dome" :corners="corners" :expected="expected" :shown="shown" :selected="selected" @press="(spot) => $emit('press', spot)" />
</template>
