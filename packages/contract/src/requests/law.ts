import 'reflect-metadata';
import { Count } from '../decorators';
import { LicenceFields, LocalRuleFields } from '../entities/law';

/** A licence as it is to be, with the version that was changed; a new one is its fields alone. */
export class LicenceBody extends LicenceFields {
  @Count() version!: number;
}

/** A local rule as it is to be, with the version that was changed. */
export class LocalRuleBody extends LocalRuleFields {
  @Count() version!: number;
}
