import { airProblem, sendingChannel, type Air, type AirRole } from '@kivram/core/air/air';
import { checkShaft } from '@kivram/core/budget/shaft';
import { rateSteps, type Model } from '@kivram/core/gear/model';
import { protocolWords } from '@kivram/core/radio/kinds';
import { channelCentresMHz, channelFits } from '@kivram/core/spectrum/channel';
import { ApiProblem } from '../http/apiProblem';

/** A radio as far as its gear limits what may be planned for it. */
export interface GearUse {
  model: Model;
  role: AirRole;
  conductedDbm: number;
}

export const notPossible = (detail: string): ApiProblem => new ApiProblem(422, 'Not possible', detail);

/** Refuses airs, channels, widths and protocols that the gear on them does not have. @throws ApiProblem naming value and repair */
export function checkAir(air: Air, uses: readonly GearUse[]): void {
  const problem = airProblem(air);
  if (problem) throw notPossible(problem);
  for (const use of uses) {
    checkPower(use);
    checkChannel(air, use);
  }
  checkStations(uses);
}

/** @throws ApiProblem where an access point has more stations than it takes */
function checkStations(uses: readonly GearUse[]): void {
  const access = uses.find((use) => use.role === 'access')?.model;
  const stations = uses.filter((use) => use.role === 'station').length;
  if (access?.mostStations !== undefined && stations > access.mostStations) {
    throw notPossible(
      `${access.name} takes ${access.mostStations} station${access.mostStations === 1 ? '' : 's'}, and these would be ${stations}. Begin another hub for the others.`,
    );
  }
}

function checkPower({ model, conductedDbm }: GearUse): void {
  const { name, leastConductedDbm, mostConductedDbm } = model;
  if (conductedDbm < leastConductedDbm || conductedDbm > mostConductedDbm) {
    throw notPossible(`${name} sends ${leastConductedDbm} to ${mostConductedDbm} dBm; ${conductedDbm} dBm is outside.`);
  }
}

function checkChannel(air: Air, { model, role }: GearUse): void {
  const { name, band, lowestMHz, highestMHz, widthsMHz, protocols } = model;
  const { widthMHz, protocol } = air;
  if ((band === 'licensed') !== (air.kind === 'duplex')) {
    throw notPossible(
      band === 'licensed'
        ? `${name} works on a licensed pair of frequencies: plan it as a licensed pair.`
        : `${name} has no licensed pair of frequencies: both directions take turns on one channel.`,
    );
  }
  const { centreMHz } = sendingChannel(air, role);
  if (!channelFits({ centreMHz, widthMHz }, lowestMHz, highestMHz)) {
    throw notPossible(
      `${name} tunes from ${lowestMHz} to ${highestMHz} MHz; ${centreMHz} MHz, ${widthMHz} MHz wide, lies outside. Choose a channel from the list.`,
    );
  }
  if (!widthsMHz.includes(widthMHz)) {
    throw notPossible(`${name} does not have a channel width of ${widthMHz} MHz, only ${widthsMHz.join(', ')}.`);
  }
  if (!protocols.includes(protocol)) {
    throw notPossible(
      `${name} does not speak ${protocolWords[protocol]}, only ${protocols.map((p) => protocolWords[p]).join(', ')}.`,
    );
  }
  if (air.errorCorrection && !rateSteps(model, widthMHz, true).length) {
    throw notPossible(`${name} has no error correction to switch on at ${widthMHz} MHz.`);
  }
  if (band !== 'licensed' && !channelCentresMHz(band, widthMHz).includes(centreMHz)) {
    throw notPossible(
      `There is no ${widthMHz} MHz channel centred on ${centreMHz} MHz. Choose a channel from the list.`,
    );
  }
}

/** @throws ApiProblem naming the values of a ride that goes nowhere */
export function checkRide(leastM: number | null | undefined, mostM: number | null | undefined): void {
  try {
    checkShaft({ leastM: leastM ?? NaN, mostM: mostM ?? NaN });
  } catch (error) {
    throw notPossible(error instanceof Error ? error.message : String(error));
  }
}
