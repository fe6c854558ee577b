import { bandWords } from '../../gear/model';
import type { Cause } from '../pair';

export const band: Cause = {
  cause: 'band',
  severity: 'blocks',
  find: ({ near, far }) =>
    near.sheet.band !== far.sheet.band
      ? {
          field: 'band',
          nearValue: bandWords[near.sheet.band],
          farValue: bandWords[far.sheet.band],
          reason: 'The ends work in different bands and cannot hear each other.',
          repair: 'Set both to the band of the plan.',
        }
      : undefined,
};

/** A radio told to work in a band its hardware does not have. */
export const bandOfModel: Cause = {
  cause: 'bandOfModel',
  severity: 'blocks',
  find: ({ near, far }) =>
    near.sheet.band !== near.model.band || far.sheet.band !== far.model.band
      ? {
          field: 'band',
          nearValue: `${bandWords[near.sheet.band]} on a radio for ${bandWords[near.model.band]}`,
          farValue: `${bandWords[far.sheet.band]} on a radio for ${bandWords[far.model.band]}`,
          reason: 'A sheet asks for a band that its radio does not have.',
          repair: 'Set the band of the radio, or change the model.',
        }
      : undefined,
};
