// The pictures of Walk. The circuit is there at once; the others are fetched once the screen stands, so that a slow line brings
// the readings first.
import { defineAsyncComponent, type Component } from 'vue'

const LATER = {
  staircase: () => import('./StaircasePicture.vue'),
  flow: () => import('./FlowPicture.vue'),
  heads: () => import('./HeadsPicture.vue'),
  coils: () => import('./CoilsPicture.vue'),
  cycle: () => import('./CyclePane.vue'),
  command: () => import('./CommandPicture.vue'),
  defrost: () => import('./DefrostPane.vue'),
  runs: () => import('./RunsPicture.vue'),
  marks: () => import('./MarksPane.vue'),
  notes: () => import('./NotesField.vue'),
  photos: () => import('./PhotosPane.vue'),
  valve: () => import('./ValvePicture.vue'),
  valveRuns: () => import('./ValveRuns.vue'),
}
const FETCH_AFTER_MS = 2500

const later = <T extends Component>(load: () => Promise<{ default: T }>) => defineAsyncComponent<T>(load as never)

export const StaircasePicture = later(LATER.staircase)
export const FlowPicture = later(LATER.flow)
export const HeadsPicture = later(LATER.heads)
export const CoilsPicture = later(LATER.coils)
export const CyclePane = later(LATER.cycle)
export const CommandPicture = later(LATER.command)
export const DefrostPane = later(LATER.defrost)
export const RunsPicture = later(LATER.runs)
export const MarksPane = later(LATER.marks)
export const NotesField = later(LATER.notes)
export const PhotosPane = later(LATER.photos)
export const ValvePicture = later(LATER.valve)
export const ValveRuns = later(LATER.valveRuns)

/** Fetch the others while nothing else is asked of the line. */
export function fetchPictures() {
  setTimeout(() => Object.values(LATER).forEach((load) => void load().catch(() => undefined)), FETCH_AFTER_MS)
}
