// The rush of gas when a slide goes over: noise through a band that opens and closes. No recording.
const SECONDS = 1.1

export function rush() {
  const sound = new AudioContext()
  const buffer = sound.createBuffer(1, sound.sampleRate * SECONDS, sound.sampleRate)
  const samples = buffer.getChannelData(0)
  for (let at = 0; at < samples.length; at++) samples[at] = Math.random() * 2 - 1
  const noise = new AudioBufferSourceNode(sound, { buffer })
  const band = new BiquadFilterNode(sound, { type: 'bandpass', frequency: 2400, Q: 0.7 })
  const loud = new GainNode(sound, { gain: 0 })
  loud.gain.linearRampToValueAtTime(0.25, sound.currentTime + 0.06)
  loud.gain.exponentialRampToValueAtTime(0.001, sound.currentTime + SECONDS)
  band.frequency.exponentialRampToValueAtTime(500, sound.currentTime + SECONDS)
  noise.connect(band).connect(loud).connect(sound.destination)
  noise.addEventListener('ended', () => void sound.close())
  noise.start()
}
