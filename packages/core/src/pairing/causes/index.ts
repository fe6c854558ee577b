import type { Cause } from '../pair';
import { addressMalformed, addressUnusable, gatewayOutside, maskDiffers, sameAddress, subnetDiffers } from './address';
import { countryDiffers, firmwareDiffers, sameDeviceName, weakPassphrase } from './advice';
import { band, bandOfModel } from './band';
import { bothAp } from './bothAp';
import { bothStation } from './bothStation';
import { bridgeMode } from './bridgeMode';
import { channelNotAllowed, channelNotScanned, channelOutOfReach, radarChannel } from './channel';
import { errorCorrectionDiffers, frequencyOutOfReach, frequencyPair } from './frequencyPair';
import { networkName, networkNameCase } from './networkName';
import { protocol, protocolOfModel } from './protocol';
import { powerOfModel } from './power';
import { ptpOnlyDiffers, ptpOnlySecondStation } from './ptpOnly';
import { relayChannel, relayNeighbour, relayWithOther } from './relay';
import { passphrase, passphraseAbsent, securityKind } from './security';
import { width, widthOfModel } from './width';

/** Every cause, in the order in which an installer would check them. */
export const causes: readonly Cause[] = [
  bothAp,
  bothStation,
  relayWithOther,
  relayNeighbour,
  networkName,
  networkNameCase,
  securityKind,
  passphrase,
  passphraseAbsent,
  band,
  bandOfModel,
  channelOutOfReach,
  channelNotAllowed,
  channelNotScanned,
  relayChannel,
  width,
  widthOfModel,
  protocol,
  protocolOfModel,
  ptpOnlySecondStation,
  ptpOnlyDiffers,
  frequencyPair,
  frequencyOutOfReach,
  errorCorrectionDiffers,
  powerOfModel,
  bridgeMode,
  addressMalformed,
  sameAddress,
  subnetDiffers,
  addressUnusable,
  maskDiffers,
  gatewayOutside,
  weakPassphrase,
  sameDeviceName,
  firmwareDiffers,
  countryDiffers,
  radarChannel,
];
