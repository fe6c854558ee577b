import type { UnitSystem } from '@kivram/core/units';
import type { TypedNumber } from '../parts/NumberField';

/** A new job as it is typed. */
export interface JobForm extends Record<string, unknown> {
  name: string;
  customer: string;
  country: string;
  units: UnitSystem;
  workerName: string;
  copyOf: string;
  /** where: a first place, if one is known by its coordinates */
  placeName: string;
  position: string;
  groundM: TypedNumber;
}
