import { proposeAddresses, type AddressPlan, type CountingSchool } from '../addressing/proposal';
import { sendingChannel, type Air, type AirRole } from '../air/air';
import { ends, otherEnd, type End } from '../budget/plan';
import type { Model } from '../gear/model';
import { channelCentresMHz } from '../spectrum/channel';
import { isForbidden } from '../spectrum/allowance';
import { openLink, type RuleSet, type SpectrumUse } from '../spectrum/ruleSet';
import { makePassphrase } from './passphrase';
import type { Role, Sheet } from './sheet';

/** One radio for which a sheet is wanted. */
export interface SheetWish {
  place: string;
  model: Model;
  role: AirRole;
  conductedDbm: number;
  /** hardware addresses of the radios that it has links with, as far as they are known */
  neighbours: string[];
  /** what it is set to for its other links on this air; it stays as it is but for what a further link needs */
  serving: Sheet | null;
}

/** What the program needs to propose both sheets of a link. */
export interface SheetRequest {
  jobName: string;
  air: Air;
  near: SheetWish;
  far: SheetWish;
  country: string;
  network: AddressPlan;
  school?: CountingSchool;
  firmware: string;
  takenNetworkNames: string[];
}

/**
 * Both sheets of a link: access point where the air has its access radio; a name of its own that says site, not household; a strong passphrase; the next
 * free static addresses. A radio that serves other links already keeps its name, passphrase and address, and the other end follows it.
 * @throws AddressError where the subnet has no free addresses left
 */
export function proposeSheets(
  request: SheetRequest,
  randomBytes: (count: number) => Uint8Array,
): { near: Sheet; far: Sheet } {
  const { air, near, far, network } = request;
  const fresh = ends.filter((end) => !request[end].serving);
  const kept = ends.flatMap((end) => request[end].serving?.address ?? []);
  const taken = [...network.taken, ...kept];
  const addresses = fresh.length ? proposeAddresses({ ...network, taken }, fresh.length, request.school) : [];
  const leader = near.serving ?? far.serving;
  const named = air.kind === 'hub' || air.kind === 'chain' ? near.place : far.place;
  const secret = leader ?? {
    networkName: freeName(slug(`${request.jobName} ${named}`, 32), request.takenNetworkNames),
    security: 'wpa2-psk' as const,
    passphrase: makePassphrase(randomBytes),
  };
  const licensed = near.model.band === 'licensed';
  const sheet = (end: End): Sheet => {
    const here = request[end];
    const there = request[otherEnd(end)];
    const role = sheetRole(air, here.role);
    if (here.serving) {
      return { ...here.serving, role, neighbours: role === 'relay' ? here.neighbours : [], ptpOnly: false };
    }
    const sendMHz = sendingChannel(air, here.role).centreMHz;
    return {
      role,
      networkName: secret.networkName,
      security: secret.security,
      passphrase: secret.passphrase,
      band: here.model.band,
      centreMHz: air.centreMHz,
      scanMHz: role === 'station' && !licensed ? [air.centreMHz] : [],
      widthMHz: air.widthMHz,
      followsWidth: false,
      protocol: air.protocol,
      ptpOnly: air.kind === 'pair' && near.model.hasPtpOnly && far.model.hasPtpOnly,
      bridge: true,
      conductedDbm: here.conductedDbm,
      country: request.country,
      address: addresses[fresh.indexOf(end)] ?? '',
      prefix: network.subnet.prefix,
      gateway: network.subnet.gateway,
      deviceName: slug(`${here.place} ${shortRoles[role]} to ${there.place}`, 48),
      firmware: request.firmware,
      neighbours: role === 'relay' ? here.neighbours : [],
      errorCorrection: air.errorCorrection,
      txMHz: licensed ? sendMHz : null,
      rxMHz: licensed ? sendingChannel(air, there.role).centreMHz : null,
    };
  };
  return { near: sheet('near'), far: sheet('far') };
}

/** How a role is called in a device name. */
const shortRoles: Record<Role, string> = { ap: 'ap', station: 'st', relay: 'relay' };

/** What a radio is set to for the part it plays on its air. */
export function sheetRole(air: Air, role: AirRole): Role {
  if (air.kind === 'chain') return 'relay';
  return role === 'access' ? 'ap' : 'station';
}

/** The channels that both models and the country allow at a width: what the installer may choose from. Where the country's rules are not known, those that both tune to. */
export function usableCentresMHz(
  near: Model,
  far: Model,
  law: RuleSet | null,
  widthMHz: number,
  use: SpectrumUse = openLink,
): number[] {
  const lowestMHz = Math.max(near.lowestMHz, far.lowestMHz);
  const highestMHz = Math.min(near.highestMHz, far.highestMHz);
  return channelCentresMHz(near.band, widthMHz).filter(
    (centreMHz) =>
      centreMHz - widthMHz / 2 >= lowestMHz &&
      centreMHz + widthMHz / 2 <= highestMHz &&
      [near, far].every((model) => !isForbidden(law, { centreMHz, widthMHz }, use, model.antennaGainDbi)),
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
