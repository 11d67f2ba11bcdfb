// This browser's Bluetooth against a stand-in of its interface: what probes say goes on as it came, also after they were lost.
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { Nearby, type Relay } from '../src/recorder/nearby'

const long = (number: number) => `0000${number.toString(16)}-0000-1000-8000-00805f9b34fb`
const bytes = (...of: number[]) => new DataView(new Uint8Array(of).buffer)

class Said extends EventTarget {
  value: DataView | undefined
  constructor(
    public uuid: string,
    public properties = { notify: true, indicate: false, read: false },
    private first = bytes(),
  ) {
    super()
  }
  startNotifications = async () => this
  readValue = async () => this.first
  says(value: DataView) {
    this.value = value
    this.dispatchEvent(new Event('characteristicvaluechanged'))
  }
}

class Probe extends EventTarget {
  name = 'Clamp 3'
  connects = 0
  fails = 0
  constructor(public id: string, private services: Map<number, Said[]>) {
    super()
  }
  gatt = {
    disconnect: () => undefined,
    connect: async () => {
      this.connects += 1
      if (this.fails-- > 0) throw new Error('out of reach')
      return {
        getPrimaryService: async (number: number) => {
          const held = this.services.get(number)
          if (!held) throw new Error('no such service')
          return { getCharacteristics: async () => held }
        },
      }
    },
  }
}

let now = 100
let sent: Relay[] = []
const send = async (relay: Relay) => void sent.push(relay)
const radioOf = (device: Probe) => ({ requestDevice: async () => device })
const nearbyWith = (device: Probe) => new Nearby(radioOf(device) as never, () => now)

beforeEach(() => {
  now = 100
  sent = []
  vi.useFakeTimers()
})
afterEach(() => vi.useRealTimers())

describe('probes of this browser', () => {
  it('sends on what each characteristic says, in its bytes, counted where there are two of a kind, and how long ago', async () => {
    const [dry, wet, odd] = [new Said(long(0x2a6e)), new Said(long(0x2a6e)), new Said('f000aa00-0451-4000-b000-000000000000')]
    const battery = new Said(long(0x2a19), { notify: false, indicate: false, read: true }, bytes(83))
    const nearby = nearbyWith(new Probe('a', new Map([[0x181a, [dry, odd, wet]], [0x180f, [battery]]])))
    expect(await nearby.choose()).toEqual({ address: 'a', name: 'Clamp 3' })
    dry.says(bytes(0x34, 0x08))
    now = 100.5
    wet.says(bytes(0xf0, 0xff))
    odd.says(bytes(1))
    now = 101
    await nearby.sendOn(send)
    expect(sent).toEqual([
      {
        found: [],
        lost: [],
        said: [
          { address: 'a', characteristic: 0x2a19, instance: 1, data: '53', ago: 1 },
          { address: 'a', characteristic: 0x2a6e, instance: 1, data: '3408', ago: 1 },
          { address: 'a', characteristic: 0x2a6e, instance: 2, data: 'f0ff', ago: 0.5 },
        ],
      },
    ])
    await nearby.sendOn(send)
    expect(sent).toHaveLength(1)
  })

  it('keeps what could not be sent, with the moment it was heard', async () => {
    const dry = new Said(long(0x2a6e))
    const nearby = nearbyWith(new Probe('a', new Map([[0x181a, [dry]]])))
    await nearby.choose()
    dry.says(bytes(1, 0))
    await expect(nearby.sendOn(async () => Promise.reject(new Error('no line')))).rejects.toThrow('no line')
    now = 107
    dry.says(bytes(2, 0))
    await nearby.sendOn(send)
    expect(sent[0]!.said.map(({ data, ago }) => [data, ago])).toEqual([['0100', 7], ['0200', 0]])
  })

  it('says that one was lost, and listens again when it comes back', async () => {
    const dry = new Said(long(0x2a6e))
    const probe = new Probe('a', new Map([[0x181a, [dry]]]))
    const nearby = nearbyWith(probe)
    await nearby.choose()
    probe.fails = 2
    probe.dispatchEvent(new Event('gattserverdisconnected'))
    await nearby.sendOn(send)
    expect(sent[0]!.lost).toEqual(['a'])
    await vi.advanceTimersByTimeAsync(2000 + 4000 + 8000)
    expect(probe.connects).toBe(4)
    dry.says(bytes(3, 0))
    await nearby.sendOn(send)
    // Listened to twice, it is heard once.
    expect(sent[1]!.said.map((one) => one.data)).toEqual(['0300'])
  })

  it('says nothing where nobody chose one, and passes on what else went wrong', async () => {
    const refusing = (name: string) => new Nearby({ requestDevice: async () => Promise.reject(new DOMException('x', name)) })
    expect(await refusing('NotFoundError').choose()).toBeNull()
    await expect(refusing('SecurityError').choose()).rejects.toThrow('x')
    const dry = new Said(long(0x2a6e))
    const nearby = nearbyWith(new Probe('a', new Map([[0x181a, [dry]]])))
    await nearby.choose()
    nearby.close()
    dry.says(bytes(1, 0))
    await nearby.sendOn(send)
    expect(sent).toEqual([])
  })
})
