// Probes within reach of this browser, by its own Bluetooth: what they say is sent on byte for byte, and understood by the server.
// Of the browser's interface only this much is used. [published: W3C Web Bluetooth, from memory]

interface Characteristic extends EventTarget {
  uuid: string
  value?: DataView | undefined
  properties: { notify: boolean; indicate: boolean; read: boolean }
  startNotifications(): Promise<unknown>
  readValue(): Promise<DataView>
}
interface Server {
  getPrimaryService(service: number): Promise<{ getCharacteristics(): Promise<Characteristic[]> }>
}
interface Device extends EventTarget {
  id: string
  name?: string | undefined
  gatt?: { connect(): Promise<Server>; disconnect(): void } | undefined
}
export interface Radio {
  requestDevice(asked: { filters: { services: number[] }[]; optionalServices: number[] }): Promise<Device>
}
export interface Relay {
  found: { address: string; name: string }[]
  said: { address: string; characteristic: number; instance: number; data: string; ago: number }[]
  lost: string[]
}

const ENVIRONMENTAL_SENSING = 0x181a
const BATTERY = 0x180f
/** Behind each number of the SIG's own, in its long form. */
const BASE = '-0000-1000-8000-00805f9b34fb'
const AGAIN_MS = [2000, 4000, 8000, 15_000, 30_000]
/** What can't be sent is kept for so long: the server takes no more at once. */
const MOST_KEPT = 5000
const LONGEST_AGO_S = 3600

/** The browser's Bluetooth; null where it has none, or the page did not come over a line it trusts. */
export const radioHere = (): Radio | null => (navigator as { bluetooth?: Radio }).bluetooth ?? null

const numberOf = (uuid: string) => (uuid.toLowerCase().endsWith(BASE) ? parseInt(uuid.slice(4, 8), 16) : null)
const hexOf = (data: DataView) => Array.from(new Uint8Array(data.buffer, data.byteOffset, data.byteLength), (byte) => byte.toString(16).padStart(2, '0')).join('')

export class Nearby {
  private devices = new Map<string, Device>()
  private ears = new Map<string, AbortController>()
  private said: (Omit<Relay['said'][number], 'ago'> & { at: number })[] = []
  private lost: string[] = []
  private ended = false

  constructor(
    private radio: Radio,
    private clock: () => number = () => performance.now() / 1000,
  ) {}

  /** Have one chosen in the browser's own window, which opens only where somebody has just pressed something; null where nobody
   * chose one. */
  async choose(): Promise<{ address: string; name: string } | null> {
    let device: Device
    try {
      device = await this.radio.requestDevice({ filters: [{ services: [ENVIRONMENTAL_SENSING] }], optionalServices: [BATTERY] })
    } catch (error) {
      if ((error as Error).name === 'NotFoundError') return null
      throw error
    }
    const one = { address: device.id, name: (device.name || 'Probe').slice(0, 64) }
    if (this.devices.has(device.id)) return one
    await this.hear(device)
    this.devices.set(device.id, device)
    device.addEventListener('gattserverdisconnected', () => {
      this.lost.push(device.id)
      void this.again(device)
    })
    return one
  }

  private async hear(device: Device) {
    const server = await device.gatt!.connect()
    // What is listened to anew is not listened to twice.
    this.ears.get(device.id)?.abort()
    const ear = new AbortController()
    this.ears.set(device.id, ear)
    const count = new Map<number, number>()
    for (const service of [ENVIRONMENTAL_SENSING, BATTERY]) {
      // One without a battery level says nothing of it.
      const characteristics = await server
        .getPrimaryService(service)
        .then((one) => one.getCharacteristics())
        .catch((error: unknown) => {
          if (service === ENVIRONMENTAL_SENSING) throw error
          return []
        })
      for (const one of characteristics) {
        const number = numberOf(one.uuid)
        if (number === null) continue
        const instance = (count.get(number) ?? 0) + 1
        count.set(number, instance)
        await this.follow(device.id, one, number, instance, ear.signal)
      }
    }
  }

  private async follow(address: string, one: Characteristic, characteristic: number, instance: number, signal: AbortSignal) {
    const say = (data: DataView | undefined) => {
      if (!data || this.ended) return
      this.said.push({ address, characteristic, instance, data: hexOf(data), at: this.clock() })
      if (this.said.length > MOST_KEPT) this.said.shift()
    }
    if (one.properties.notify || one.properties.indicate) {
      one.addEventListener('characteristicvaluechanged', () => say(one.value), { signal })
      await one.startNotifications()
    }
    if (one.properties.read) say(await one.readValue())
  }

  private async again(device: Device, tried = 0) {
    await new Promise((done) => setTimeout(done, AGAIN_MS[Math.min(tried, AGAIN_MS.length - 1)]))
    if (this.ended) return
    await this.hear(device).catch(() => this.again(device, tried + 1))
  }

  /** Send on what came since the last time; what could not be sent waits for the next. */
  async sendOn(send: (relay: Relay) => Promise<unknown>) {
    const { said, lost } = this
    if (!said.length && !lost.length) return
    ;[this.said, this.lost] = [[], []]
    const now = this.clock()
    try {
      await send({ found: [], lost, said: said.map(({ at, ...one }) => ({ ...one, ago: Math.min(Math.max(0, now - at), LONGEST_AGO_S) })) })
    } catch (error) {
      this.lost = [...lost, ...this.lost]
      this.said = [...said, ...this.said].slice(-MOST_KEPT)
      throw error
    }
  }

  close() {
    this.ended = true
    for (const device of this.devices.values()) device.gatt?.disconnect()
    this.devices.clear()
  }
}
