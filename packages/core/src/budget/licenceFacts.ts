import { sendingChannel, type Air, type AirRole } from '../air/air';
import type { Model } from '../gear/model';
import { licenceStanding, type Licence, type LicenceStanding } from '../spectrum/licence';
import { licenceFaults, type LicenceFault } from '../spectrum/licenceFaults';
import { ends, type End } from './plan';

/** A link as far as a licence is about it. */
type LicensedLink = { air: Air; licence: Licence | null; day: string } & Record<
  End,
  { place: { id: string; name: string }; radio: { role: AirRole }; model: Model }
>;

/** How the licence that a pair is planned by stands on a day, and what it says against the plan; null where none is chosen. */
export function licenceFacts({
  air,
  licence,
  day,
  ...link
}: LicensedLink): { number: string; validUntil: string; standing: LicenceStanding; faults: LicenceFault[] } | null {
  if (!licence) return null;
  const { number, validUntil } = licence;
  const licensed = ends.map((end) => {
    const { place, radio, model } = link[end];
    return {
      place,
      sendsMHz: sendingChannel(air, radio.role).centreMHz,
      occupiedPercent: model.occupiedPercent,
    };
  });
  return {
    number,
    validUntil,
    standing: licenceStanding(licence, day),
    faults: licenceFaults(licence, licensed, air.widthMHz),
  };
}
