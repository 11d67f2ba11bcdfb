<script setup lang="ts">
// The command: the terminal strip with what each should read now and what it reads, and where the voltage ends.
import { computed } from 'vue'
import type { BoardLine, Check, Terminal } from '../api/types'
import StatusMark from '../shell/StatusMark.vue'
import { useCatalogue } from '../stores/catalogue'
import type { Spot } from '../stores/visit'
import { figure } from './figures'

const props = defineProps<{ terminals: Terminal[]; checks: Check[]; board: BoardLine[]; energizedIn: string; selected: string }>()
defineEmits<{ press: [spot: Spot] }>()
const catalogue = useCatalogue()

const valveTerminal = computed(() => props.terminals.find((t) => t.station === 'terminal_o' || t.station === 'terminal_b')?.station ?? '')
const CHAIN = [
  { name: 'call', code: 'command.call' },
  { name: 'thermostat’s command', code: 'command.valve_terminal' },
  { name: 'board and wire', code: 'command.solenoid_voltage' },
  { name: 'coil', code: 'command.solenoid_resistance' },
  { name: 'valve', code: 'valve.position' },
] as const
const chain = computed(() =>
  CHAIN.map(({ name, code }) => ({ name, check: props.checks.find((c) => c.code === code) })),
)
// A board's output is live or dead, but the fan's: that one turns or stands.
const state = (line: BoardLine, on: boolean | null) => {
  if (on === null) return 'either'
  if (line.station === 'outdoor_fan') return on ? 'turns' : 'stands'
  return on ? '24 V' : '0 V'
}
const read = (line: BoardLine, on: boolean | null) => (on === null ? '—' : state(line, on))
const agrees = (should: boolean | null, on: boolean | null) => on === null || should === null ? 'needs_readings' : should === on ? 'pass' : 'fail'
const convention = computed(() => props.checks.find((c) => c.code === 'command.convention' && c.status !== 'pass'))
const said = computed(() =>
  chain.value.flatMap(({ check }) => (check && (check.status === 'fail' || check.status === 'watch') ? [check] : [])),
)
</script>

<template>
  <div class="command">
    <p>This unit energizes its valve in <strong>{{ energizedIn }}</strong> ({{ catalogue.title(valveTerminal) }}). Volts to C (common).</p>
    <div class="strip" role="group" aria-label="Control terminals">
      <button
        v-for="t in terminals" :key="t.station" type="button" class="terminal" :class="{ selected: selected === t.station }"
        @click="$emit('press', { station: t.station, quantity: 'voltage' })"
      >
        <span class="screw" aria-hidden="true" />
        <b>{{ catalogue.short(t.station) }}</b>
        <span class="quiet">should: {{ catalogue.word('should', t.should) }}</span>
        <span class="figure reads">{{ t.volts === null ? '—' : `${figure(t.volts)} V` }}</span>
        <StatusMark :status="t.status" :word="t.status !== 'needs_readings'" />
        <span class="visually-hidden">{{ t.why }}</span>
      </button>
      <button type="button" class="terminal" :class="{ selected: selected === 'solenoid' }" @click="$emit('press', { station: 'solenoid', quantity: 'resistance' })">
        <span class="screw" aria-hidden="true" />
        <b>coil, ohms</b>
        <span class="quiet">wires off</span>
        <StatusMark :status="chain[3]?.check?.status ?? 'needs_readings'" :word="!!chain[3]?.check" />
      </button>
    </div>
    <ol class="chain" aria-label="Where the command ends">
      <li v-for="link in chain" :key="link.name" :class="link.check?.status ?? 'needs_readings'">
        <span>{{ link.name }}</span>
        <StatusMark :status="link.check?.status ?? 'needs_readings'" />
      </li>
    </ol>
    <p v-if="convention" class="note">{{ convention.explain }}</p>
    <ul v-if="said.length" class="said">
      <li v-for="check in said" :key="check.code">{{ check.explain }}</li>
    </ul>
    <table v-if="board.length" class="board">
      <caption>Defrost board: what each must be, and what was read</caption>
      <thead><tr><th scope="col">terminal</th><th scope="col">heating</th><th scope="col">read</th><th scope="col">defrost</th><th scope="col">read</th><th scope="col">feeds</th></tr></thead>
      <tbody>
        <tr v-for="line in board" :key="line.station">
          <th scope="row">{{ catalogue.short(line.station) }}</th>
          <td>{{ state(line, line.heating) }}</td>
          <td class="read"><span>{{ read(line, line.read_in_heating) }}</span> <StatusMark v-if="line.read_in_heating !== null && line.heating !== null" :status="agrees(line.heating, line.read_in_heating)" :word="false" /></td>
          <td>{{ state(line, line.defrost) }}</td>
          <td class="read"><span>{{ read(line, line.read_in_defrost) }}</span> <StatusMark v-if="line.read_in_defrost !== null && line.defrost !== null" :status="agrees(line.defrost, line.read_in_defrost)" :word="false" /></td>
          <td class="quiet">{{ line.feeds }}</td>
        </tr>
      </tbody>
    </table>
    <p class="caution">
      Live terminals: lock out and verify zero voltage before touching wiring; capacitors hold charge. Wire colors prove
      nothing: follow terminals. Read the coil’s resistance with its wires off.
    </p>
  </div>
</template>

<style scoped>
.command {
  padding: 0.6rem 0.9rem;
  display: grid;
  gap: 0.7rem;
  align-content: start;
  align-self: start;
}
p {
  margin: 0;
}
.strip {
  display: flex;
  flex-wrap: wrap;
  gap: 0;
}
.terminal {
  display: grid;
  justify-items: center;
  gap: 0.15rem;
  min-width: 7.2rem;
  padding: 0.5rem 0.4rem;
  background: var(--raised);
  color: var(--ink);
  border: 1px solid var(--edge);
  margin: 0 -1px -1px 0;
  align-content: start;
}
.terminal.selected {
  outline: 3px solid var(--ink);
  z-index: 1;
}
.screw {
  width: 1.5rem;
  height: 1.5rem;
  border: 2px solid var(--ink);
  border-radius: 50%;
  display: grid;
  place-items: center;
  transform: rotate(45deg);
}
.screw::after {
  content: '';
  width: 70%;
  border-top: 2px solid var(--ink);
}
.reads {
  font-size: 1.25rem;
}
.chain {
  list-style: none;
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem 0;
  padding: 0;
  margin: 0;
}
.chain li {
  display: grid;
  gap: 0.1rem;
  padding: 0.3rem 1.4rem 0.3rem 0.7rem;
  border-left: 6px solid currentcolor;
}
.chain li > span:first-child {
  color: var(--ink);
}
.board {
  border-collapse: collapse;
  width: max-content;
  max-width: 100%;
}
.board caption {
  caption-side: top;
  color: var(--ink);
  font-weight: 600;
  padding: 0 0 0.2rem;
}
.board th,
.board td {
  padding: 0.15rem 0.9rem 0.15rem 0;
  border-bottom: 1px solid var(--hair);
  text-align: left;
}
.board thead th {
  font-weight: 400;
  color: var(--quiet);
}
.read {
  font-family: var(--figure);
}
.note,
.caution {
  border: 1px solid var(--watch);
  border-left-width: 6px;
  padding: 0.45rem 0.8rem;
}
.said {
  margin: 0;
  padding-left: 1.1rem;
}
</style>
