// A danger is heard and felt as it begins, where the device has a loudspeaker or a motor and lets a page use them.
import { watch } from 'vue'

const BEEPS = 3
const EVERY_S = 0.55

/** Three beeps and three pushes; a device that refuses either still shows the danger. */
export function ring() {
  navigator.vibrate?.([400, 150, 400, 150, 400])
  try {
    const context = new AudioContext()
    for (let n = 0; n < BEEPS; n++) {
      const tone = context.createOscillator()
      tone.type = 'square'
      tone.frequency.value = 880
      tone.connect(context.destination)
      tone.start(context.currentTime + n * EVERY_S)
      tone.stop(context.currentTime + n * EVERY_S + 0.4)
    }
    setTimeout(() => void context.close(), 1000 * EVERY_S * (BEEPS + 1))
  } catch {
    // No loudspeaker, or none allowed.
  }
}

/** Rings once for each danger as it begins; `danger` is what it is, empty while there is none. */
export function useAlarm(danger: () => string, loud: () => boolean, by = ring) {
  watch(danger, (now) => void (now && loud() && by()), { immediate: true })
}
