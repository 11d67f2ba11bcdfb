<script setup lang="ts">
// Photos of the visit: a nameplate, a frost pattern, what was found. Taken back, one stays in the record.
import { BButton } from 'bootstrap-vue-next/components/BButton'
import { BFormInput } from 'bootstrap-vue-next/components/BFormInput'
import { BFormSelect } from 'bootstrap-vue-next/components/BFormSelect'
import { computed, ref } from 'vue'
import type { PhotoOf, PhotoView } from '../api/types'
import { useAttempt } from '../composables/useAttempt'
import { usePhotos } from '../stores/photos'
import { clockTime } from './figures'

const props = defineProps<{ visit: number; photos: PhotoView[]; words: Record<string, string>; shut: string; silent: boolean; largest: number }>()
defineEmits<{ takeBack: [key: string] }>()
const sending = usePhotos()
const { trouble, attempt } = useAttempt()

const about = ref<PhotoOf>('nameplate')
const caption = ref('')
const options = computed(() => Object.entries(props.words).map(([value, text]) => ({ value, text })))
const waiting = computed(() => (sending.waiting?.visit === props.visit ? sending.waiting : null))
const shut = computed(() => props.shut !== '' || props.silent || sending.busy)

function choose(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  // Chosen again, the same file is a new choice.
  input.value = ''
  if (!file) return
  void attempt(async () => {
    if (file.size > props.largest) throw new Error(`A photo is ${megabytes(props.largest)} MB at most; this one is ${megabytes(file.size)} MB.`)
    await sending.add(props.visit, file, about.value, caption.value.trim())
    caption.value = ''
  })
}
const megabytes = (bytes: number) => Math.round(bytes / 1024 ** 2)
const named = ({ photo }: PhotoView) => [props.words[photo.about], photo.caption].filter(Boolean).join(': ')
const source = ({ entry_key }: PhotoView) => `/api/visits/${props.visit}/photos/${entry_key}`
</script>

<template>
  <section class="photos" aria-labelledby="photos-title">
    <h2 id="photos-title">Photos <span class="quiet">of the visit, for the record and the report</span></h2>
    <div v-if="props.shut === ''" class="new">
      <div><label for="photo-about">It shows</label><BFormSelect id="photo-about" v-model="about" :options="options" /></div>
      <div class="caption"><label for="photo-caption">In words, if you like</label><BFormInput id="photo-caption" v-model="caption" maxlength="200" autocomplete="off" /></div>
      <label class="btn btn-secondary file" :class="{ disabled: shut }">Add a photo …<input type="file" class="visually-hidden" accept="image/jpeg,image/png,image/webp" :disabled="shut" @change="choose" /></label>
    </div>
    <p v-if="silent && props.shut === ''" class="quiet">A photo needs the server, which does not answer; take it now and add it later.</p>
    <p v-if="sending.busy" role="status">sending the photo</p>
    <p v-if="trouble" class="alert-line" role="alert">
      {{ trouble }}
      <template v-if="waiting && !sending.busy"><BButton size="sm" @click="attempt(sending.again)">send it again</BButton> <BButton size="sm" @click="sending.drop(); trouble = ''">leave it</BButton></template>
    </p>
    <p v-if="!photos.length" class="quiet">None yet. Place, time and device in a picture are not kept.</p>
    <ul v-else class="shown">
      <li v-for="one in photos" :key="one.entry_key">
        <figure>
          <a :href="source(one)" target="_blank"><img :src="source(one)" :alt="named(one)" :width="one.photo.width" :height="one.photo.height" loading="lazy" /></a>
          <figcaption>{{ named(one) }} <span class="quiet">{{ clockTime(one.recorded_at) }}<template v-if="one.by">, {{ one.by }}</template></span></figcaption>
          <BButton v-if="props.shut === ''" size="sm" :aria-label="`Take back: ${named(one)}`" @click="$emit('takeBack', one.entry_key)">take back</BButton>
        </figure>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.photos {
  padding: 0.4rem;
  display: grid;
  gap: 0.5rem;
  min-width: 0;
}
.photos p {
  margin: 0;
}
h2 .quiet {
  font-weight: 400;
}
.new {
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
  align-items: end;
}
.caption {
  flex: 1 1 12rem;
}
.file {
  align-content: center;
}
.file:focus-within {
  outline: 3px solid var(--focus, currentcolor);
  outline-offset: 2px;
}
.shown {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(11rem, 1fr));
  gap: 0.6rem;
  list-style: none;
  margin: 0;
  padding: 0;
}
figure {
  margin: 0;
  display: grid;
  gap: 0.25rem;
  justify-items: start;
}
figure a {
  display: block;
  width: 100%;
}
img {
  width: 100%;
  height: 8rem;
  object-fit: cover;
  border: 1px solid var(--hair);
  background: var(--hair);
}
figcaption {
  overflow-wrap: anywhere;
}
</style>
