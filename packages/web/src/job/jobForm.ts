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
  /** the job once it is made, while its first place and files are still being brought in; empty before */
  madeJobId: string;
  /** names of those files: what is in them a page cannot keep */
  fileNames: string[];
}
