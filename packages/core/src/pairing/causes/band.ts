import type { Cause } from '../pair';

export const band: Cause = {
  cause: 'band',
  severity: 'blocks',
  find: ({ near, far }) =>
    near.sheet.band !== far.sheet.band
      ? {
          field: 'band',
          nearValue: near.sheet.band,
          farValue: far.sheet.band,
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
          nearValue: `${near.sheet.band} on a ${near.model.band} radio`,
          farValue: `${far.sheet.band} on a ${far.model.band} radio`,
          reason: 'A sheet asks for a band that its radio does not have.',
          repair: 'Set the band of the radio, or change the model.',
        }
      : undefined,
};
