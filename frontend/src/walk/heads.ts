// The heads of a unit that has several: whose a station is, and a run as it is seen along one of them.
import type { HeadExamination, RunExamination } from '../api/types'

/** A station as a unit with one head has it: `indoor_coil` of `indoor_coil:2`. */
export const baseOf = (station: string) => station.split(':')[0]!

/** The number of the head a station is of; 0 where none is. Coil circuits are numbered too. */
export const headOf = (station: string) => (station.includes('_circuit:') ? 0 : Number(station.split(':')[1] ?? 0))

/** The same place of another head, where this unit has it. */
export const atHead = (station: string, head: number) => (headOf(station) ? `${baseOf(station)}:${head}` : station)

/** A run as it is seen along one of its heads. */
export function alongHead(run: RunExamination, head: HeadExamination | undefined): RunExamination {
  if (!head) return run
  const { path, legs, levels, devices, expected } = head
  // What departs furthest is said of the line the run was examined along.
  return { ...run, path, legs, levels, devices, expected, departure: head.along ? run.departure : null }
}

/** What is known of a head, in a few words. */
export function stateOf({ calls, outdoors, indoors }: HeadExamination): string {
  const called = calls === null ? 'not noted whether it calls' : calls ? 'calls' : 'idle'
  const states = [...new Set([outdoors, indoors].filter((one) => one !== null))]
  if (!states.length) return `${called}, not read`
  const ways = { fed: 'fed', bleeding: calls ? 'hardly fed' : 'bleeding', still: calls ? 'not fed' : 'shut' }
  return `${called}, ${states.length === 1 ? ways[states[0]!] : `${outdoors ? ways[outdoors] : '?'} at its port, ${indoors ? ways[indoors] : '?'} in its room`}`
}

/** Whether a head does what it should not. */
export const isOdd = ({ calls, outdoors, indoors }: HeadExamination) =>
  calls === null ? false : [outdoors, indoors].includes(calls ? 'still' : 'fed')
