// Names for the generated types, so that views don't spell out their path.
import type { components } from './schema'

type Schemas = components['schemas']

export type Catalogue = Schemas['Catalogue']
export type StationEntry = Schemas['StationEntry']
export type VisitView = Schemas['VisitView']
export type VisitLine = Schemas['VisitLine']
export type UnitView = Schemas['UnitView']
export type NewVisit = Schemas['NewVisit']
export type NewReading = Schemas['NewReading']
export type NewRun = Schemas['NewRun']
export type Clock = Schemas['Clock']
export type Unit = Schemas['Unit-Input']
export type Run = Schemas['Run']
export type RunExamination = Schemas['RunExamination']
export type ReadingInForce = Schemas['ReadingInForce']
export type PathStop = Schemas['PathStop']
export type Check = Schemas['Check']
export type Indicator = Schemas['Indicator']
export type NextReading = Schemas['NextReading']
export type ProblemDetails = Schemas['ProblemDetails']
export type Reading = Schemas['NewReading']['reading']
export type Method = NonNullable<Reading['method']>
export type Mode = Schemas['NewRun']['mode']
export type Complaint = NonNullable<Schemas['NewVisit']['complaint']>
export type Status = Check['status']
export type ApparentMode = RunExamination['apparent_mode']
export type UnitSystem = 'field' | 'metric'
