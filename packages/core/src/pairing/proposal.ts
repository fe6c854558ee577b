import { proposeAddresses, type AddressPlan, type CountingSchool } from '../addressing';
import type { Model, Protocol } from '../gear';
import { channelCentresMHz, rulesFor } from '../spectrum';
import { makePassphrase } from './passphrase';
import type { Sheet } from './sheet';

/** What the program needs to propose both sheets of a link. */
export interface SheetRequest {
  jobName: string;
  linkName: string;
  nearPlace: string;
  farPlace: string;
  nearModel: Model;
  farModel: Model;
  centreMHz: number;
  widthMHz: number;
  protocol: Protocol;
  country: string;
  nearConductedDbm: number;
  farConductedDbm: number;
  network: AddressPlan;
  school?: CountingSchool;
  firmware: string;
  takenNetworkNames: string[];
  /** spacing between the frequencies of a full-duplex pair */
  duplexSpacingMHz?: number;
}

/**
 * Both sheets of a link: access point at the near end, which has the feed; a name of its own that says site, not household; a
 * strong passphrase; the next free static addresses.
 * @throws AddressError where the subnet has no two free addresses
 */
export function proposeSheets(
  request: SheetRequest,
  randomBytes: (count: number) => Uint8Array,
): { near: Sheet; far: Sheet } {
  const [nearAddress = '', farAddress = ''] = proposeAddresses(request.network, 2, request.school);
  const networkName = freeName(slug(`${request.jobName} ${request.farPlace}`, 32), request.takenNetworkNames);
  const passphrase = makePassphrase(randomBytes);
  const spacing = request.duplexSpacingMHz ?? 10;
  const licensed = request.nearModel.band === 'licensed';
  const common = {
    networkName,
    security: 'wpa2-psk' as const,
    passphrase,
    band: request.nearModel.band,
    centreMHz: request.centreMHz,
    widthMHz: request.widthMHz,
    followsWidth: false,
    protocol: request.protocol,
    ptpOnly: request.nearModel.hasPtpOnly && request.farModel.hasPtpOnly,
    bridge: true,
    country: request.country,
    prefix: request.network.subnet.prefix,
    gateway: request.network.gateway,
    firmware: request.firmware,
  };
  return {
    near: {
      ...common,
      role: 'ap',
      scanMHz: [],
      conductedDbm: request.nearConductedDbm,
      address: nearAddress,
      deviceName: slug(`${request.nearPlace} ap to ${request.farPlace}`, 48),
      txMHz: licensed ? request.centreMHz : null,
      rxMHz: licensed ? request.centreMHz + spacing : null,
    },
    far: {
      ...common,
      role: 'station',
      scanMHz: licensed ? [] : [request.centreMHz],
      conductedDbm: request.farConductedDbm,
      address: farAddress,
      deviceName: slug(`${request.farPlace} st to ${request.nearPlace}`, 48),
      txMHz: licensed ? request.centreMHz + spacing : null,
      rxMHz: licensed ? request.centreMHz : null,
    },
  };
}

/** The channels that both models and the country allow at a width: what the installer may choose from. */
export function usableCentresMHz(near: Model, far: Model, country: string, widthMHz: number): number[] {
  const lowestMHz = Math.max(near.lowestMHz, far.lowestMHz);
  const highestMHz = Math.min(near.highestMHz, far.highestMHz);
  return channelCentresMHz(near.band, widthMHz).filter(
    (centreMHz) =>
      centreMHz - widthMHz / 2 >= lowestMHz &&
      centreMHz + widthMHz / 2 <= highestMHz &&
      rulesFor(country, { centreMHz, widthMHz }).length > 0,
  );
}

/** Lower case, ASCII, words joined by hyphens, cut at a word where possible. */
function slug(text: string, most: number): string {
  const words = text
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .toLowerCase()
    .match(/[a-z0-9]+/g) ?? ['link'];
  let out = '';
  for (const word of words) if ((out ? `${out}-${word}` : word).length <= most) out = out ? `${out}-${word}` : word;
  return out || (words[0] ?? 'link').slice(0, most);
}

function freeName(name: string, taken: string[]): string {
  let candidate = name;
  for (let n = 2; taken.some((t) => t.toLowerCase() === candidate.toLowerCase()); n++)
    candidate = `${name.slice(0, 29)}-${n}`;
  return candidate;
}
